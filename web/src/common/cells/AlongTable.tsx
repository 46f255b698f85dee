/** A table of rows that stand along the road, each at a chainage of its own: in order, none twice, the row at the place marked. */
import type { ComponentProps } from "react";
import { usePlace } from "../../base/place";
import { CellTable } from "./CellTable";
import { type Column, chainages } from "./columns";

interface AtChainage {
  chainage: number;
}

type Given<Row> = Omit<ComponentProps<typeof CellTable<Row>>, "tidy" | "keyed" | "fresh">;

export interface AlongProps<Row> extends Given<Row> {
  /** A row at a chainage, to be inserted before row `i`. */
  fresh: (chainage: number, rows: readonly Row[], i: number) => Row;
  /** What else holds for the rows, once they are in order. */
  tidy?: (rows: Row[]) => Row[];
  /** The row at the place is marked, and choosing a row goes to its place. */
  follows?: boolean;
}

export function AlongTable<Row extends AtChainage>({ fresh, tidy, follows = false, ...given }: AlongProps<Row>) {
  const place = usePlace();
  const { rows } = given;
  const following = {
    current: rows.findLastIndex((r) => r.chainage <= place.chainage + 1e-3),
    onRow: (i: number) => rows[i] && place.goToChainage(rows[i].chainage),
  };
  return (
    <CellTable<Row>
      {...(follows && following)}
      {...given}
      keyed="Chainage"
      tidy={(next) => {
        const sorted = inOrder(next);
        return typeof sorted === "string" ? sorted : (tidy?.(sorted) ?? sorted);
      }}
      fresh={(all, i) => fresh(freshChainage(all, i, place.chainage), all, i)}
    />
  );
}

/** The column of their chainages; `name` is what a row is called. */
export const chainageOf = <Row extends AtChainage>(name: (i: number) => string): Column<Row> =>
  chainages<Row>({ of: (r) => r.chainage, put: (r, chainage) => ({ ...r, chainage }), label: (_, i) => `Chainage ${name(i)}` });

/** The row that one inserted before row `i` is like: the one before it, else the first. */
export const likeRow = <Row,>(rows: readonly Row[], i: number): Row | undefined => rows[Math.max(0, Math.min(i, rows.length) - 1)];

function inOrder<Row extends AtChainage>(rows: Row[]): Row[] | string {
  const sorted = [...rows].sort((a, b) => a.chainage - b.chainage);
  const twice = sorted.find((r, i) => i > 0 && r.chainage - sorted[i - 1]!.chainage < 1e-3);
  return twice ? `Chainage ${Number(twice.chainage.toFixed(3))} m stands there twice` : sorted;
}

/** Where a row goes that is inserted before row `i`: halfway to the one before it, 10 m behind the last one, or at `at` in an empty table. */
function freshChainage(rows: readonly AtChainage[], i: number, at: number): number {
  const before = rows[i - 1];
  const after = rows[i];
  if (before && after) return Number(((before.chainage + after.chainage) / 2).toFixed(3));
  if (before) return Number((before.chainage + 10).toFixed(3));
  return after ? Number((after.chainage - 10).toFixed(3)) : Number(at.toFixed(3));
}
