/** What a click while measuring takes hold of: a named point, a vertex, or a line nearby. */
import type { SectionView } from "../api/hooks";
import type { Vertex } from "./scale";

/** A measured place, with the name of the point that it is. */
export interface Mark {
  at: Vertex;
  name: string;
}

/** How near the pointer must be, px: to a point, to a vertex, to a line. */
const NEAR = { point: 12, vertex: 8, line: 6 };

/** onScreen: where a place of the section is drawn; free: the place of the pointer itself, null where only what is drawn counts. */
export function snapped(section: SectionView | undefined, pointer: Vertex, onScreen: (v: Vertex) => Vertex, free: Vertex | null): Mark | null {
  if (!section) return free && { at: free, name: "" };
  const far = (v: Vertex) => {
    const [x, y] = onScreen(v);
    return Math.hypot(x - pointer[0], y - pointer[1]);
  };
  const nearest = (marks: Mark[], within: number) => {
    let best: Mark | null = null;
    let least = within;
    for (const mark of marks) {
      const d = far(mark.at);
      if (d <= least) [best, least] = [mark, d];
    }
    return best;
  };
  const lines = [...section.existing, ...section.milled, section.design, ...section.layers.map((l) => [...l.polygon, l.polygon[0]!])];
  const named = section.points.map((p): Mark => ({ at: [p.offset, p.level], name: p.side === "hinge" ? p.name : `${p.name} ${p.side}` }));
  const vertices = lines.flat().map((at): Mark => ({ at, name: "" }));
  const onLines = lines.flatMap((line) =>
    line.slice(1).map((b, i): Mark => {
      const a = line[i]!;
      const [p, q] = [onScreen(a), onScreen(b)];
      const long = (q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2;
      const t = long > 0 ? ((pointer[0] - p[0]) * (q[0] - p[0]) + (pointer[1] - p[1]) * (q[1] - p[1])) / long : 0;
      const s = Math.max(0, Math.min(1, t));
      return { at: [a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1])], name: "" };
    }),
  );
  return nearest(named, NEAR.point) ?? nearest(vertices, NEAR.vertex) ?? nearest(onLines, NEAR.line) ?? (free && { at: free, name: "" });
}
