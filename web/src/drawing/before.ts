/** A section beside itself before the last change. */
import type { SectionView } from "../api/hooks";
import { levelAt } from "./scale";

export interface Moved {
  /** m, positive upwards; null where either is not there. */
  hinge: number | null;
  /** The greatest lowering and raising of the finished surface, m. */
  least: number;
  greatest: number;
}

/** How the finished surface moved, at every vertex of either; null where nothing moved or there is nothing to compare. */
export function movedSince(before: SectionView | undefined, now: SectionView | undefined): Moved | null {
  if (!before || !now || before === now || before.design.length < 2 || now.design.length < 2) return null;
  const offsets = [...before.design, ...now.design].map(([o]) => o);
  const by = offsets.flatMap((o) => {
    const [a, b] = [levelAt([before.design], o), levelAt([now.design], o)];
    return a === null || b === null ? [] : [b - a];
  });
  const ends = (s: SectionView) => `${s.design[0]![0].toFixed(4)} ${s.design.at(-1)![0].toFixed(4)}`;
  if (by.every((d) => Math.abs(d) < 5e-5) && ends(before) === ends(now)) return null;
  return {
    hinge: before.hinge && now.hinge ? now.hinge[1] - before.hinge[1] : null,
    least: Math.min(0, ...by),
    greatest: Math.max(0, ...by),
  };
}
