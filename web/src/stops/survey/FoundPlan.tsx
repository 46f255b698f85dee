/** A file from above before it is taken in: its points and lines, what is there already, and marks where something is wrong. */
import { useMemo } from "react";
import type { Schemas } from "../../api/client";

type Sketch = Schemas["SketchOut"];
type Place = readonly number[];
const MARKS: Record<Sketch["marks"][number]["kind"], { word: string; path: string }> = {
  crossing: { word: "breaklines cross", path: "M-4-4L4 4M-4 4L4-4" },
  double: { word: "two levels in one place", path: "M-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0" },
  spike: { word: "stands out", path: "M-4 4L0-5L4 4Z" },
};

interface Props {
  sketch: Sketch;
  /** The file fills the picture, and what is there is seen about it; otherwise all of both is in sight. */
  close?: boolean;
  /** Some places of what the project has. */
  there: readonly Place[];
  /** How the file's coordinates become another reading's. */
  turn?: (p: Place) => Place;
  width: number;
  height: number;
  label: string;
  /** The code whose lines stand out. */
  lit?: string | null;
  /** The mark that was chosen, and what happens when another one is. */
  chosen?: number | null;
  choose?: (i: number) => void;
}

const AS_IT_IS = (p: Place) => p;

export function FoundPlan({ sketch, there, close = false, turn = AS_IT_IS, width, height, label, lit, chosen, choose }: Props) {
  const drawn = useMemo(() => {
    const points = sketch.points.map(turn);
    const lines = sketch.lines.map((l) => ({ ...l, points: l.points.map(turn) }));
    const marks = sketch.marks.map((m) => turn([m.east, m.north]));
    const to = fit([...points, ...lines.flatMap((l) => l.points), ...(close ? [] : there)], width, height);
    const dots = (all: readonly Place[]) => all.map((p) => `M${to(p)}h0`).join("");
    return {
      scale: to.scale,
      points: dots(points),
      there: dots(there),
      lines: lines.map((l) => ({ ...l, d: `M${l.points.map(to).join("L")}` })),
      marks: marks.map(to),
    };
  }, [sketch, there, close, turn, width, height]);
  return (
    <svg className="found-plan" width={width} height={height} role="img" aria-label={label}>
      <Bearings scale={drawn.scale} width={width} height={height} />
      <path d={drawn.there} className="there" />
      <path d={drawn.points} className="dots" />
      {drawn.lines.map((l, i) => (
        <path key={i} d={l.d} fill="none" stroke={l.colour} strokeWidth={lit === l.code ? 4 : 1}>
          <title>{l.code}</title>
        </path>
      ))}
      {choose &&
        drawn.marks.map((at, i) => {
          const mark = sketch.marks[i]!;
          return (
            <g key={i} transform={`translate(${at.replace(" ", ",")})`} className={i === chosen ? "mark chosen" : "mark"} onClick={() => choose(i)}>
              <circle r={8} />
              <path d={MARKS[mark.kind].path} />
              <title>{mark.words}</title>
            </g>
          );
        })}
    </svg>
  );
}

/** Where north is, and how long a piece of the plan is on the ground: a round length of about a quarter of its width. */
function Bearings({ scale, width, height }: { scale: number; width: number; height: number }) {
  if (!Number.isFinite(scale) || scale <= 0) return null;
  const most = width / 3.5 / scale;
  const ten = 10 ** Math.floor(Math.log10(most));
  const length = [5, 2, 1].find((n) => n * ten <= most)! * ten;
  const y = height - 8;
  return (
    <g className="bearings" aria-hidden>
      <path d={`M8 ${y - 4}V${y}H${(8 + length * scale).toFixed(1)}V${y - 4}`} />
      <text x={12 + length * scale} y={y + 1}>
        {length >= 1000 ? `${length / 1000} km` : `${length} m`}
      </text>
      <path d={`M${width - 14} 24V8M${width - 18} 14L${width - 14} 8L${width - 10} 14`} />
      <text x={width - 14} y={35} textAnchor="middle">
        N
      </text>
    </g>
  );
}

/** What the marks in a plan mean, with how many there are of each. */
export function MarksKey({ sketch }: { sketch: Sketch }) {
  const kinds = (Object.keys(MARKS) as (keyof typeof MARKS)[]).filter((k) => sketch.marks.some((m) => m.kind === k));
  return (
    <p className="marks-key quiet">
      {kinds.map((k) => (
        <span key={k}>
          <svg width={12} height={12} viewBox="-6 -6 12 12" aria-hidden>
            <path d={MARKS[k].path} />
          </svg>
          {sketch.marks.filter((m) => m.kind === k).length} × {MARKS[k].word}
        </span>
      ))}
    </p>
  );
}

/** Places to the picture, "x y": north up, all of it in sight. */
function fit(all: readonly Place[], width: number, height: number): ((p: Place) => string) & { scale: number } {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [e, n] of all as readonly (readonly [number, number])[]) {
    if (e < west) west = e;
    if (e > east) east = e;
    if (n < south) south = n;
    if (n > north) north = n;
  }
  if (west > east) return Object.assign(() => "0 0", { scale: 0 });
  const scale = Math.min((width - 16) / Math.max(east - west, 1e-6), (height - 16) / Math.max(north - south, 1e-6));
  const [x0, y0] = [(width - (east - west) * scale) / 2, (height - (north - south) * scale) / 2];
  const to = (p: Place) => `${(x0 + (p[0]! - west) * scale).toFixed(1)} ${(height - y0 - (p[1]! - south) * scale).toFixed(1)}`;
  return Object.assign(to, { scale });
}
