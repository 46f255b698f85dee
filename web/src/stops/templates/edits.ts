/** What dragging a point and adding something do to a template. */
import type { Vertex } from "../../drawing/scale";
import { insertedAt } from "./insert";
import { FRESH_RUNG } from "./RungForm";
import {
  type Half,
  HINGE,
  drawnSide,
  freeName,
  halfOf,
  type Kerbs,
  newPoint,
  outermost,
  pointNames,
  type Point,
  type SelKind,
  type Side,
  type Template,
  withHalf,
  withStrip,
} from "./spec";
import type { BenchView } from "./useTryOut";

type PointView = BenchView["points"][number];

const to = (value: number, step: number) => Number((Math.round(value / step) * step).toFixed(6));

/** The template with a point dragged to a place, along what its ties leave free. A dimension that it uses changes with it. */
export function dragged(spec: Template, point: PointView, at: Vertex, level: boolean, view: BenchView): Template {
  if (point.side === "hinge") return spec;
  const side = drawnSide(spec, point.side);
  const half = halfOf(spec, side);
  const p = half.points.find((x) => x.name === point.name);
  if (!p) return spec;
  const find = (name: string) => view.points.find((x) => x.name === name && (x.side === point.side || x.side === "hinge"));
  let next = spec;
  const sign = point.side === "left" ? -1 : 1;
  const parent = find(p.offset.parent);
  if ((p.offset.kind === "width" || p.offset.kind === "follow") && parent) {
    const width = Math.max(0, to(sign * (at[0] - parent.offset), 0.01));
    next = typeof p.offset.width === "string" ? withDimension(next, p.offset.width, width) : withPoint(next, side, { ...p, offset: { ...p.offset, width } });
  }
  const held = halfOf(next, side).points.find((x) => x.name === p.name)!;
  const tie = held.level;
  const above = tie && "parent" in tie ? find(tie.parent) : undefined;
  if (!level || !tie || !above) return next;
  const up = at[1] - above.level;
  const width = Math.abs(at[0] - above.offset);
  if (tie.kind === "rise") {
    const rise = to(up, 0.005);
    return typeof tie.rise === "string" ? withDimension(next, tie.rise, rise) : withPoint(next, side, { ...held, level: { ...tie, rise } });
  }
  if (tie.kind === "fall" && tie.crossfall_pct !== null && width > 0.05) {
    const pct = Math.max(-100, Math.min(100, to((100 * up) / width, 0.1)));
    return typeof tie.crossfall_pct === "string"
      ? withDimension(next, tie.crossfall_pct, pct)
      : withPoint(next, side, { ...held, level: { ...tie, crossfall_pct: pct } });
  }
  return next;
}

function withPoint(spec: Template, side: Side, p: Point): Template {
  const half = halfOf(spec, side);
  return withHalf(spec, side, { ...half, points: half.points.map((x) => (x.name === p.name ? p : x)) });
}

function withDimension(spec: Template, name: string, value: number): Template {
  return { ...spec, dimensions: spec.dimensions.map((d) => (d.name === name ? { ...d, value } : d)) };
}

interface Wish {
  kerb: string;
  makeUp: string;
  parent?: string;
  width?: number;
  rise?: number;
}

/** A half with something new, and its name. */
export function adding(kind: SelKind, half: Half, kerbs: Kerbs, wish: Wish): { half: Half; name: string } {
  if (kind === "strip") {
    const lanes = half.strips.length === 0;
    const next = withStrip(half, kerbs, {
      name: lanes ? "Lane" : "Strip",
      kind: lanes ? "lane" : "shoulder",
      width: lanes ? 3.25 : 1,
      pct: lanes ? null : -4,
      makeUp: wish.makeUp,
    });
    return { half: next, name: next.strips.at(-1)!.name };
  }
  if (kind === "kerb") {
    const lane = half.strips.findLast((s) => s.kind === "lane");
    const at = lane && !half.kerbs.some((k) => k.at === lane.to_point) ? lane.to_point : outermost(half, kerbs);
    const { half: next, name } = insertedAt(half, kerbs, at, "kerb", wish);
    return { half: next, name };
  }
  if (kind === "floor") {
    const name = freeName(
      "Subgrade",
      half.floors.map((f) => f.name),
    );
    const floor = {
      name,
      start: null,
      zones: [
        {
          to: { point: outermost(half, kerbs), plus: 0 },
          depth_mm: 600,
          under: null,
          lie: { kind: "parallel" as const },
          joins: "cross" as const,
          vertex: null,
        },
      ],
      end: { kind: "wall" as const },
      fill: half.fill,
    };
    return { half: { ...half, floors: [...half.floors, floor] }, name };
  }
  if (kind === "rung") {
    const name = freeName(
      "Slope",
      half.ladder.map((r) => r.name),
    );
    return { half: { ...half, ladder: [...half.ladder, { ...FRESH_RUNG, name }] }, name };
  }
  const name = freeName("P", pointNames(half, kerbs));
  const parent = wish.parent ?? HINGE;
  const width = to(wish.width ?? 1, 0.05);
  const pct = width > 0.05 ? Math.max(-100, Math.min(100, to((100 * (wish.rise ?? 0)) / width, 0.5))) : 0;
  const made = { ...half, points: [...half.points, newPoint(name, parent, width, pct)] };
  const end = outermost(half, kerbs);
  if (parent !== end) return { half: made, name };
  const strip = freeName(
    "Strip",
    half.strips.map((s) => s.name),
  );
  return {
    half: { ...made, strips: [...half.strips, { name: strip, kind: "shoulder", from_point: parent, to_point: name, new: wish.makeUp, over_existing: null }] },
    name,
  };
}
