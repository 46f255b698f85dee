/** Ways to begin a guide: ready-made ones from a few figures, a survey line, a curve widening, a drawn line. */
import { DEFAULTS } from "../../api/defaults";
import { PlusOutlined } from "@ant-design/icons";
import { App, Button, Checkbox, Dropdown, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas, lineOf } from "../../api/client";
import { useChange, useDocumentsOf, useOfRoad, useOwnKey, useRoadKey, useRoads, useSummary } from "../../api/hooks";
import { freshKey } from "../../api/save";
import { usePlace } from "../../base/place";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { useEdgeLine } from "../../common/SourceRow";
import { NumberField } from "../../common/NumberField";
import type { Unit } from "../../common/numbers";
import { type Guide, type GuideDocument, useDiagram } from "./hooks";
import { Dialog } from "../../common/Dialog";

type What = Schemas["ReadyMadeIn"]["what"];
interface Field {
  name: string;
  label: string;
  unit: Unit | "chainage";
  value: number;
}

const TAPERS = [
  { value: "", label: "by the lengths above" },
  { value: "lane_shift", label: "MUTCD, by speed" },
  { value: "lateral_slow", label: "Austroads, 0.6 m/s" },
  { value: "lateral_quick", label: "Austroads, 1.0 m/s" },
];
const F = (name: string, label: string, unit: Field["unit"], value: number): Field => ({ name, label, unit, value });
const READY: Record<What["kind"], { title: string; fields: (from: number, to: number) => Field[] }> = {
  widening: {
    title: "Widening over a range",
    fields: (a, b) => [
      F("from_chainage", "Full width from", "chainage", a),
      F("to_chainage", "to", "chainage", b),
      F("base_offset", "Edge at offset", "m", 3.25),
      F("extra", "Wider by", "m", 0.75),
      F("taper_in", "Taper in", "m", DEFAULTS.Widening.taper_in),
      F("taper_out", "Taper out", "m", DEFAULTS.Widening.taper_out),
    ],
  },
  lay_by: {
    title: "Lay-by",
    fields: (a) => [
      F("from_chainage", "Starts at", "chainage", a),
      F("base_offset", "Edge at offset", "m", 3.25),
      F("extra", "Depth", "m", DEFAULTS.LayBy.extra),
      F("taper_in", "Taper in", "m", DEFAULTS.Widening.taper_in),
      F("parallel", "Parallel part", "m", DEFAULTS.LayBy.parallel),
      F("taper_out", "Taper out", "m", DEFAULTS.Widening.taper_out),
    ],
  },
  bus_bay: {
    title: "Bus bay",
    fields: (a) => [
      F("from_chainage", "Starts at", "chainage", a),
      F("base_offset", "Edge at offset", "m", 3.25),
      F("extra", "Depth", "m", DEFAULTS.BusBay.extra),
      F("entry_one_in", "Entry taper", "1 in", DEFAULTS.BusBay.entry_one_in),
      F("stop", "Stopping length", "m", DEFAULTS.BusBay.stop),
      F("exit_one_in", "Exit taper", "1 in", DEFAULTS.BusBay.exit_one_in),
    ],
  },
  auxiliary_lane: {
    title: "Auxiliary lane",
    fields: (a, b) => [
      F("from_chainage", "Taper starts at", "chainage", a),
      F("to_chainage", "Lane ends at", "chainage", b),
      F("base_offset", "Edge at offset", "m", 3.25),
      F("extra", "Lane width", "m", DEFAULTS.AuxiliaryLane.extra),
      F("taper_one_in", "Opening taper", "1 in", DEFAULTS.AuxiliaryLane.taper_one_in),
    ],
  },
  parallel: {
    title: "Parallel line",
    fields: (a, b) => [F("from_chainage", "From", "chainage", a), F("to_chainage", "to", "chainage", b), F("base_offset", "At offset", "m", 3.25)],
  },
};

