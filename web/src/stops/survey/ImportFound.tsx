/** The last step of an import: what was found, what will be left out, and what to take. */
import { Checkbox, Radio } from "antd";
import type { Schemas } from "../../api/client";
import { NumberField } from "../../common/NumberField";

export type Report = Omit<Schemas["SurveyReport"], "name"> & { rules: Schemas["CodeRule"][] };

export interface Taking {
  rules: Schemas["CodeRule"][];
  longest: number;
  surfaces: number[];
  alignments: number[];
  mode: "replace" | "add";
}

interface Props {
  report: Report;
  /** Extent of the survey that is there already. */
  before: number[] | undefined;
  taking: Taking;
  set: (fields: Partial<Taking>) => void;
}

export function ImportFound({ report, before, taking, set }: Props) {
  const e = report.extent;
  const setRule = (code: string, fields: Partial<Schemas["CodeRule"]>) => set({ rules: taking.rules.map((r) => (r.code === code ? { ...r, ...fields } : r)) });
  const surfaces = report.surfaces;
  const alignments = report.alignments;
  return (
    <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 16 }}>
      <div>
        <p style={{ marginTop: 0 }}>
          <strong>{report.points.toLocaleString("en")}</strong> points, <strong>{report.triangles.toLocaleString("en")}</strong> triangles, levels{" "}
          {e[2]!.toFixed(2)} to {e[5]!.toFixed(2)} m, {(e[3]! - e[0]!).toFixed(0)} by {(e[4]! - e[1]!).toFixed(0)} m in plan.
        </p>
        {report.codes.length > 0 && (
          <div tabIndex={0} style={{ overflow: "auto", maxHeight: 230 }}>
            <table className="grid-table" aria-label="Codes found">
              <thead>
                <tr>
                  <th>Code</th>
                  <th className="num">Points</th>
                  <th className="num">Lines</th>
                  <th>In surface</th>
                  <th>Breakline</th>
                </tr>
              </thead>
              <tbody>
                {report.codes.map((c) => {
                  const rule = taking.rules.find((r) => r.code === c.code);
                  return (
                    <tr key={c.code}>
                      <td>
                        {c.code || "no code"} <span className="quiet">{rule?.meaning === "other" ? "" : rule?.meaning}</span>
                      </td>
                      <td className="num">{c.points}</td>
                      <td className="num">{c.lines || ""}</td>
                      <td>
                        <Checkbox
                          aria-label={`${c.code} in surface`}
                          checked={rule?.in_surface}
                          onChange={(x) => setRule(c.code, { in_surface: x.target.checked })}
                        />
                      </td>
                      <td>
                        <Checkbox
                          aria-label={`${c.code} breakline`}
                          disabled={!c.lines || !rule?.in_surface}
                          checked={Boolean(rule?.breakline && c.lines && rule.in_surface)}
                          onChange={(x) => setRule(c.code, { breakline: x.target.checked })}
                        />
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        )}
        {report.points > 0 && (
          <div className="row" style={{ marginTop: 10, gridTemplateColumns: "170px 110px" }}>
            <span className="quiet">Longest triangle edge</span>
            <NumberField label="Longest triangle edge" unit="m" value={taking.longest} least={0.5} onChange={(longest) => set({ longest })} />
          </div>
        )}
        <Taken
          title="Surfaces in the file"
          names={surfaces.map((s) => `${s.name}, ${s.triangles.toLocaleString("en")} triangles`)}
          chosen={taking.surfaces}
          onChange={(v) => set({ surfaces: v })}
        />
        <Taken
          title="Alignments in the file"
          names={alignments.map((a) => `${a.name}, ${a.length.toFixed(1)} m, ${a.elements} elements${a.profile ? ", with profile" : ""}`)}
          chosen={taking.alignments}
          onChange={(v) => set({ alignments: v })}
        />
        {before && report.points > 0 && (
          <Radio.Group value={taking.mode} onChange={(x) => set({ mode: x.target.value as Taking["mode"] })} style={{ marginTop: 10 }}>
            <Radio value="replace">Replace the survey</Radio>
            <Radio value="add">Add to it</Radio>
          </Radio.Group>
        )}
      </div>
      <div>
        <Extents now={e} before={before} />
        <h3 style={{ marginTop: 8 }}>
          {report.skipped_total === 0 ? "Everything in it is taken" : `${report.skipped_total} row${report.skipped_total > 1 ? "s" : ""} with problems`}
        </h3>
        <div tabIndex={0} style={{ overflow: "auto", maxHeight: 190 }}>
          <table className="grid-table" aria-label="Rows left out">
            <tbody>
              {report.skipped.map((s, i) => (
                <tr key={i}>
                  <td className="num">{s.row ? `row ${s.row}` : ""}</td>
                  <td>{s.reason}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {report.crossings.length > 0 && (
          <>
            <h3 style={{ marginTop: 12 }}>{report.crossings.length} breaklines cross</h3>
            <div tabIndex={0} style={{ overflow: "auto", maxHeight: 120 }} className="quiet">
              {report.crossings.map((c) => (
                <p key={c} style={{ margin: "4px 0" }}>
                  {c}
                </p>
              ))}
            </div>
          </>
        )}
      </div>
    </div>
  );
}

function Taken({ title, names, chosen, onChange }: { title: string; names: string[]; chosen: number[]; onChange: (v: number[]) => void }) {
  if (names.length === 0) return null;
  return (
    <div style={{ marginTop: 10 }}>
      <h3>{title}</h3>
      {names.map((name, i) => (
        <div key={name}>
          <Checkbox
            checked={chosen.includes(i)}
            onChange={(x) => onChange(x.target.checked ? [...chosen, i].sort((a, b) => a - b) : chosen.filter((v) => v !== i))}
          >
            {name}
          </Checkbox>
        </div>
      ))}
    </div>
  );
}

/** Where the file lies in plan, beside what is there already. */
function Extents({ now, before }: { now: number[]; before: number[] | undefined }) {
  const boxes = [before, now].filter((b): b is number[] => b !== undefined);
  const [west, south] = [0, 1].map((k) => Math.min(...boxes.map((b) => b[k]!))) as [number, number];
  const [east, north] = [3, 4].map((k) => Math.max(...boxes.map((b) => b[k]!))) as [number, number];
  const scale = Math.min(380 / Math.max(east - west, 1), 96 / Math.max(north - south, 1));
  const rect = (b: number[]) => ({
    x: 4 + (b[0]! - west) * scale,
    y: 4 + (north - b[4]!) * scale,
    width: Math.max(2, (b[3]! - b[0]!) * scale),
    height: Math.max(2, (b[4]! - b[1]!) * scale),
  });
  return (
    <svg
      width={388}
      height={8 + (north - south) * scale}
      role="img"
      aria-label={before ? "Extent of the file (filled) beside the survey that is there (dashed)" : "Extent of the file"}
    >
      <rect {...rect(now)} fill="var(--saddle100)" stroke="var(--saddle500)" />
      {before && <rect {...rect(before)} fill="none" stroke="var(--tin600)" strokeDasharray="4 3" />}
    </svg>
  );
}
