/** The level table, and best levels as the job gives them. */
import type { Schemas } from "../../api/client";
import type { SpecOf } from "../../api/hooks";

export type Table = SpecOf<"levels">;
/** As the job gives it: levels, or the limits in conflict. */
export type Best = Schemas["BestOut"];

/** The table with rows for every chainage given; pins stay. */
export function withLevels(table: Table, chainage: number[], level: number[]): Table {
  const [low, high] = [chainage[0]! - 1e-3, chainage.at(-1)! + 1e-3];
  const pins = new Set(table.rows.filter((r) => r.pinned).map((r) => r.chainage.toFixed(3)));
  const fresh = chainage.map((c, i) => ({ chainage: Number(c.toFixed(4)), level: Number(level[i]!.toFixed(4)), pinned: pins.has(c.toFixed(3)) }));
  return { rows: [...table.rows.filter((r) => r.chainage < low || r.chainage > high), ...fresh].sort((a, b) => a.chainage - b.chainage) };
}
