/** Something put between others: at a joint of the chain from the hinge outward, or into the strip that begins there. */
import { chainOf, freeName, HINGE, type Half, kerbPoints, type Kerbs, newPoint, type Placement, type Point, pointNames, retied, type SelKind } from "./spec";

/** What may be put at a joint. */
export type Put = "strip" | "kerb" | "split";

/** The joints of a half, from the hinge to its outer end. */
export const jointsOf = (half: Half, kerbs: Kerbs): string[] => [HINGE, ...chainOf(half, kerbs).map((span) => span.to)];

/** The strip that begins at a joint. */
export const stripFrom = (half: Half, at: string) => half.strips.find((s) => s.from_point === at);

/** What began at a joint begins at `end` instead, and points further out that were tied to the joint are tied to that. */
function movedOut(half: Half, kerbs: Kerbs, at: string, end: string): Half {
  const chain = chainOf(half, kerbs);
  const first = chain.findIndex((s) => s.from === at);
  const outward = new Set(first < 0 ? [] : chain.slice(first).map((s) => s.to));
  return {
    ...half,
    points: half.points.map((p) => (outward.has(p.name) ? retied(p, at, end) : p)),
    strips: half.strips.map((s) => (s.from_point === at ? { ...s, from_point: end } : s)),
    kerbs: half.kerbs.map((k) => (k.at === at ? { ...k, at: end } : k)),
  };
}

interface Wish {
  kerb: string;
  makeUp: string;
}

/** The half with something put at a joint, and what it is called. A strip is like the one beside it, on the inside where there is one. */
export function insertedAt(half: Half, kerbs: Kerbs, at: string, what: Put, wish: Wish): { half: Half; kind: SelKind; name: string } {
  if (what === "kerb") {
    const name = freeName(
      "Kerb",
      half.kerbs.map((k) => k.name),
    );
    const placed: Placement = { name, profile: wish.kerb, at, turned: false };
    const moved = movedOut(half, kerbs, at, kerbPoints(placed, kerbs).at(-1)!);
    return { half: { ...moved, kerbs: [...moved.kerbs, placed] }, kind: "kerb", name };
  }
  if (what === "split") return splitAfter(half, kerbs, at);
  const beside = half.strips.find((s) => s.to_point === at) ?? stripFrom(half, at) ?? half.strips[0];
  const name = freeName(
    "Strip",
    half.strips.map((s) => s.name),
  );
  const point = freeName(`${name}Edge`, pointNames(half, kerbs));
  const level = half.points.find((p) => p.name === beside?.to_point)?.level;
  const fall = level?.kind === "fall" ? level : null;
  const fresh = newPoint(point, at, 1.5, -2.5);
  const made: Point = fall ? { ...fresh, level: { ...fall, parent: at } } : fresh;
  const moved = movedOut(half, kerbs, at, point);
  const strip = {
    name,
    kind: beside?.kind ?? "shoulder",
    from_point: at,
    to_point: point,
    new: beside?.new ?? wish.makeUp,
    over_existing: beside?.over_existing ?? null,
  };
  return { half: { ...moved, points: [...moved.points, made], strips: [...moved.strips, strip] }, kind: "strip", name };
}

/** The strip that begins at a joint as two of the same make-up, with a point half way between its ends. */
function splitAfter(half: Half, kerbs: Kerbs, at: string): { half: Half; kind: SelKind; name: string } {
  const strip = stripFrom(half, at)!;
  const far = half.points.find((p) => p.name === strip.to_point);
  const point = freeName(`${strip.name.replace(/[^A-Za-z0-9]/g, "")}Middle`, pointNames(half, kerbs));
  const name = freeName(
    strip.name,
    half.strips.map((s) => s.name),
  );
  const middle: Point = {
    name: point,
    offset: { kind: "part_way", parent: at, through: strip.to_point, pct: 50 },
    level: { kind: "on_line", parent: at, through: strip.to_point, plus: 0 },
    on_sheets: far?.on_sheets ?? "name",
  };
  return {
    half: {
      ...half,
      points: [...half.points, middle],
      strips: half.strips.flatMap((s) =>
        s === strip
          ? [
              { ...s, to_point: point },
              { ...s, name, from_point: point },
            ]
          : [s],
      ),
    },
    kind: "point",
    name: point,
  };
}
