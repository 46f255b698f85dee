/** A thin overlay drawn so that it is seen: what lies above the old surface is drawn as many times as high above it. */
import { levelAt, type Vertex } from "./scale";

/** How many times. */
export const STRETCH = 10;

export interface Stretch {
  /** Where a level at an offset is drawn. */
  level: (offset: number, level: number) => number;
  /** The vertices of a line as they are drawn, with one wherever the old surface bends under it. */
  line: (points: Vertex[]) => Vertex[];
}

export const UNSTRETCHED: Stretch = { level: (_, z) => z, line: (points) => points };

export function stretchOver(existing: Vertex[][]): Stretch {
  const bends = existing.flat().map(([o]) => o);
  const level = (o: number, z: number) => {
    const old = levelAt(existing, o);
    return old === null || z <= old ? z : old + STRETCH * (z - old);
  };
  const line = (points: Vertex[]) =>
    points.flatMap((p, i): Vertex[] => {
      const q = points[i - 1];
      if (!q) return [[p[0], level(...p)]];
      const [low, high] = [Math.min(p[0], q[0]), Math.max(p[0], q[0])];
      const between = bends.filter((o) => o > low + 1e-9 && o < high - 1e-9).map((o): Vertex => [o, q[1] + ((o - q[0]) / (p[0] - q[0])) * (p[1] - q[1])]);
      const ordered = p[0] >= q[0] ? between.sort((a, b) => a[0] - b[0]) : between.sort((a, b) => b[0] - a[0]);
      return [...ordered, p].map(([o, z]) => [o, level(o, z)]);
    });
  return { level, line };
}
