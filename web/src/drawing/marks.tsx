/** What is written on a section: depths, crossfalls, structures, flags, the scale across. */
import type { SectionView } from "../api/hooks";
import { colour } from "../base/theme";
import { signed } from "../common/signed";
import { type labelTiers, levelAt, type Vertex } from "./scale";

/** From an offset and a level to how far down the screen that is drawn. */
export type Place = (offset: number, level: number) => number;

export function DepthMarks({ section, x, at: drawn, short }: { section: SectionView; x: (o: number) => number; at: Place; short: boolean }) {
  const d = section.depth!;
  const marks = [
    { at: d.greatest_offset, depth: d.greatest, tone: colour.tin600 },
    { at: d.least_offset, depth: d.least, tone: short ? colour.short : colour.tin600 },
  ];
  const placed = marks.map(({ at, depth }) => {
    const design = levelAt([section.design], at);
    if (design === null) return null;
    const beside = section.layers.filter((l) => l.polygon.some(([o]) => x(o) > x(at) - 26) && l.polygon.some(([o]) => x(o) < x(at) + 26));
    const [top, foot] = [drawn(at, design), drawn(at, design - depth)];
    const label = Math.max(foot, ...beside.filter((l) => l.construction !== "over_existing").flatMap((l) => l.polygon.map(([o, z]) => drawn(o, z)))) + 24;
    return { top, foot, label };
  });
  // Two that stand close to each other are written below one another.
  const [greatest, least] = placed;
  if (greatest && least && Math.abs(x(marks[0]!.at) - x(marks[1]!.at)) < 56 && Math.abs(greatest.label - least.label) < 13) {
    const below = greatest.label >= least.label ? greatest : least;
    below.label = Math.min(greatest.label, least.label) + 13;
  }
  return (
    <>
      {marks.map(({ at, depth, tone }, i) => {
        const where = placed[i];
        if (!where) return null;
        return (
          <g key={i}>
            <line x1={x(at)} x2={x(at)} y1={where.top} y2={where.label - 12} stroke={tone} strokeWidth={1.2} />
            {short && i === 1 && <rect x={x(at) - 10} y={where.top} width={20} height={Math.max(4, where.foot - where.top)} fill="url(#short-cover)" />}
            <text x={x(at)} y={where.label} textAnchor="middle" className="mono" fill={tone} style={{ fill: tone }}>
              {(depth * 1000).toFixed(0)} mm
            </text>
          </g>
        );
      })}
    </>
  );
}

export function CrossfallText({ section, x, at }: { section: SectionView; x: (o: number) => number; at: Place }) {
  const [h, level] = section.hinge!;
  return (
    <>
      {(
        [
          ["left", section.left_pct, -1],
          ["right", section.right_pct, 1],
        ] as const
      ).map(([side, pct, sign]) => {
        const outer = section.points.filter((p) => (p.offset - h) * sign > 1e-9).sort((p, q) => Math.abs(p.offset - h) - Math.abs(q.offset - h))[0];
        if (pct === null || !outer || Math.abs(x(outer.offset) - x(h)) < 120) return null;
        return (
          <text
            key={side}
            x={(x(h) + x(outer.offset)) / 2}
            y={Math.min(at(h, level), at(outer.offset, outer.level)) - 14}
            textAnchor="middle"
            className="mono"
            style={{ fill: colour.saddle700 }}
          >
            {signed(pct, 1)} %
          </text>
        );
      })}
    </>
  );
}

/** Whole-number offsets that leave at least 50 px between them. */
export function axis(x: (o: number) => number, width: number): number[] {
  const perMetre = x(1) - x(0);
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50].find((s) => s * perMetre >= 50) ?? 100;
  const first = Math.ceil(-x(0) / perMetre / step);
  const last = Math.floor((width - x(0)) / perMetre / step);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => Number(((first + i) * step).toFixed(6)));
}

/** Short strokes below a ground line, about every 70 px. */
export function earthTicks(run: Vertex[], x: (o: number) => number, y: (z: number) => number): string {
  const out: string[] = [];
  let last = -Infinity;
  for (let i = 1; i < run.length; i++) {
    const [x0, x1] = [x(run[i - 1]![0]), x(run[i]![0])];
    const [y0, y1] = [y(run[i - 1]![1]), y(run[i]![1])];
    if (x1 < -50 || x0 > 4000) continue;
    for (let at = Math.max(x0, last + 70); at < x1; at += 70) {
      const here = y0 + ((at - x0) / (x1 - x0)) * (y1 - y0);
      for (const d of [0, 5, 10]) out.push(`M${(at + d).toFixed(1)} ${(here + 2).toFixed(1)}l-5 6`);
      last = at;
    }
  }
  return out.join("");
}

