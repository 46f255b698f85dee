/** What a paste would do, shown before it is done where it is not plain. */
import type { Pasted } from "./block";

export function PastePlan<Row>({ plan }: { plan: Pasted<Row> }) {
  const counts = (
    [
      [plan.changed, "changed"],
      [plan.fresh, "new"],
      [plan.same, "as before"],
    ] as const
  ).filter(([n]) => n > 0);
  return (
    <div className="paste-plan">
      <p>Into {plan.into.join(", ")}</p>
      <ul aria-label="What the paste does">
        {counts.map(([n, words]) => (
          <li key={words}>
            <span className="number">{n}</span> row{n === 1 ? "" : "s"} {words}
          </li>
        ))}
      </ul>
      <ul aria-label="What is left out" className="quiet">
        {plan.told.map((text) => (
          <li key={text}>{text}.</li>
        ))}
      </ul>
    </div>
  );
}
