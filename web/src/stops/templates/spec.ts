/** Templates as the bench changes them: pure functions on the document. */
import type { SpecOf } from "../../api/hooks";

export type Template = SpecOf<"template">;
export type Half = Template["right"];
export type Point = Half["points"][number];
export type OffsetTie = Point["offset"];
export type LevelTie = NonNullable<Point["level"]>;
export type Strip = Half["strips"][number];
export type Placement = NonNullable<Half["kerbs"]>[number];
export type Floor = NonNullable<Half["floors"]>[number];
export type Zone = Floor["zones"][number];
export type Rung = NonNullable<Half["ladder"]>[number];
export type Link = Rung["links"][number];
export type Dimension = NonNullable<Template["dimensions"]>[number];
export type Unit = Dimension["unit"];
export type Value = number | string;
export type Kerbs = { key: string; spec: SpecOf<"kerb"> }[];
export type Side = "left" | "right";
export type SelKind = "point" | "strip" | "kerb" | "floor" | "rung" | "dimensions" | "template";

export interface Sel {
  kind: SelKind;
  side: Side;
  name: string;
}

export const HINGE = "hinge";

/** The half that a side is drawn from: a mirrored template has only the right one. */
export function halfOf(spec: Template, side: Side): Half {
  return side === "left" && spec.left ? spec.left : spec.right;
}

export function drawnSide(spec: Template, side: Side): Side {
  return spec.left ? side : "right";
}

export function withHalf(spec: Template, side: Side, half: Half): Template {
  return side === "left" && spec.left ? { ...spec, left: half } : { ...spec, right: half };
}

/** What a dimension may be called. */
export const isDimensionName = (text: string): boolean => /^[A-Za-z][A-Za-z0-9 _-]{0,39}$/.test(text);

/** A name that is not among those taken. */
export function freeName(wish: string, taken: Iterable<string>): string {
  const all = new Set(taken);
  let name = wish;
  for (let i = 2; all.has(name); i++) name = `${wish}${i}`;
  return name;
}

/** Names of the points that a kerb brings, from its inner to its outer one, without the one it stands at. */
export function kerbPoints(k: Placement, kerbs: Kerbs): string[] {
  const top = kerbs.find((d) => d.key === k.profile)?.spec.top.map((v) => v.name) ?? ["lip", "back"];
  return (k.turned ? top.toReversed().slice(1) : top.slice(1)).map((v) => `${k.name}.${v}`);
}

export function pointNames(half: Half, kerbs: Kerbs): string[] {
  return [HINGE, ...half.points.map((p) => p.name), ...half.kerbs.flatMap((k) => kerbPoints(k, kerbs))];
}

export interface Span {
  kind: "strip" | "kerb";
  name: string;
  from: string;
  to: string;
}

/** Strips and kerbs from the hinge outward, as far as they follow one another. */
export function chainOf(half: Half, kerbs: Kerbs): Span[] {
  const out: Span[] = [];
  let here = HINGE;
  for (let i = 0; i < 80; i++) {
    const kerb = half.kerbs.find((k) => k.at === here);
    const strip = half.strips.find((s) => s.from_point === here);
    const next: Span | null = kerb
      ? { kind: "kerb", name: kerb.name, from: here, to: kerbPoints(kerb, kerbs).at(-1) ?? here }
      : strip
        ? { kind: "strip", name: strip.name, from: here, to: strip.to_point }
        : null;
    if (!next || out.some((s) => s.kind === next.kind && s.name === next.name)) break;
    out.push(next);
    here = next.to;
  }
  return out;
}

export function outermost(half: Half, kerbs: Kerbs): string {
  return chainOf(half, kerbs).at(-1)?.to ?? HINGE;
}

/** A strip out to a new point, from where the half ends now. */
export function withStrip(half: Half, kerbs: Kerbs, strip: { name: string; kind: Strip["kind"]; width: number; pct: number | null; makeUp: string }): Half {
  const from = outermost(half, kerbs);
  const point = freeName(`${strip.name.replace(/[^A-Za-z0-9]/g, "")}Edge`, pointNames(half, kerbs));
  const name = freeName(
    strip.name,
    half.strips.map((s) => s.name),
  );
  return {
    ...half,
    points: [...half.points, newPoint(point, from, strip.width, strip.pct)],
    strips: [...half.strips, { name, kind: strip.kind, from_point: from, to_point: point, new: strip.makeUp, over_existing: null }],
  };
}

