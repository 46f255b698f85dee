/** Fitting a section into a box, reading levels off it, and placing labels so that they do not collide. */
import type { SectionView } from "../api/hooks";

export type Vertex = [number, number];

export type Fit = ReturnType<typeof fitted>;

/**
 * Scale in px per m and the place of (offset, level) at (left, middle). Exaggeration is applied to heights.
 * within: the offsets to show, in place of those of the design.
 */
export function fitted(section: SectionView | undefined, size: { width: number; height: number }, high: number, within?: [number, number]) {
  const roads = section?.roads.flatMap((road) => road.designs.flat()) ?? [];
  const own = section && section.design.length > 1 ? section.design : (section?.existing.flat().filter(([o]) => Math.abs(o) < 9) ?? []);
  const shown: Vertex[] = [...own, ...roads];
  const all =
    shown.length > 1
      ? shown
      : ([
          [-6, 0],
          [6, 1],
        ] as Vertex[]);
  const offsets = all.map(([o]) => o);
  const [low, top] = within ?? [Math.min(...offsets) - 0.8, Math.max(...offsets) + 0.8];
  const near = [
    ...all.filter(([o]) => o >= low && o <= top),
    ...(section?.layers.flatMap((l) => l.polygon) ?? []),
    ...(section?.existing.flat() ?? []).filter(([o]) => o > low && o < top),
  ];
  const levels = near.map(([, z]) => z);
  const [bottom, summit] = [Math.min(...levels), Math.max(...levels)];
  const room = { width: Math.max(100, size.width - 40), height: Math.max(60, size.height - 120) };
  const scale = Math.min(room.width / (top - low), room.height / (Math.max(0.6, summit - bottom) * high));
  return { scale, offset: (low + top) / 2, level: (bottom + summit) / 2, left: size.width / 2, middle: size.height / 2 + 24 };
}

/** Level of the first polyline that reaches over an offset, or null. */
export function levelAt(runs: Vertex[][], offset: number): number | null {
  for (const run of runs) {
    for (let i = 1; i < run.length; i++) {
      const [o0, z0] = run[i - 1]!;
      const [o1, z1] = run[i]!;
      if (offset >= o0 && offset <= o1) return o1 > o0 ? z0 + ((offset - o0) / (o1 - o0)) * (z1 - z0) : z1;
    }
  }
  return null;
}

/** Where the upper line of labels has room below the title, and how far labels come down for it, px. */
const UNDER_TITLE = 58;
const MOST_DOWN = 34;

/** Labels of template points in as many tiers as keep them apart. */
export function labelTiers(section: SectionView, x: (o: number) => number, down: (o: number, z: number) => number) {
  const named = section.points.filter((p) => !p.name.includes(".") || p.name.endsWith(".back"));
  const top = Math.min(...named.map((p) => down(p.offset, p.level)));
  const ends: number[] = [];
  const placed = named.map((p) => {
    const at = x(p.offset);
    const half = Math.max(24, p.name.length * 3.3) + 3;
    let tier = 0;
    while ((ends[tier] ?? -Infinity) > at - half) tier += 1;
    ends[tier] = at + half;
    return { key: `${p.side} ${p.name}`, name: p.name, level: p.level, x: at, y: down(p.offset, p.level), labelY: top - 16 - tier * 27 };
  });
  // Where the section begins high the labels come down a little, so that the title does not cover them.
  const under = Math.min(MOST_DOWN, Math.max(0, UNDER_TITLE - Math.min(...placed.map((l) => l.labelY))));
  return placed.map((l) => ({ ...l, labelY: l.labelY + under }));
}
