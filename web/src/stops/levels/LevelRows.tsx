/** The level table: adopted levels with what they mean, pins, filling it from the design. */
import { Button, Checkbox } from "antd";
import { api, dataOf, type Schemas } from "../../api/client";
import { useDocumentsOf, useProjectId } from "../../api/hooks";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { NumberField } from "../../common/NumberField";
import { Operate, type OperationKind } from "../../common/Operate";
import { signed } from "../../drawing/SectionDrawing";
import type { Table } from "./OverlayLevels";
import type { Levels } from "./view";

interface Props {
  table: Table;
  levels: Levels;
  mayEdit: boolean;
  change: (t: Table) => void;
  propose: (t: Table | null) => void;
}

type LevelOperation = Schemas["LevelOperationIn"]["operation"];

/** What can be done with the levels of a range. A new operation is one entry here and one in the core. */
function operations(limit: number, profiles: { value: string; label: string }[]): Record<string, OperationKind<LevelOperation>> {
  return {
    design: { label: "fill from the design", fresh: { kind: "design" }, fields: [] },
    ...(profiles.length > 0 && { profile: { label: "fill from a profile", fresh: { kind: "profile" as const, profile: profiles[0]!.value }, fields: [{ name: "profile", label: "Profile", options: profiles }] } }),
    straight: { label: "straight between the ends", fresh: { kind: "straight" }, fields: [] },
    mean: { label: "running mean", fresh: { kind: "mean", length: 30 }, fields: [{ name: "length", label: "Over", unit: "m", least: 1 }] },
    ease: {
      label: "ease the changes of grade",
      fresh: { kind: "ease", change_pct: limit, keep_cover: true },
      fields: [
        { name: "change_pct", label: "At most", unit: "%", least: 0.01 },
        { name: "keep_cover", label: "Keep the cover", toggle: true },
      ],
    },
    raise: { label: "raise or lower", fresh: { kind: "raise", by_mm: 10 }, fields: [{ name: "by_mm", label: "By", unit: "mm" }] },
    cover: { label: "raise to the cover", fresh: { kind: "cover" }, fields: [] },
  };
}

export function LevelRows({ table, levels, mayEdit, change, propose }: Props) {
  const project_id = useProjectId();
  const profiles = useDocumentsOf("profile").map((d) => ({ value: d.key, label: d.spec.name ?? d.key }));
  const kinds = operations(levels.limit_pct, profiles);
  const place = usePlace();
  const rows = table.rows ?? [];
  const current = rows.findLastIndex((r) => r.chainage <= place.chainage + 1e-3);
  const first = Math.max(0, Math.min(current - 12, rows.length - 40));
  const shown = rows.slice(first, first + 40);
  const range = place.range;
  const inside = (c: number) => !range || (c >= range.from - 1e-3 && c <= range.to + 1e-3);
  const lowestAt = (c: number) => levels.lowest[levels.chainage.findIndex((x) => Math.abs(x - c) < 1e-3)] ?? null;
  const set = (i: number, fields: Partial<(typeof rows)[number]>) => change({ rows: rows.map((r, j) => (j === i ? { ...r, ...fields } : r)) });
  return (
    <>
      <Operate<LevelOperation, Table>
        name="level-operation"
        kinds={kinds}
        first={kinds.design!.fresh}
        table={table}
        mayEdit={mayEdit}
        propose={propose}
        take={change}
        ask={async (operation, where) => dataOf(await api.POST("/api/projects/{project_id}/levels/apply", { params: { path: { project_id } }, body: { operation, from_chainage: where.from, to_chainage: where.to, table } as never }))}
      />
      {mayEdit && rows.length > 0 && (
        <Button size="small" style={{ marginBottom: 8 }} onClick={() => change({ rows: range ? rows.filter((r) => !inside(r.chainage)) : [] })}>
          Empty{range ? " the range" : " the table"}
        </Button>
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
