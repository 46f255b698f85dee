/** The level table: suggested and adopted levels, grade in, change of grade, the speed it suits, pins. */
import { Checkbox } from "antd";
import { useEffect, useRef } from "react";
import { useDocument } from "../../api/hooks";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { between } from "../../common/between";
import { NumberField } from "../../common/NumberField";
import { signed } from "../../common/signed";
import type { Table } from "./table";
import type { Levels } from "./view";

/** So many rows are drawn at once, those near the current chainage. */
const SHOWN = 60;

export function LevelRows({ table, levels, mayEdit, change }: { table: Table; levels: Levels; mayEdit: boolean; change: (t: Table) => void }) {
  const place = usePlace();
  const limits = useDocument("standards")?.spec.vertical.grade_change.rows ?? [];
  const rows = table.rows;
  const current = rows.findLastIndex((r) => r.chainage <= place.chainage + 1e-3);
  const first = Math.max(0, Math.min(current - SHOWN / 2, rows.length - SHOWN));
  const here = useRef<HTMLTableRowElement>(null);
  useEffect(() => here.current?.scrollIntoView({ block: "nearest" }), [current]);
  if (rows.length === 0)
    return (
      <p className="quiet" style={{ padding: 12 }}>
        No levels are adopted yet. Fill the table from the design, or find best levels.
      </p>
    );
  const existing = between(levels.chainage, levels.existing);
  const lowest = between(levels.chainage, levels.lowest);
  const into = (i: number) => (i > 0 && i < rows.length ? (100 * (rows[i]!.level - rows[i - 1]!.level)) / (rows[i]!.chainage - rows[i - 1]!.chainage) : null);
  const suits = (change: number) => Math.max(0, ...limits.filter((l) => l.value >= Math.abs(change) - 1e-9).map((l) => l.speed_kmh));
  const set = (i: number, fields: Partial<(typeof rows)[number]>) => change({ rows: rows.map((r, j) => (j === i ? { ...r, ...fields } : r)) });
  return (
    <>
      <table className="grid-table edit-table" aria-label="Adopted levels">
        <thead>
          <tr>
            <th>Chainage</th>
            <th className="num">existing m</th>
            <th className="num" title="The lowest level that keeps the cover">
              suggested m
            </th>
            <th>Adopted</th>
            <th className="num" title="Above the suggested level">
              over mm
            </th>
            <th className="num">grade in %</th>
            <th className="num">change %</th>
            <th className="num">suits km/h</th>
            <th>Pin</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(first, first + SHOWN).map((r, k) => {
            const i = first + k;
            const [old, low] = [existing(r.chainage), lowest(r.chainage)];
            const over = low === null ? null : 1000 * (r.level - low);
            const [a, b] = [into(i), into(i + 1)];
            const turn = a !== null && b !== null ? b - a : null;
            const bad = turn !== null && Math.abs(turn) > levels.limit_pct + 1e-9;
            return (
              <tr key={r.chainage} ref={i === current ? here : undefined} className={i === current ? "now" : undefined}>
                <td className="mono">
                  <button type="button" className="link" onClick={() => place.goToChainage(r.chainage)}>
                    {chainageText(r.chainage, 1)}
                  </button>
                </td>
                <td className="num">{old === null ? "" : old.toFixed(3)}</td>
                <td className="num">{low === null ? "" : low.toFixed(3)}</td>
                <td>
                  <NumberField
                    label={`Level at ${chainageText(r.chainage)}`}
                    width={100}
                    unit="m"
                    value={r.level}
                    disabled={!mayEdit}
                    onChange={(level) => set(i, { level })}
                  />
                </td>
                <td className="num" style={{ color: over !== null && over < -0.5 ? "var(--short)" : undefined }}>
                  {over === null ? "" : signed(over, 0)}
                </td>
                <td className="num">{a === null ? "" : signed(a, 2)}</td>
                <td className="num" style={{ color: bad ? "var(--fault)" : undefined }}>
                  {turn === null ? "" : signed(turn, 2)}
                </td>
                <td className="num" style={{ color: bad ? "var(--fault)" : undefined }}>
                  {turn === null ? "" : suits(turn) || "none"}
                </td>
                <td>
                  <Checkbox
                    aria-label={`Pin ${chainageText(r.chainage)}`}
                    checked={r.pinned}
                    disabled={!mayEdit}
                    onChange={(e) => set(i, { pinned: e.target.checked })}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {rows.length > SHOWN && (
        <p className="quiet" style={{ padding: "0 8px" }}>
          {rows.length} rows; those near the current chainage are shown.
        </p>
      )}
    </>
  );
}
