/** Best fit through surveyed lines: what to fit, what was found, residuals, taking it over. */
import { Alert, Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas, lineOf } from "../../api/client";
import { useDocument, useOfRoad } from "../../api/hooks";
import { type ResultOf, useJob } from "../../api/jobs";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { Figures, Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { signed } from "../../common/signed";
import { useSurveyLines } from "../../plan/hooks";
import type { Spec } from "./hooks";

/** As the job gives it: chainage and residual (m) of every point, and the points beyond the tolerance. */
export type Fitted = ResultOf<"fit_alignment">;

interface Props {
  current: Spec | undefined;
  pinned: Set<number>;
  fitted: Fitted | null;
  onFitted: (f: Fitted | null) => void;
  onTake: (spec: Spec) => void;
  onKeepBeside: (spec: Spec) => void;
}

/** What a fit is asked for, and the job that makes it. */
function useFitPanel({ current, pinned, fitted, onFitted, onTake, onKeepBeside }: Props) {
  const of = useOfRoad();
  const lines = useSurveyLines().data ?? [];
  const rules = useDocument("code_list")?.spec.rules ?? [];
  const crown = lines.filter((l) => rules.find((r) => r.code === l.code)?.meaning === "crown").map((l) => `${l.code}\u0000${l.name}`);
  const [picked, setPicked] = useState<string[] | null>(null);
  const chosen = picked ?? crown;
  const [tolerance, setTolerance] = useState(0.05);
  const [offset, setOffset] = useState(0);
  const [clothoids, setClothoids] = useState(true);
  const [error, setError] = useState<string | null>(null);
  const job = useJob({ kind: "fit_alignment", done: onFitted, failed: setError });
  const { range } = usePlace();
  const [shape, setShape] = useState<Schemas["ShapeOut"] | null>(null);
  const measure = async () => {
    setError(null);
    setShape(null);
    const body = { lines: chosen.map((c) => c.split("\u0000") as [string, string]), from_chainage: range!.from, to_chainage: range!.to };
    try {
      setShape(dataOf(await api.POST("/api/projects/{project_id}/alignment/shape", { params: of, body })));
    } catch (e) {
      setError(lineOf(e));
    }
  };
  const start = async (from: Spec | null) => {
    setError(null);
    const body = {
      lines: chosen.map((c) => c.split("\u0000") as [string, string]),
      tolerance,
      offset,
      clothoids,
      start_from: from,
      pinned: from ? [...pinned] : [],
    };
    try {
      job.follow(dataOf(await api.POST("/api/projects/{project_id}/alignment/fit", { params: { path: of.path }, body })));
    } catch (e) {
      setError(lineOf(e));
    }
  };
  const worst = fitted ? [...fitted.residual.keys()].sort((a, b) => Math.abs(fitted.residual[b]!) - Math.abs(fitted.residual[a]!)).slice(0, 200) : [];
  return {
    current,
    fitted,
    onFitted,
    onTake,
    onKeepBeside,
    lines,
    setPicked,
    chosen,
    tolerance,
    setTolerance,
    offset,
    setOffset,
    clothoids,
    setClothoids,
    error,
    job,
    range,
    shape,
    measure,
    start,
    worst,
  };
}
type FitPanelWork = ReturnType<typeof useFitPanel>;

export function FitPanel(props: Props) {
  const work = useFitPanel(props);
  const {
    current,
    fitted,
    lines,
    setPicked,
    chosen,
    tolerance,
    setTolerance,
    offset,
    setOffset,
    clothoids,
    setClothoids,
    error,
    job,
    range,
    shape,
    measure,
    start,
  } = work;
  return (
    <section className="card" aria-label="Best fit">
      <h3>Best fit through surveyed lines</h3>
      <Row label="Lines, in order">
        <Select
          mode="multiple"
          size="small"
          aria-label="Lines to fit"
          placeholder="choose lines"
          maxTagCount="responsive"
          value={chosen}
          options={lines.map((l) => ({ value: `${l.code}\u0000${l.name}`, label: `${l.code} ${l.name}` }))}
          onChange={setPicked}
        />
      </Row>
      <Row label="Tolerance">
        <NumberField label="Tolerance" unit="m" least={0.001} value={tolerance} onChange={setTolerance} />
      </Row>
      <Row label="Lies at offset">
        <NumberField label="Offset of the line" unit="m" value={offset} onChange={setOffset} />
      </Row>
      <Checkbox checked={clothoids} onChange={(e) => setClothoids(e.target.checked)}>
        Look for transitions
      </Checkbox>
      <div style={{ display: "flex", gap: 6, marginTop: 8, flexWrap: "wrap" }}>
        <Button size="small" type="primary" loading={job.running} disabled={chosen.length === 0} onClick={() => void start(null)}>
          Find elements
        </Button>
        <Button
          size="small"
          disabled={!current || chosen.length === 0 || job.running}
          title="Keeps the elements of the table, adjusts what is not pinned"
          onClick={() => void start(current ?? fitted?.alignment ?? null)}
        >
          Fit again
        </Button>
        {job.running && (
          <Button size="small" onClick={job.stop}>
            Stop
          </Button>
        )}
      </div>
      {range && (
        <Button size="small" style={{ marginTop: 6 }} disabled={chosen.length === 0} onClick={() => void measure()}>
          Shape from {chainageText(range.from, 0)} to {chainageText(range.to, 0)}
        </Button>
      )}
      {shape && (
        <p role="status" aria-label="Shape" style={{ margin: "6px 0 0" }}>
          {shape.points} points: straight to {(1000 * shape.straight_rms).toFixed(1)} mm
          {shape.radius !== null && `, R ${signed(shape.radius, 1)} m to ${(1000 * (shape.circle_rms ?? 0)).toFixed(1)} mm`}
        </p>
      )}
      {error && <Alert style={{ marginTop: 8 }} type="error" title={error} />}
      {fitted && <FitFound {...work} fitted={fitted} />}
    </section>
  );
}

function FitFound({ fitted, onFitted, onTake, onKeepBeside, worst }: FitPanelWork & { fitted: NonNullable<FitPanelWork["fitted"]> }) {
  return (
    <>
      <Figures
        of={[
          ["elements", String(fitted.alignment.elements.length), ""],
          ["rms", (1000 * fitted.rms).toFixed(1), "mm"],
          ["beyond", String(fitted.beyond.length), `of ${fitted.points.length}`],
        ]}
      />
      <ol style={{ margin: "8px 0", paddingLeft: 20 }} aria-label="Elements found">
        {fitted.alignment.elements.map((e, i) => (
          <li key={i} className="mono" style={{ fontSize: 12 }}>
            {e.kind} {e.length.toFixed(3)} m
            {e.kind === "arc"
              ? `, R ${signed(e.radius, 2)}`
              : e.kind === "clothoid"
                ? `, R ${e.radius_start?.toFixed(1) ?? "∞"} to ${e.radius_end?.toFixed(1) ?? "∞"}`
                : ""}
          </li>
        ))}
      </ol>
      <div style={{ display: "flex", gap: 6, flexWrap: "wrap" }}>
        <Button size="small" type="primary" onClick={() => onTake(fitted.alignment)}>
          Take it over
        </Button>
        <Button size="small" onClick={() => onKeepBeside(fitted.alignment)}>
          Keep beside
        </Button>
        <Button size="small" onClick={() => onFitted(null)}>
          Drop it
        </Button>
      </div>
      <div tabIndex={0} style={{ maxHeight: 150, overflow: "auto", marginTop: 8 }}>
        <table className="grid-table" aria-label="Residuals">
          <thead>
            <tr>
              <th className="num">Chainage</th>
              <th className="num">Residual mm</th>
            </tr>
          </thead>
          <tbody>
            {worst.map((i) => (
              <tr key={i}>
                <td className="num">{chainageText(fitted.chainage[i]!)}</td>
                <td className="num" style={fitted.beyond.includes(i) ? { color: "var(--fault)" } : undefined}>
                  {signed(1000 * fitted.residual[i]!, 1)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="quiet" style={{ margin: "4px 0 0" }}>
        Worst first. In plan the residuals are drawn 200 times as long.
      </p>
    </>
  );
}
