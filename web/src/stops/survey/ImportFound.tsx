/** The last step of an import: what was found, what will be left out, and what to take. */
import { Button, Checkbox, Radio } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { NumberField } from "../../common/NumberField";
import { Certificate, type Systems } from "./Certificate";
import type { Mapping } from "./Columns";
import { FoundPlan, MarksKey } from "./FoundPlan";
import { MovedLevels } from "./MovedLevels";
import "./found.css";

export type Report = Schemas["CheckReport"];

export interface Taking {
  rules: Schemas["CodeRule"][];
  longest: number;
  surfaces: number[];
  alignments: number[];
  /** Profiles that are not taken, as alignment.profile. */
  left: string[];
  mode: "replace" | "add" | "part" | "background";
}

/** A file of which most points are nearer to what is there is drawn close up, m. */
const NEAR = 1000;

interface Props {
  report: Report;
  /** Whether there is a survey already. */
  before: boolean;
  /** Of a table of points, how it was read. */
  mapping: Mapping | null;
  /** Levels that stand for none: null for those that were found. */
  none: { said: number[] | null; set: (none: number[] | null) => void };
  systems: Systems;
  taking: Taking;
  set: (fields: Partial<Taking>) => void;
}

/** What was found, sorted by what is done with it. */
function useImportFound({ report, before, mapping, none, systems, taking, set }: Props) {
  const setRule = (code: string, fields: Partial<Schemas["CodeRule"]>) => set({ rules: taking.rules.map((r) => (r.code === code ? { ...r, ...fields } : r)) });
  const surfaces = report.surfaces;
  const alignments = report.alignments;
  const profiles = alignments.flatMap((a, i) => (taking.alignments.includes(i) ? a.profiles.map((name, k) => ({ name, of: a.name, key: `${i}.${k}` })) : []));
  // What is marked in the plan is told once, beside its mark.
  const unmarked = report.skipped.filter((s) => !report.sketch.marks.some((m) => s.reason.startsWith(m.words)));
  // Of very many crossings only the first are marked; how many more there are stands behind them.
  const more = report.crossings.slice(report.sketch.marks.filter((m) => m.kind === "crossing").length);
  const told = report.skipped_total - report.skipped.length + unmarked.length + report.sketch.marks.length + more.length;
  const beneath = taking.mode === "background";
  const [lit, setLit] = useState<string | null>(null);
  const [mark, setMark] = useState<number | null>(null);
  return {
    report,
    before,
    mapping,
    none,
    systems,
    taking,
    set,
    setRule,
    surfaces,
    alignments,
    profiles,
    unmarked,
    more,
    told,
    beneath,
    lit,
    setLit,
    mark,
    setMark,
  };
}
type ImportFoundWork = ReturnType<typeof useImportFound>;

export function ImportFound(props: Props) {
  const work = useImportFound(props);
  return (
    <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 16 }}>
      <WhatIsThere {...work} />
      <WhatIsNoticed {...work} />
    </div>
  );
}

function WhatIsThere({ report, before, mapping, none, systems, taking, set, setRule, surfaces, alignments, profiles, beneath, setLit }: ImportFoundWork) {
  return (
    <div>
      <Certificate report={report} mapping={mapping} none={none} systems={systems} />
      {beneath && (
        <p>
          Its lines are drawn beneath the survey, in plan and on plan sheets, and count for nothing{report.only_background && ": all of it lies at level 0"}.
        </p>
      )}
      {!beneath && report.codes.length > 0 && (
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
                const offered = report.suggestions.find((s) => s.code === c.code);
                return (
                  <tr key={c.code}>
                    <td>
                      {c.code || "no code"} <span className="quiet">{rule?.meaning === "other" ? "" : rule?.meaning}</span>
                      {rule?.meaning === "other" && offered && (
                        <Button
                          type="link"
                          size="small"
                          title={offered.why}
                          onMouseEnter={() => setLit(c.code)}
                          onMouseLeave={() => setLit(null)}
                          onFocus={() => setLit(c.code)}
                          onBlur={() => setLit(null)}
                          onClick={() => setRule(c.code, { meaning: offered.meaning, in_surface: true, breakline: true })}
                        >
                          may be {offered.meaning}
                        </Button>
                      )}
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
      {!beneath && report.points > 0 && (
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
        names={alignments.map((a) => `${a.name}, ${a.length.toFixed(1)} m, ${a.elements} elements`)}
        chosen={taking.alignments}
        onChange={(v) => set({ alignments: v })}
      />
      <Taken
        title="Their profiles"
        names={profiles.map(({ name, of }) => `${name}, of ${of}`)}
        chosen={profiles.flatMap(({ key }, i) => (taking.left.includes(key) ? [] : [i]))}
        onChange={(v) => set({ left: profiles.flatMap(({ key }, i) => (v.includes(i) ? [] : [key])) })}
      />
      {before && report.points > 0 && (
        <Radio.Group value={taking.mode} onChange={(x) => set({ mode: x.target.value as Taking["mode"] })} style={{ marginTop: 10 }}>
          {!report.only_background && (
            <>
              <Radio value="replace">Replace the survey</Radio>
              {report.part && <Radio value="part">Replace the part that it covers</Radio>}
              <Radio value="add">Put it beside</Radio>
            </>
          )}
          <Radio value="background">Background only</Radio>
        </Radio.Group>
      )}
    </div>
  );
}

function WhatIsNoticed({ report, before, taking, unmarked, more, told, lit, mark, setMark }: ImportFoundWork) {
  return (
    <div>
      <FoundPlan
        sketch={report.sketch}
        there={report.placing.there}
        close={(report.placing.apart ?? Infinity) < NEAR}
        width={400}
        height={180}
        label={`The file from above${before ? ", beside what is there" : ""}`}
        lit={lit}
        chosen={mark}
        choose={setMark}
      />
      <MarksKey sketch={report.sketch} />
      {taking.mode === "part" && report.part && <MovedLevels part={report.part} />}
      <h3 style={{ marginTop: 8 }}>{told === 0 ? "Everything in it is taken" : `${told.toLocaleString("en")} left out or noticed`}</h3>
      <div tabIndex={0} style={{ overflow: "auto", maxHeight: 170 }}>
        <table className="grid-table found-rows" aria-label="Left out or noticed">
          <tbody>
            <MarkRows marks={report.sketch.marks} chosen={mark} choose={setMark} />
            {more.map((words) => (
              <tr key={words}>
                <td />
                <td>{words}</td>
              </tr>
            ))}
            {unmarked.map((s, i) => (
              <tr key={i}>
                <td className="num">{s.row ? `row ${s.row}` : ""}</td>
                <td>{s.reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
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

/** What is marked in the plan, in words: a click on either leads to the other. */
function MarkRows({ marks, chosen, choose }: { marks: Report["sketch"]["marks"]; chosen: number | null; choose: (i: number) => void }) {
  return marks.map((m, i) => (
    <tr
      key={i}
      className={i === chosen ? "marked chosen" : "marked"}
      ref={i === chosen ? (row) => row?.scrollIntoView({ block: "nearest" }) : undefined}
      onClick={() => choose(i)}
    >
      <td className="num">{m.row ? `row ${m.row}` : ""}</td>
      <td>{m.words}</td>
    </tr>
  ));
}
