/** Problems along the road; each leads to its place. */
import { Button } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useDocument, useMayEdit } from "../api/hooks";
import { useSave } from "../api/save";
import { chainageText } from "../app/chainage";
import { usePlace } from "../app/place";

const FEW = 5;

/** What takes a problem away in one step. A new one is a line here. */
const MENDS: Record<NonNullable<Schemas["ProblemOut"]["mend"]>, string> = { reach_edge: "Let the lanes reach the edge" };

function useMend() {
  const treatments = useDocument("treatments");
  const save = useSave();
  return (p: Schemas["ProblemOut"]) => {
    if (!treatments) return;
    const ranges = treatments.spec.ranges.map((r) =>
      r.work.kind === "overlay" && r.from_chainage < p.chainage_to && r.to_chainage > p.chainage_from
        ? { ...r, work: { ...r.work, reach: "at_least_edge" as const } }
        : r,
    );
    void save({ kind: "treatments", key: "main", version: treatments.version, spec: { ranges } });
  };
}

/** One problem: a click leads to its place; what mends it in one step stands below. */
export function ProblemRow({ p, go }: { p: Schemas["ProblemOut"]; go: (p: Schemas["ProblemOut"]) => void }) {
  const mayEdit = useMayEdit();
  const mend = useMend();
  return (
    <div>
      <button type="button" className={`problem ${p.severity}`} onClick={() => go(p)}>
        <span className="mono">{chainageText(p.chainage_from, 1)}</span>
        <span>
          {p.message}
          {p.chainage_to > p.chainage_from + 0.01 && <span className="quiet"> · to {chainageText(p.chainage_to, 1)}</span>}
        </span>
      </button>
      {p.mend && mayEdit && (
        <Button size="small" style={{ margin: "2px 0 6px 8px" }} onClick={() => mend(p)}>
          {MENDS[p.mend]}
        </Button>
      )}
    </div>
  );
}

export function Problems({ problems }: { problems: Schemas["ProblemOut"][] }) {
  const place = usePlace();
  const [all, setAll] = useState(false);
  const shown = all ? problems : problems.slice(0, FEW);
  return (
    <section className="card" aria-label="Problems">
      <h3 style={{ display: "flex", justifyContent: "space-between", paddingBottom: 6 }}>
        {problems.length === 0 ? "No problems" : `${problems.length} problem${problems.length > 1 ? "s" : ""}`}
        {problems.length > FEW && (
          <button
            type="button"
            className="link"
            style={{ border: 0, background: "none", color: "var(--saddle700)", cursor: "pointer" }}
            onClick={() => setAll(!all)}
          >
            {all ? "fewer" : "all"}
          </button>
        )}
      </h3>
      {shown.map((p, i) => (
        <ProblemRow key={i} p={p} go={() => place.goToChainage(p.chainage_from)} />
      ))}
    </section>
  );
}
