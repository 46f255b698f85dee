/** The level table: suggested and adopted levels, grade in, change of grade, the speed it suits, pins. */
import { useMemo } from "react";
import { useDocument } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { between } from "../../common/between";
import { AlongTable, chainageOf } from "../../common/cells/AlongTable";
import { type Column, numbers, shown, ticks } from "../../common/cells/columns";
import { signed } from "../../common/signed";
import type { Table } from "./table";
import type { Levels } from "./view";

type Row = Table["rows"][number];

const CHAINAGE = chainageOf<Row>((i) => `of level ${i + 1}`);
const LEVEL = numbers<Row>({
  title: "Adopted m",
  decimals: 3,
  unit: "m",
  width: 84,
  of: (r) => r.level,
  put: (r, level) => ({ ...r, level }),
  label: (r) => `Level at ${chainageText(r.chainage)}`,
});
const PIN = ticks<Row>({ title: "Pin", of: (r) => r.pinned, put: (r, pinned) => ({ ...r, pinned }), label: (r) => `Pin ${chainageText(r.chainage)}` });

export function LevelRows({ table, levels, mayEdit, change }: { table: Table; levels: Levels; mayEdit: boolean; change: (t: Table) => void }) {
  const limits = useDocument("standards")?.spec.vertical.grade_change.rows;
  const rows = table.rows;
  const columns = useMemo((): Column<Row>[] => {
    const existing = between(levels.chainage, levels.existing);
    const lowest = between(levels.chainage, levels.lowest);
    const into = (i: number) => (i > 0 && i < rows.length ? (100 * (rows[i]!.level - rows[i - 1]!.level)) / (rows[i]!.chainage - rows[i - 1]!.chainage) : null);
    const turn = (i: number) => (into(i) !== null && into(i + 1) !== null ? into(i + 1)! - into(i)! : null);
    const suits = (change: number) => Math.max(0, ...(limits ?? []).filter((l) => l.value >= Math.abs(change) - 1e-9).map((l) => l.speed_kmh));
    const over = (r: Row) => (lowest(r.chainage) === null ? null : 1000 * (r.level - lowest(r.chainage)!));
    const metres = (v: number | null) => (v === null ? "" : v.toFixed(3));
    const bad = (_: Row, i: number) => (Math.abs(turn(i) ?? 0) > levels.limit_pct + 1e-9 ? "cells-bad" : undefined);
    return [
      CHAINAGE,
      shown({ title: "Existing m", of: (r) => metres(existing(r.chainage)) }),
      shown({ title: "Suggested m", help: "The lowest level that keeps the cover", width: 84, of: (r) => metres(lowest(r.chainage)) }),
      LEVEL,
      shown({
        title: "Over mm",
        help: "Above the suggested level",
        of: (r) => (over(r) === null ? "" : signed(over(r)!, 0)),
        className: (r) => ((over(r) ?? 0) < -0.5 ? "cells-short" : undefined),
      }),
      shown({ title: "Grade in %", of: (_, i) => (into(i) === null ? "" : signed(into(i)!, 2)) }),
      shown({ title: "Change %", of: (_, i) => (turn(i) === null ? "" : signed(turn(i)!, 2)), className: bad }),
      shown({ title: "Suits km/h", of: (_, i) => (turn(i) === null ? "" : String(suits(turn(i)!) || "none")), className: bad }),
      PIN,
    ];
  }, [levels, limits, rows]);
  return (
    <AlongTable<Row>
      label="Adopted levels"
      height="fill"
      rows={rows}
      columns={columns}
      disabled={!mayEdit}
      change={(next) => change({ rows: next })}
      follows
      fresh={(chainage, all) => {
        const here = between(
          all.map((r) => r.chainage),
          all.map((r) => r.level),
        );
        return {
          chainage,
          level: Number((here(chainage) ?? all.at(-1)?.level ?? between(levels.chainage, levels.lowest)(chainage) ?? 0).toFixed(3)),
          pinned: false,
        };
      }}
      empty="No levels are adopted yet. Fill the table from the design, or find best levels."
    />
  );
}
