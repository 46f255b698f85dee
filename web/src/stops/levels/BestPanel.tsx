/** Best levels: what they may change, the search, what they save, which limits hold them, or which are in conflict. */
import { Alert, App, Button, Progress, Switch } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf } from "../../api/client";
import { useDocument, useOfRoad, useOwn, useSummary } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { useSaveTogether } from "../../api/save";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { Figures, Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { type Best, withLevels } from "./table";

interface Props {
  speed: number;
  best: Best | null;
  setBest: (b: Best | null) => void;
  take: (b: Best) => void;
  mayEdit: boolean;
}

const WORDS: Record<string, string> = {
  cover: "least cover",
  grade: "change of grade",
  crossfall: "limits of crossfall",
  rate: "rate of crossfall",
  lip: "kerb lips",
  pin: "pins and ends",
};

export function BestPanel({ speed, best, setBest, take, mayEdit }: Props) {
  const of = useOfRoad();
  const place = usePlace();
  const summary = useSummary().data!;
  const [fixEnds, setFixEnds] = useState(true);
  const [free, setFree] = useState(false);
  const [low, setLow] = useState(-4);
  const [high, setHigh] = useState(-1.5);
  const [lips, setLips] = useState(false);
  const [rate, setRate] = useState(0.05);
  const [error, setError] = useState<string | null>(null);
  const job = useJob({ kind: "best_levels", done: setBest, failed: setError });
  const range = place.range;
  const start = async () => {
    setError(null);
    setBest(null);
    const body = {
      from_chainage: range!.from,
      to_chainage: range!.to,
      speed_kmh: speed,
      fix_ends: fixEnds,
      crossfall_low: free ? low : null,
      crossfall_high: free ? high : null,
      crossfall_rate: free ? rate : null,
      keep_lips: free && lips,
    };
    try {
      job.follow(dataOf(await api.POST("/api/projects/{project_id}/levels/best", { params: of, body })));
    } catch (e) {
      setError(lineOf(e));
    }
  };
  return (
    <section aria-label="Best levels">
      <p className="quiet" style={{ marginTop: 0 }}>
        {range
          ? `${chainageText(range.from, 0)} to ${chainageText(range.to, 0)}: the levels that need the least overlay and keep cover and change of grade.`
          : "Mark a range on the strip with Shift+drag: an overlaid length."}
      </p>
      <Row label="Keep both ends">
        <span>
          <Switch size="small" aria-label="Keep both ends" checked={fixEnds} onChange={setFixEnds} />
        </span>
      </Row>
      <Row label="Crossfalls too">
        <span>
          <Switch size="small" aria-label="Crossfalls too" checked={free} onChange={setFree} />
        </span>
      </Row>
      {free && (
        <>
          <Row label="between">
            <span style={{ display: "flex", gap: 4 }}>
              <NumberField label="Least crossfall" unit="%" value={low} onChange={setLow} />
              <NumberField label="Greatest crossfall" unit="%" value={high} onChange={setHigh} />
            </span>
          </Row>
          <Row label="Keep kerb lips">
            <span>
              <Switch size="small" aria-label="Keep kerb lips" checked={lips} onChange={setLips} />
            </span>
          </Row>
          <Row label="at most, per m">
            <NumberField label="Rate of crossfall" unit="%" least={0.001} value={rate} onChange={setRate} />
          </Row>
        </>
      )}
      {mayEdit && (
        <Button type="primary" size="small" disabled={!range || job.running || summary.chainage.length === 0} onClick={() => void start()}>
          Find best levels
        </Button>
      )}
      {job.running && <Progress percent={job.progress} size="small" />}
      {error && <Alert type="error" title={error} style={{ marginTop: 8 }} />}
      {best && best.conflicts.length > 0 && (
        <div className="card" role="alert">
          <strong>No levels keep every limit.</strong> These would have to give:
          {best.conflicts.slice(0, 8).map((c, i) => (
            <button key={i} type="button" className="problem fault" onClick={() => place.goToChainage(c.chainage)}>
              <span className="mono">{chainageText(c.chainage, 1)}</span>
              <span>
                {c.what} by {c.by_mm.toFixed(0)} mm
              </span>
            </button>
          ))}
        </div>
      )}
      {best && best.level.length > 0 && (
        <div className="card" role="status" aria-label="What is saved">
          <Figures
            of={[
              [best.saved_tonnes < 0 ? "more asphalt" : "asphalt saved", Math.abs(best.saved_tonnes).toFixed(1), "t"],
              ["volume", Math.abs(best.saved_m3).toFixed(2), "m³"],
              ["above the least", best.off_m3.toFixed(2), "m³"],
            ]}
          />
          {best.saved_tonnes < 0 && (
            <p className="quiet" style={{ margin: "6px 0 0" }}>
              The present levels break the limits of these; keeping them costs this much.
            </p>
          )}
          {best.unknown_length > 0 && (
            <p className="quiet" style={{ margin: "6px 0 0" }}>
              Not known over {best.unknown_length.toFixed(1)} m: what lies there is in none of these figures.
            </p>
          )}
          <p className="quiet" style={{ margin: "8px 0" }}>
            Held by {best.binding.map((b) => `${WORDS[b.kind] ?? b.kind} (${b.chainages.length})`).join(", ")}.
          </p>
          {mayEdit && <Take best={best} setBest={setBest} take={take} />}
        </div>
      )}
    </section>
  );
}

/** Levels go to the level table; free crossfalls go to the adopted ones; the overlays of the range are told to use them. */
function Take({ best, setBest, take }: { best: Best; setBest: (b: Best | null) => void; take: (b: Best) => void }) {
  const treatments = useDocument("treatments");
  const crossfalls = useDocument("crossfalls");
  const levels = useDocument("levels");
  const together = useSaveTogether();
  const own = useOwn();
  const of = useOfRoad();
  const { message } = App.useApp();
  const [low, high] = [best.chainage[0]!, best.chainage.at(-1)!];
  const all = async () => {
    const variant = { name: "Best levels", governs: { kind: "level_table" as const }, crossfall: best.free ? { by: "table" as const } : null };
    const governed = dataOf(
      await api.POST("/api/projects/{project_id}/variants/treatments", {
        params: of,
        body: { variant, from_chainage: low, to_chainage: high },
      }),
    );
    const kept = (crossfalls?.spec.rows ?? []).filter((r) => r.chainage < low - 1e-3 || r.chainage > high + 1e-3);
    const fresh = best.chainage.map((chainage, i) => ({
      chainage: Number(chainage.toFixed(4)),
      left_pct: Number(best.left_pct[i]!.toFixed(4)),
      right_pct: Number(best.right_pct[i]!.toFixed(4)),
    }));
    await together.mutateAsync({
      title: "Best levels taken",
      documents: [
        { kind: "levels", key: own("levels"), version: levels?.version ?? 0, spec: withLevels(levels?.spec ?? { rows: [] }, best.chainage, best.level) },
        ...(best.free
          ? [
              {
                kind: "crossfalls" as const,
                key: own("crossfalls"),
                version: crossfalls?.version ?? 0,
                spec: { rows: [...kept, ...fresh].sort((a, b) => a.chainage - b.chainage) },
              },
            ]
          : []),
        { kind: "treatments", key: own("treatments"), version: treatments?.version ?? 0, spec: governed },
      ],
    });
    setBest(null);
    message.success("Taken: the level table governs here");
  };
  return (
    <span style={{ display: "flex", gap: 6, flexWrap: "wrap" }}>
      <Button size="small" type="primary" onClick={() => void all().catch((e: unknown) => message.error(lineOf(e), 6))}>
        Take and let them govern
      </Button>
      <Button size="small" onClick={() => take(best)}>
        Into the table only
      </Button>
    </span>
  );
}
