/** Picking lines in plan, and moving the one that is chosen. */
import type { Schemas } from "../../api/client";
import type { Line, PlacedLine } from "./lines";

type Spot = [number, number];
/** What is being picked: where a square line is to stand, two places of a structure, the corners of a path. */
export type Picking = { what: "square" } | { what: "skew"; first?: Spot } | { what: "path"; points: Spot[] };

export function WORDS(p: Picking): string {
  if (p.what === "square") return "Click where the line is to stand, or on a surveyed line to stand square at its middle";
  if (p.what === "skew") return p.first ? "Click the other place on the structure" : "Click one of two places on the structure";
  return p.points.length === 0
    ? "Click the corners of the path from left to right, or choose a surveyed line"
    : `${p.points.length} corners; click the next one`;
}

/** Handles of a line that can be moved: both ends and the middle of one at a chainage, every corner of a path. */
export function handlesOf(line: Line, placed: PlacedLine): { at: number[]; label: string }[] | undefined {
  if (line.kind === "path") return line.points.map((at, i) => ({ at, label: String(i + 1) }));
  if (line.kind !== "at") return undefined;
  return [
    { at: placed.path[0]!, label: "left" },
    { at: middle(placed), label: "" },
    { at: placed.path.at(-1)!, label: "right" },
  ];
}

/** Where a straight line meets the alignment. */
function middle(p: PlacedLine): Spot {
  const [a, b] = [p.path[0]!, p.path.at(-1)!];
  const t = p.left / (p.left + p.right);
  return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
}

const round = (value: number) => Math.round(1000 * value) / 1000;

/** The line after one of its handles was moved: the middle moves it along the road, an end turns and stretches it. */
export async function moved(line: Line, placed: PlacedLine, index: number, at: Spot, square: (at: Spot) => Promise<Schemas["Skew"]>): Promise<Line> {
  if (line.kind === "path") return { ...line, points: line.points.map((p, i) => (i === index ? [round(at[0]), round(at[1])] : p)) };
  if (line.kind !== "at") return line;
  if (index === 1) return { ...line, chainage: round((await square(at)).chainage) };
  const [east, north] = middle(placed);
  const sign = index === 0 ? -1 : 1;
  const [dx, dy] = [sign * (at[0] - east), sign * (at[1] - north)];
  const [a, b] = [placed.path[0]!, placed.path.at(-1)!];
  // Bearings grow clockwise, as the angle does.
  const turn = Math.atan2(dx, dy) - Math.atan2(b[0] - a[0], b[1] - a[1]);
  const angle = line.angle_deg + (180 / Math.PI) * Math.atan2(Math.sin(turn), Math.cos(turn));
  const angle_deg = Math.max(-80, Math.min(80, Math.round(100 * angle) / 100));
  const wide = round(Math.hypot(dx, dy));
  return { ...line, angle_deg, ...(index === 0 ? { left: wide } : { right: wide }) };
}
