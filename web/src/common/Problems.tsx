/** Problems along the road; each leads to its place. */
import { useState } from "react";
import type { Schemas } from "../api/client";
import { chainageText } from "../app/chainage";
import { usePlace } from "../app/place";

const FEW = 5;

export function Problems({ problems }: { problems: Schemas["ProblemOut"][] }) {
  const place = usePlace();
  const [all, setAll] = useState(false);
  const shown = all ? problems : problems.slice(0, FEW);
  return (
    <section className="card" aria-label="Problems">
      <h3 style={{ display: "flex", justifyContent: "space-between", paddingBottom: 6 }}>
        {problems.length === 0 ? "Nothing to look at" : `${problems.length} place${problems.length > 1 ? "s" : ""} to look at`}
        {problems.length > FEW && (
          <button type="button" className="link" style={{ border: 0, background: "none", color: "var(--saddle700)", cursor: "pointer" }} onClick={() => setAll(!all)}>
            {all ? "fewer" : "all"}
          </button>
        )}
      </h3>
      {shown.map((p, i) => (
        <button type="button" key={i} className={`problem ${p.severity}`} onClick={() => place.goToChainage(p.chainage_from)}>
          <span className="mono">{chainageText(p.chainage_from, 1)}</span>
          <span>
            {p.message}
            {p.chainage_to > p.chainage_from + 0.01 && <span className="quiet"> · to {chainageText(p.chainage_to, 1)}</span>}
          </span>
        </button>
      ))}
    </section>
  );
}