export function newPoint(name: string, parent: string, width: number, pct: number | null): Point {
  return { name, offset: { kind: "width", parent, width }, level: { kind: "fall", parent, crossfall_pct: pct, turns_with: "side" }, on_sheets: "name" };
}

/** A point whose ties name another point in place of one. */
export function retied(p: Point, old: string, now: string): Point {
  const swap = <T>(tie: T): T =>
    Object.fromEntries(Object.entries(tie as object).map(([k, v]) => [k, ["parent", "through", "first", "second"].includes(k) && v === old ? now : v])) as T;
  return { ...p, offset: swap(p.offset), level: p.level ? swap(p.level) : p.level };
}

/** A point called otherwise, wherever it is named. */
export function withPointRenamed(half: Half, old: string, now: string): Half {
  const mark = <T extends { point: string } | null | undefined>(m: T): T => (m && m.point === old ? { ...m, point: now } : m);
  return {
    ...half,
    points: half.points.map((p) => retied(p.name === old ? { ...p, name: now } : p, old, now)),
    strips: half.strips.map((s) => ({ ...s, from_point: s.from_point === old ? now : s.from_point, to_point: s.to_point === old ? now : s.to_point })),
    kerbs: half.kerbs.map((k) => ({ ...k, at: k.at === old ? now : k.at })),
    floors: half.floors.map((f) => ({ ...f, start: mark(f.start), zones: f.zones.map((z) => ({ ...z, to: mark(z.to) })) })),
  };
}

/** The half without something; taking a point away takes the strip that ends there with it. */
export function without(half: Half, sel: Sel, kerbs: Kerbs): Half {
  if (sel.kind === "floor") return { ...half, floors: half.floors.filter((f) => f.name !== sel.name) };
  if (sel.kind === "rung") return { ...half, ladder: half.ladder.filter((r) => r.name !== sel.name) };
  if (sel.kind === "kerb") {
    const kerb = half.kerbs.find((k) => k.name === sel.name);
    if (!kerb) return half;
    const end = kerbPoints(kerb, kerbs).at(-1)!;
    return {
      ...half,
      points: half.points.map((p) => retied(p, end, kerb.at)),
      strips: half.strips.map((s) => (s.from_point === end ? { ...s, from_point: kerb.at } : s)),
      kerbs: half.kerbs.filter((k) => k !== kerb),
    };
  }
  const strip = half.strips.find((s) => (sel.kind === "strip" ? s.name === sel.name : s.to_point === sel.name));
  const point = sel.kind === "point" ? sel.name : strip?.to_point;
  const back = strip?.from_point ?? HINGE;
  return {
    ...half,
    points: half.points.filter((p) => p.name !== point).map((p) => retied(p, point ?? "", back)),
    strips: half.strips.filter((s) => s !== strip).map((s) => (s.from_point === point ? { ...s, from_point: back } : s)),
    kerbs: half.kerbs.map((k) => (k.at === point ? { ...k, at: back } : k)),
  };
}

/** The number that a value has, a dimension's own included. */
export function numberOf(value: Value, dimensions: Dimension[]): number {
  return typeof value === "number" ? value : (dimensions.find((d) => d.name === value)?.value ?? 0);
}

/** What a point may follow. */
type Followed = Extract<OffsetTie, { kind: "follow" }>["source"];

/** What a template looks for along the road, by side, once each. */
export function sourcesOf(spec: Template): { side: Side; source: Followed; boundary: boolean }[] {
  const found = new Map<string, { side: Side; source: Followed; boundary: boolean }>();
  for (const side of ["left", "right"] as const) {
    const half = halfOf(spec, side);
    for (const p of half.points) {
      for (const tie of [p.offset, p.level]) {
        if (tie && "source" in tie) found.set(side + JSON.stringify(tie.source), { side, source: tie.source, boundary: false });
      }
    }
  }
  return [...found.values()];
}

/** Selections travel in the address: template:key/point/right/LaneEdge. */
export function selText(key: string, sel: Sel | null): string {
  return sel ? `template:${key}/${sel.kind}/${sel.side}/${sel.name}` : `template:${key}`;
}

export function selOf(text: string | null): Sel | null {
  const [, kind, side, ...name] = (text ?? "").split("/");
  return kind && (side === "left" || side === "right") ? { kind: kind as SelKind, side, name: name.join("/") } : null;
}
