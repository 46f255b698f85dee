/** A point typed instead of clicked: coordinates, chainage and offset, or distances to two points. */
import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas, lineOf } from "../../api/client";
import { useOfRoad } from "../../api/hooks";
import { parseChainage } from "../../base/chainage";
import { readNumber } from "../../common/numbers";

type How = Schemas["ConstructIn"]["how"];
const WAYS = ["Coordinates", "Chainage", "Two distances"] as const;
const FIELDS: Record<(typeof WAYS)[number], string[]> = {
  Coordinates: ["Easting", "Northing"],
  Chainage: ["Chainage", "Offset"],
  "Two distances": ["First easting", "First northing", "First distance", "Second easting", "Second northing", "Second distance"],
};

export function PointEntry({ onPlace }: { onPlace: (at: [number, number]) => void }) {
  const of = useOfRoad();
  const [way, setWay] = useState<(typeof WAYS)[number]>("Coordinates");
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [choice, setChoice] = useState<[number, number][]>([]);
  const [error, setError] = useState<string | null>(null);
  const values = FIELDS[way].map((f) => (f === "Chainage" ? parseChainage(typed[f] ?? "") : readNumber(typed[f] ?? "", "m").value));
  const ready = values.every((v) => v !== null);
  const place = (at: [number, number]) => {
    onPlace(at);
    setTyped({});
    setChoice([]);
  };
  const go = async () => {
    setError(null);
    const v = values as number[];
    if (way === "Coordinates") return place([v[0]!, v[1]!]);
    const how: How =
      way === "Chainage"
        ? { by: "chainage", chainage: v[0]!, offset: v[1]! }
        : { by: "distances", first: [v[0]!, v[1]!], first_distance: v[2]!, second: [v[3]!, v[4]!], second_distance: v[5]! };
    try {
      const { places } = dataOf(await api.POST("/api/projects/{project_id}/construct", { params: of, body: { how } }));
      const found = places.map((p) => [p[0]!, p[1]!] as [number, number]);
      if (found.length === 1) place(found[0]!);
      else setChoice(found);
    } catch (e) {
      setError(lineOf(e));
    }
  };
  return (
    <section aria-label="Type a point" style={{ marginTop: 6 }}>
      <Segmented
        size="small"
        block
        value={way}
        options={[...WAYS]}
        onChange={(w) => {
          setWay(w);
          setChoice([]);
          setError(null);
        }}
      />
      <div style={{ display: "grid", gridTemplateColumns: way === "Two distances" ? "1fr 1fr 1fr" : "1fr 1fr", gap: 4, margin: "6px 0" }}>
        {FIELDS[way].map((f) => (
          <Input
            key={f}
            size="small"
            className="number"
            aria-label={f}
            placeholder={f}
            value={typed[f] ?? ""}
            onChange={(e) => setTyped({ ...typed, [f]: e.target.value })}
            onPressEnter={() => ready && void go()}
          />
        ))}
      </div>
      {choice.length > 0 ? (
        <div>
          <span className="quiet">Both lie at these distances. Which one?</span>
          {choice.map((p, i) => (
            <Button key={i} size="small" block style={{ marginTop: 4 }} onClick={() => place(p)}>
              <span className="mono">
                {p[0].toFixed(3)} E, {p[1].toFixed(3)} N
              </span>
            </Button>
          ))}
        </div>
      ) : (
        <Button size="small" disabled={!ready} onClick={() => void go()}>
          Add point
        </Button>
      )}
      {error && <p style={{ color: "var(--fault)", margin: "4px 0" }}>{error}</p>}
    </section>
  );
}