/** Remarks as flags: those of the whole width stand at the hinge. */
export function remarkFlags(section: SectionView) {
  return section.remarks.map((r) => ({ name: r.text, offset: r.offset ?? section.hinge?.[0] ?? 0, level: null }));
}

/** What crosses the section, or is remarked there. foot: how far down the screen it stands. */
export interface FlagAt {
  name: string;
  x: number;
  foot: number;
}
interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}
type Label = ReturnType<typeof labelTiers>[number];

const ROW = 15;
/** px that a letter takes, about. */
const LETTER = 5.7;
const apart = (a: Box, b: Box) => a.right < b.left || b.right < a.left || a.bottom < b.top || b.bottom < a.top;

/** Flags with the line that each one's words stand on: the highest one that is free of other words, above the section or below. */
export function placedFlags(flags: FlagAt[], labels: Label[], size: { width: number; height: number }) {
  const taken: Box[] = labels.map((l) => {
    const half = Math.max(24, l.name.length * 3.3) + 3;
    return { left: l.x - half, right: l.x + half, top: l.labelY - 22, bottom: l.labelY + 4 };
  });
  const lines = [...Array.from({ length: 5 }, (_, i) => 54 + ROW * i), ...Array.from({ length: 4 }, (_, i) => size.height - 30 - ROW * i)];
  return flags.map((flag) => {
    const wide = flag.name.length * LETTER + 4;
    const before = flag.x + wide > size.width - 4;
    const boxes = lines.map((line) => ({ left: before ? flag.x - wide : flag.x, right: before ? flag.x : flag.x + wide, top: line - 10, bottom: line + 3 }));
    const box = boxes.find((b) => taken.every((t) => apart(b, t))) ?? boxes[0]!;
    taken.push(box);
    return { ...flag, line: box.bottom - 3, before };
  });
}

/** A staff from what is flagged to its name. */
export function Flag({ flag: { name, x, foot, line, before } }: { flag: ReturnType<typeof placedFlags>[number] }) {
  return (
    <g stroke={colour.saddle700}>
      <line x1={x} x2={x} y1={foot} y2={line < foot ? line - 9 : line} />
      <circle cx={x} cy={foot} r={2.4} fill={colour.saddle700} />
      <text x={before ? x - 3 : x + 3} y={line} textAnchor={before ? "end" : "start"} style={{ fill: colour.saddle700, stroke: "none" }}>
        {name}
      </text>
    </g>
  );
}

/** A pit or pipe as far as its levels are known: what is not known is not drawn, and said. */
export function StructureMark({ s, x, y, width }: { s: SectionView["structures"][number]; x: (o: number) => number; y: (z: number) => number; width: number }) {
  const anchor = x(s.offset) < 90 ? "start" : x(s.offset) > width - 90 ? "end" : "middle";
  const { top, bottom } = s;
  const words = s.kind === "pit" ? ["Pit", "cover", "invert"] : ["Pipe", "soffit", "invert"];
  const level = (z: number | null) => (z === null ? "not known" : z.toFixed(3));
  const wide = x(s.across) - x(0);
  const low = bottom ?? top ?? 0;
  return (
    <g fill={colour.white} stroke={colour.short} strokeWidth={1.6}>
      <title>{`${words[0]} ${s.name}, ${signed(s.offset, 2)} m, ${words[1]} ${level(top)}, ${words[2]} ${level(bottom)}`}</title>
      {top === null || bottom === null ? (
        <path d={`M${x(s.offset - s.across / 2)},${y(low)}h${wide}m${-wide / 2},-4v8`} />
      ) : s.kind === "pit" ? (
        <rect x={x(s.offset - s.across / 2)} width={wide} y={y(top)} height={Math.max(2, y(bottom) - y(top))} />
      ) : s.outline.length > 2 ? (
        <polygon points={s.outline.map(([o, z]) => `${x(o).toFixed(2)},${y(z).toFixed(2)}`).join(" ")} />
      ) : (
        <ellipse cx={x(s.offset)} cy={y((top + bottom) / 2)} rx={wide / 2} ry={Math.max(2, (y(bottom) - y(top)) / 2)} />
      )}
      <text x={x(s.offset)} y={y(low) + 14} textAnchor={anchor} style={{ fill: colour.short, stroke: colour.white }}>
        {s.name}
        {bottom === null && " (invert not known)"}
      </text>
    </g>
  );
}