/** What a new guide is made of, and the ways to make one. */
function useNewGuide({ onMade }: { onMade: (key: string) => void }) {
  const of = useOfRoad();
  const place = usePlace();
  const summary = useSummary().data;
  const { message } = App.useApp();
  const edge = useEdgeLine(12);
  const [kind, setKind] = useState<What["kind"] | null>(null);
  const [values, setValues] = useState<Record<string, number>>({});
  const [taper, setTaper] = useState("");
  const [speed, setSpeed] = useState(60);
  const [error, setError] = useState<string | null>(null);
  const [on, setOn] = useState<string | null>(null);
  const [built, setBuilt] = useState(true);
  const from = place.range?.from ?? Math.round(place.chainage);
  const to = place.range?.to ?? Math.min(from + 60, summary?.end ?? from + 60);
  const stands = on !== null && kind !== "parallel";
  const fields = kind ? READY[kind].fields(from, to) : [];
  const alignment = useOwnKey("alignment");
  const here = useRoadKey();
  const guides = useDocumentsOf("guide").filter((g) => g.spec.alignment === alignment);
  const drawn = useDiagram().data?.guides;
  /** The side on which a guide lies, which its pieces say better than it says itself. */
  const sideOf = (guide: GuideDocument): Guide["side"] => {
    const offset = drawn?.find((g) => g.key === guide.key)?.offset.find((o) => o !== null && o !== 0);
    return offset == null ? guide.spec.side : offset < 0 ? "left" : "right";
  };
  const other = useRoads().find((r) => r.key !== here);
  const change = useChange(async (params, body: Schemas["GuideIn"]) => dataOf(await api.POST("/api/projects/{project_id}/guides", { params, body })));
  /** Made, and where it is to be built followed by the lane's edge wherever it is: one step of the history. */
  const add = async (made: Omit<Guide, "alignment">, wanted = false) => {
    const key = freshKey("guide");
    // What stands against it is told by the change itself.
    const found = await change.mutateAsync({ key, guide: { ...made, alignment }, built: wanted }).catch(() => null);
    if (found === null) return false;
    if (wanted && found.point === null)
      void message.warning("The guide is made, but no template with a lane edge is applied there: nothing follows it yet.", 8);
    else if (found.point !== null) void message.success(`${found.point} follows it`);
    onMade(key);
    return true;
  };
  const make = async () => {
    if (!kind) return;
    setError(null);
    const given = Object.fromEntries(fields.map((f) => [f.name, values[f.name] ?? f.value]));
    const by = kind === "widening" && taper ? { taper_by: { standard: taper, speed_kmh: speed } } : {};
    const beneath = stands ? guides.find((g) => g.key === on) : undefined;
    // On another guide the sign of the offset alone counts, which is that of its side.
    const side = beneath ? { base_offset: sideOf(beneath) === "left" ? -1 : 1 } : {};
    const what = { kind, name: READY[kind].title, ...given, ...by, ...side } as unknown as What;
    try {
      const spec = dataOf(
        await api.POST("/api/projects/{project_id}/guides/ready-made", { params: { path: of.path }, body: { what, lead: 0, on: beneath?.key ?? null } }),
      );
      if (await add(spec as Guide, built && kind !== "parallel")) setKind(null);
    } catch (e) {
      setError(lineOf(e));
    }
  };
  const others: Record<string, () => Promise<boolean>> = {
    line: () => add({ name: "Survey line", use: "edge", side: "right", source: edge }),
    road: () =>
      add({ name: `Edge of ${other!.spec.name}`, use: "edge", side: "right", source: { by: "road", road: other!.key, line: "left_edge", beyond: 0 } }),
    corner: () =>
      add({
        name: `Corner into ${other!.spec.name}`,
        use: "edge",
        side: "right",
        source: { ...DEFAULTS.CornerCurve, road: other!.key, base_offset: 3.25 },
      }),
    parts: () => {
      const beneath = guides.find((g) => g.key === place.selection) ?? guides[0];
      return add({
        name: beneath ? `On ${beneath.spec.name}`.slice(0, 60) : "On a line",
        use: beneath?.spec.use ?? "edge",
        side: beneath ? sideOf(beneath) : "right",
        source: {
          by: "parts",
          base: beneath ? { by: "guide", guide: beneath.key } : { by: "offset", offset: 3.25 },
          parts: [{ by: "width", width: 0.5 }],
          only_pieces: false,
        },
      });
    },
    curves: () =>
      add({
        name: "Edge widened on curves",
        use: "edge",
        side: "right",
        source: { ...DEFAULTS.CurveWidening, base_offset: 3.25 },
      }),
  };
  const choose = (key: string) => {
    setError(null);
    setValues({});
    setOn(null);
    if (key in others) void others[key]!();
    else if (key === "polyline") void draw();
    else setKind(key as What["kind"]);
  };
  /** A drawn line begins with two points beside the alignment; its points are then dragged and added to. */
  const draw = async () => {
    const places = await Promise.all(
      [from, to].map(
        async (chainage) =>
          dataOf(
            await api.POST("/api/projects/{project_id}/construct", {
              params: of,
              body: { how: { by: "chainage", chainage, offset: 4 } },
            }),
          ).places[0]!,
      ),
    );
    await add({ name: "Drawn line", use: "other", side: "right", source: { by: "polyline", points: places.map((p) => [p[0]!, p[1]!, null]) } });
  };
  return { kind, setKind, values, setValues, taper, setTaper, speed, setSpeed, error, on, setOn, built, setBuilt, stands, fields, guides, other, make, choose };
}

