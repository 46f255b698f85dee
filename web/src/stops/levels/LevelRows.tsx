/** The level table: adopted levels with what they mean, pins, filling it from the design. */
import { Button, Checkbox } from "antd";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { NumberField } from "../../common/NumberField";
import { signed } from "../../drawing/SectionDrawing";
import { type Levels, type Table, withLevels } from "./LevelsStop";

interface Props {
  table: Table;
  levels: Levels;
  mayEdit: boolean;
  change: (t: Table) => void;
}

export function LevelRows({ table, levels, mayEdit, change }: Props) {
  const place = usePlace();
  const rows = table.rows ?? [];
  const current = rows.findLastIndex((r) => r.chainage <= place.chainage + 1e-3);
  const first = Math.max(0, Math.min(current - 12, rows.length - 40));
  const shown = rows.slice(first, first + 40);
  const range = place.range;
  const inside = (c: number) => !range || (c >= range.from - 1e-3 && c <= range.to + 1e-3);
  const fill = () => {
    const known = levels.chainage.flatMap((c, i) => (levels.design[i] != null && inside(c) ? [[c, levels.design[i]] as const] : []));
    if (known.length > 1) change(withLevels(table, known.map(([c]) => c), known.map(([, z]) => z)));
  };
  const straight = () => {
    const part = rows.filter((r) => inside(r.chainage));
    const [a, b] = [part[0], part.at(-1)];
    if (!a || !b || a === b) return;
    change({ rows: rows.map((r) => (inside(r.chainage) && !r.pinned ? { ...r, level: Number((a.level + ((r.chainage - a.chainage) / (b.chainage - a.chainage)) * (b.level - a.level)).toFixed(4)) } : r)) });
  };
  const lowestAt = (c: number) => levels.lowest[levels.chainage.findIndex((x) => Math.abs(x - c) < 1e-3)] ?? null;
  const set = (i: number, fields: Partial<(typeof rows)[number]>) => change({ rows: rows.map((r, j) => (j === i ? { ...r, ...fields } : r)) });
  return (
    <>
      {mayEdit && (
        <span style={{ display: "flex", gap: 6, marginBottom: 8, flexWrap: "wrap" }}>
          <Button size="small" onClick={fill}>
            Fill from the design{range ? ", in the range" : ""}
          </Button>
          <Button size="small" disabled={!range || rows.length < 3} onClick={straight}>
            Straight in the range
          </Button>
          <Button size="small" disabled={rows.length === 0} onClick={() => change({ rows: range ? rows.filter((r) => !inside(r.chainage)) : [] })}>
            Empty{range ? " the range" : ""}
          </Button>
        </span>
      )}
      {rows.length === 0 && <p className="quiet">No levels are adopted yet. Fill the table from the design, or find best levels.</p>}
      {rows.length > 0 && (
        <table className="grid-table edit-table" aria-label="Adopted levels">
          <thead>
            <tr>
              <th>Chainage</th>
              <th>Adopted</th>
              <th className="num" title="Above the lowest level that keeps the cover">
                over mm
              </th>
              <th>Pin</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((r, k) => {
              const i = first + k;
              const lowest = lowestAt(r.chainage);
              const over = lowest === null ? null : 1000 * (r.level - lowest);
              return (
                <tr key={r.chainage} className={i === current ? "now" : undefined}>
                  <td className="mono">
                    <button type="button" className="link" onClick={() => place.goToChainage(r.chainage)}>
                      {chainageText(r.chainage, 1)}
                    </button>
                  </td>
                  <td>
                    <NumberField label={`Level at ${chainageText(r.chainage)}`} width={104} unit="m" value={r.level} disabled={!mayEdit} onChange={(level) => set(i, { level })} />
                  </td>
                  <td className="num" style={{ color: over !== null && over < -0.5 ? "var(--short)" : undefined }}>
                    {over === null ? "" : signed(over, 0)}
                  </td>
                  <td>
                    <Checkbox aria-label={`Pin ${chainageText(r.chainage)}`} checked={r.pinned} disabled={!mayEdit} onChange={(e) => set(i, { pinned: e.target.checked })} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {rows.length > 40 && <p className="quiet">{rows.length} rows; those near the current chainage are shown.</p>}
    </>
  );
}
