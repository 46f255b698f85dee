/** A median by its shapes: on how many sections each is built, which one here, and how wide it is. */
import type { Schemas } from "../../api/client";

export function MedianCard({ median, index }: { median: Schemas["MedianUseOut"]; index: number }) {
  const width = median.width[index];
  const taken = median.shape[index] ?? -1;
  return (
    <section className="card" aria-label={`${median.name}, ${median.side}`}>
      <h3>{`${median.name}, ${median.side}`}</h3>
      <table className="grid-table" style={{ width: "100%" }}>
        <thead>
          <tr>
            <th>Shape</th>
            <th className="num">From m</th>
            <th className="num">Sections</th>
          </tr>
        </thead>
        <tbody>
          {median.shapes.map((s, i) => (
            <tr key={i} aria-current={i === taken}>
              <td>{i === taken ? <strong>{s.name}</strong> : s.name}</td>
              <td className="num">{s.least_width.toFixed(2)}</td>
              <td className="num">{`${s.sections} of ${median.of}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet" style={{ margin: "6px 0 0" }}>
        {width == null
          ? "Here it finds nothing to reach to."
          : taken < 0
            ? `No shape has room in ${width.toFixed(3)} m.`
            : `${median.shapes[taken]!.name} is taken: ${width.toFixed(3)} m wide here, it needs ${median.shapes[taken]!.least_width.toFixed(2)} m.`}
      </p>
    </section>
  );
}