export function NewGuide(props: { onMade: (key: string) => void }) {
  const { kind, setKind, values, setValues, taper, setTaper, speed, setSpeed, error, on, setOn, built, setBuilt, stands, fields, guides, other, make, choose } =
    useNewGuide(props);
  return (
    <>
      <Dropdown
        trigger={["click"]}
        autoFocus
        menu={{
          onClick: ({ key }) => choose(key),
          items: [
            ...Object.entries(READY).map(([key, { title }]) => ({ key, label: title })),
            { type: "divider" as const },
            { key: "curves", label: "Edge widened on curves by a standard" },
            { key: "parts", label: "Line on another guide or line" },
            { key: "line", label: "Survey line of a code" },
            { key: "polyline", label: "Line drawn in plan" },
            ...(other
              ? [
                  { key: "road", label: "Edge of another road" },
                  { key: "corner", label: "Corner into another road" },
                ]
              : []),
          ],
        }}
      >
        <Button size="small" type="primary" icon={<PlusOutlined />}>
          New guide
        </Button>
      </Dropdown>
      <Dialog
        open={kind !== null}
        title={kind ? READY[kind].title : ""}
        width={380}
        okText="Make guide"
        destroyOnHidden
        onCancel={() => setKind(null)}
        onOk={() => void make()}
      >
        {guides.length > 0 && kind !== "parallel" && (
          <Row label="Stands on">
            <Select
              size="small"
              aria-label="What it stands on"
              value={on ?? ""}
              options={[{ value: "", label: "a fixed offset" }, ...guides.map((g) => ({ value: g.key, label: g.spec.name }))]}
              onChange={(v) => setOn(v || null)}
            />
          </Row>
        )}
        {fields
          .filter((f) => !(stands && f.name === "base_offset"))
          .map((f) => (
            <Row key={f.name} label={f.label}>
              {f.unit === "chainage" ? (
                <ChainageField label={f.label} value={values[f.name] ?? f.value} disabled={false} onChange={(v) => setValues({ ...values, [f.name]: v })} />
              ) : (
                <NumberField label={f.label} unit={f.unit} value={values[f.name] ?? f.value} onChange={(v) => setValues({ ...values, [f.name]: v })} />
              )}
            </Row>
          ))}
        {kind === "widening" && (
          <Row label="Tapers">
            <span style={{ display: "grid", gridTemplateColumns: "1fr 92px", gap: 6 }}>
              <Select size="small" aria-label="Tapers by" value={taper} options={TAPERS} onChange={setTaper} />
              {taper && <NumberField label="Speed for the tapers" unit="km/h" least={10} most={200} value={speed} onChange={setSpeed} />}
            </span>
          </Row>
        )}
        {kind !== "parallel" && (
          <Checkbox checked={built} onChange={(e) => setBuilt(e.target.checked)}>
            The edge of the lane follows it, wherever it is moved
          </Checkbox>
        )}
        <p className="quiet">
          {stands
            ? "What is added lies further out than the guide beneath, and goes where that goes."
            : "The offset is from the alignment: negative for an edge on the left. What is added lies further out."}{" "}
          It becomes ordinary pieces that can be changed.
        </p>
        {error && <p style={{ color: "var(--fault)" }}>{error}</p>}
      </Dialog>
    </>
  );
}
