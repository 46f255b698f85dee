/** Rows that stand along the road, each at a chainage of its own. */

interface AtChainage {
  chainage: number;
}

/** In order, or which chainage stands there twice. */
export function byChainage<Row extends AtChainage>(rows: Row[]): Row[] | string {
  const sorted = [...rows].sort((a, b) => a.chainage - b.chainage);
  const twice = sorted.find((r, i) => i > 0 && r.chainage - sorted[i - 1]!.chainage < 1e-3);
  return twice ? `Chainage ${Number(twice.chainage.toFixed(3))} m stands there twice` : sorted;
}

/** Where a row goes that is inserted before row `i`: halfway to the one before it, 10 m behind the last one, or at `at` in an empty table. */
export function freshChainage(rows: readonly AtChainage[], i: number, at: number): number {
  const before = rows[i - 1];
  const after = rows[i];
  if (before && after) return Number(((before.chainage + after.chainage) / 2).toFixed(3));
  if (before) return Number((before.chainage + 10).toFixed(3));
  return after ? Number((after.chainage - 10).toFixed(3)) : Number(at.toFixed(3));
}
