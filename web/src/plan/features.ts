/** What is drawn in plan, as OpenLayers features. Coordinates are plain metres of the site. */
import Feature from "ol/Feature";
import type { FeatureLike } from "ol/Feature";
import { LineString, MultiLineString, MultiPoint, MultiPolygon, Point } from "ol/geom";
import { Circle, Fill, RegularShape, Stroke, Style, Text } from "ol/style";
import type { Schemas } from "../api/client";
import { chainageText } from "../base/chainage";
import { bandColours, colour } from "../base/theme";

/** Something that can be picked: what it is called, and what it is. */
export interface Pickable {
  label: string;
  kind: "survey line" | "survey point" | "guide" | "structure" | "section line" | "road";
  id: string;
}

export interface GuideDrawn {
  key: string;
  name: string;
  plan: number[][];
  chosen: boolean;
  boundary: boolean;
}

export interface Residual {
  at: number[];
  to: number[];
  beyond: boolean;
}

const stroke = (tone: string, width = 1, lineDash?: number[]) => new Style({ stroke: new Stroke({ color: tone, width, lineDash }) });
const halo = new Stroke({ color: colour.white, width: 3 });
const mono = (size: number) => `${size}px 'Overpass Mono Variable'`;

/** Survey points, smaller the more ground is in view (m per pixel and above). */
const DOTS = (
  [
    [0.8, 0.6],
    [0.3, 1],
    [0, 1.8],
  ] as const
).map(([from, radius]) => [from, new Style({ image: new Circle({ radius, fill: new Fill({ color: colour.tin600 }) }) })] as const);

/** Names of structures are written where a pixel is less than this many metres. */
const NAMED_BELOW = 0.5;

/** How lines of a code are drawn: colour, width in px, dashes. */
export type LineLook = Record<string, { colour: string; width: number; dashed: boolean }>;

export function surveyLines(lines: Schemas["LineOut"][], look: LineLook, chosen: string | null): Feature[] {
  return lines.map((line) => {
    const feature = new Feature(new LineString(line.points.map((p) => [p[0]!, p[1]!])));
    const id = `${line.code} ${line.name}`;
    const style = look[line.code] ?? { colour: colour.tin400, width: 0.8, dashed: false };
    feature.set("pick", { label: id, kind: "survey line", id } satisfies Pickable);
    feature.setStyle(
      chosen === id
        ? [stroke(colour.saddle100, style.width + 6), stroke(colour.saddle500, style.width + 1)]
        : stroke(style.colour, style.width, style.dashed ? [8, 4] : undefined),
    );
    return feature;
  });
}

export function surveyPoints(p: Schemas["PointsOut"]): Feature[] {
  const feature = new Feature(new MultiPoint(p.east.map((e, i) => [e, p.north[i]!])));
  feature.setStyle((_: FeatureLike, resolution: number) => DOTS.find(([from]) => resolution >= from)![1]);
  return [feature];
}

/** Points can be picked one by one where a pixel is less than this many metres. */
const PICKED_BELOW = 0.3;

/** The points that lie under a place of the plan, within so many pixels. */
export function pointsUnder(p: Schemas["PointsOut"], at: number[], resolution: number): Pickable[] {
  if (resolution > PICKED_BELOW) return [];
  const apart = p.east.map((e, i) => Math.hypot(e - at[0]!, p.north[i]! - at[1]!));
  const least = Math.min(...apart);
  if (least > 7 * resolution) return [];
  return apart.flatMap((d, i) => {
    const id = pointId(p.number[i]!, p.code[i]!);
    return d <= least + 0.001 ? [{ kind: "survey point" as const, id, label: `Point ${p.number[i]} ${p.code[i]}` }] : [];
  });
}

/** A point by its number and code, as it stands in the address; and back. */
export const pointId = (number: string, code: string) => `${number}|${code}`;
export function pointOf(id: string): { number: string; code: string | null } {
  const at = id.lastIndexOf("|");
  return at < 0 ? { number: id, code: null } : { number: id.slice(0, at), code: id.slice(at + 1) };
}

/** Every so many contours one is heavier and says its level. */
const INDEX_EVERY = 5;

export function contourLines({ interval, lines }: Schemas["ContoursOut"]): Feature[] {
  return lines.map(({ level, points }) => {
    const feature = new Feature(new LineString(points.map((p) => [p[0]!, p[1]!])));
    const heavy = Math.round(level / interval) % INDEX_EVERY === 0;
    const style = stroke(heavy ? colour.tin400 : colour.tin200, heavy ? 1 : 0.8);
    if (heavy)
      style.setText(
        new Text({ text: level.toFixed(interval < 1 ? 2 : 0), font: mono(10), placement: "line", fill: new Fill({ color: colour.tin600 }), stroke: halo }),
      );
    feature.setStyle(style);
    return feature;
  });
}

export function chosenPoint(at: number[]): Feature[] {
  const feature = new Feature(new Point([at[0]!, at[1]!]));
  feature.setStyle(new Style({ image: new Circle({ radius: 7, stroke: new Stroke({ color: colour.saddle500, width: 2.5 }) }) }));
  return [feature];
}

export function triangleEdges(e: Schemas["EdgesOut"]): Feature[] {
  const feature = new Feature(
    new MultiLineString(
      e.edges.map((s) => [
        [s[0]!, s[1]!],
        [s[2]!, s[3]!],
      ]),
    ),
  );
  feature.setStyle(stroke(colour.tin200, 0.6));
  return [feature];
}

export function backgroundLines(e: Schemas["EdgesOut"]): Feature[] {
  const [feature] = triangleEdges(e);
  feature!.setStyle(stroke(colour.tin400, 0.8));
  return [feature!];
}

export function depthBands({ origin, bands }: Schemas["DepthMapOut"]): Feature[] {
  return bands.map((band, i) => {
    const polygons = band.polygons.map((rings) =>
      rings.map((flat) => {
        const ring: [number, number][] = [];
        for (let k = 0; k < flat.length; k += 2) ring.push([origin[0]! + flat[k]!, origin[1]! + flat[k + 1]!]);
        return ring;
      }),
    );
    const feature = new Feature(new MultiPolygon(polygons));
    feature.setStyle(new Style({ fill: new Fill({ color: bandColours[i] }), stroke: new Stroke({ color: bandColours[i], width: 0.7 }) }));
    return feature;
  });
}

/** rotation: of the map, rad clockwise; chainages stand on the left of the road on the screen. */
export function roadLine(r: Schemas["PlanOut"], rotation: number): Feature[] {
  const [sin, cos] = [Math.sin(rotation), Math.cos(rotation)];
  const line = new Feature(new LineString(r.alignment));
  line.setStyle(stroke(colour.saddle500, 1.6));
  const marks = r.marks.map((m) => {
    const { chainage, at, right } = m as { chainage: number; at: [number, number]; right: [number, number] };
    const feature = new Feature(new Point([at[0], at[1]]));
    feature.setStyle(
      new Style({
        text: new Text({
          text: chainageText(chainage, 0),
          offsetX: -(right[0] * cos + right[1] * sin) * 30,
          offsetY: (right[1] * cos - right[0] * sin) * 24,
          font: mono(11),
          fill: new Fill({ color: colour.tin800 }),
          stroke: halo,
        }),
      }),
    );
    const tick = new Feature(
      new LineString([
        [at[0] - 4 * right[0], at[1] - 4 * right[1]],
        [at[0] + 4 * right[0], at[1] + 4 * right[1]],
      ]),
    );
    tick.setStyle(stroke(colour.saddle700, 1.4));
    return [feature, tick];
  });
  return [line, ...marks.flat()];
}

/** The other roads of the project: their alignments and designed edges, with their names; a click goes to one. */
export function otherRoads(others: Schemas["PlanOut"]["others"]): Feature[] {
  return others
    .filter((road) => road.alignment.length > 1)
    .flatMap((road) => {
      const pick = { label: `Road ${road.name}`, kind: "road", id: road.key } satisfies Pickable;
      const line = new Feature(new LineString(road.alignment));
      const style = stroke(colour.tin600, 1.2, [12, 4]);
      style.setText(new Text({ text: road.name, font: mono(11), placement: "line", fill: new Fill({ color: colour.tin800 }), stroke: halo }));
      line.setStyle(style);
      const edges = new Feature(new MultiLineString(road.edges));
      edges.setStyle(stroke(colour.tin400, 1.2));
      [line, edges].forEach((feature) => feature.set("pick", pick));
      return [edges, line];
    });
}

export function sectionLines(r: Schemas["PlanOut"]): Feature[] {
  const feature = new Feature(
    new MultiLineString(
      r.sections.map((s) => [
        [s[0]!, s[1]!],
        [s[2]!, s[3]!],
      ]),
    ),
  );
  feature.setStyle(stroke(colour.tin400, 0.6));
  return [feature];
}

/** A section line that somebody drew. id: what it is chosen by. */
export interface CutDrawn {
  id: string;
  name: string;
  path: number[][];
  chosen: boolean;
}

export function cutLines(cuts: CutDrawn[]): Feature[] {
  return cuts.map((cut) => {
    const line = new Feature(new LineString(cut.path));
    line.set("pick", { label: cut.name, kind: "section line", id: cut.id } satisfies Pickable);
    line.setStyle(cut.chosen ? [stroke(colour.saddle100, 7), stroke(colour.saddle500, 2.2)] : stroke(colour.tin800, 1, [10, 3, 2, 3]));
    return line;
  });
}

export function problemDots(all: { at: number[]; severity: string }[]): Feature[] {
  return all.map((p) => {
    const feature = new Feature(new Point(p.at));
    const tone = p.severity === "fault" ? colour.fault : colour.caution;
    feature.setStyle(new Style({ image: new Circle({ radius: 5, fill: new Fill({ color: tone }), stroke: new Stroke({ color: colour.white, width: 1.5 }) }) }));
    return feature;
  });
}

export function remarkFlags(all: Schemas["PlanOut"]["remarks"]): Feature[] {
  return all.map((r) => {
    const feature = new Feature(r.places.length > 1 ? new LineString(r.places) : new Point(r.places[0]!));
    const text = new Style({
      geometry: new Point(r.places[0]!),
      text: new Text({ text: r.text, offsetY: -13, textAlign: "left", font: mono(10), fill: new Fill({ color: colour.saddle700 }), stroke: halo }),
    });
    const mark =
      r.places.length > 1
        ? new Style({ stroke: new Stroke({ color: colour.saddle700, width: 2, lineDash: [2, 4] }) })
        : new Style({ image: new RegularShape({ declutterMode: "none", points: 3, radius: 5, fill: new Fill({ color: colour.saddle700 }) }) });
    feature.setStyle((_: FeatureLike, resolution: number) => (resolution < NAMED_BELOW ? [mark, text] : mark));
    return feature;
  });
}

export function currentSection({ line: s, label }: { line: number[]; label: string }): Feature[] {
  const feature = new Feature(
    new LineString([
      [s[0]!, s[1]!],
      [s[2]!, s[3]!],
    ]),
  );
  feature.setStyle(stroke(colour.saddle500, 2.4));
  const end = new Feature(new Point([s[2]!, s[3]!]));
  end.setStyle(
    new Style({
      image: new Circle({ declutterMode: "none", radius: 4, fill: new Fill({ color: colour.saddle500 }) }),
      text: new Text({
        text: label,
        offsetX: 38,
        offsetY: 10,
        font: `600 ${mono(12)}`,
        fill: new Fill({ color: colour.saddle700 }),
        stroke: new Stroke({ color: colour.white, width: 4 }),
      }),
    }),
  );
  return [feature, end];
}

export function guideLines(guides: GuideDrawn[]): Feature[] {
  return guides
    .filter((g) => g.plan.length > 1)
    .map((g) => {
      const feature = new Feature(new LineString(g.plan));
      feature.set("pick", { label: `Guide ${g.name}`, kind: "guide", id: g.key } satisfies Pickable);
      feature.setStyle(g.chosen ? stroke(colour.saddle500, 3) : stroke(g.boundary ? colour.fault : colour.saddle700, 1.4, g.boundary ? [10, 3, 2, 3] : [6, 3]));
      return feature;
    });
}

export function sketchLine(points: number[][]): Feature[] {
  if (points.length < 2) return [];
  const feature = new Feature(new LineString(points));
  feature.setStyle(stroke(colour.saddle500, 1.4, [4, 4]));
  return [feature];
}

/** A line beside what is saved, such as an alignment that was fitted and not yet taken over. */
export function proposalLine(points: number[][]): Feature[] {
  if (points.length < 2) return [];
  const feature = new Feature(new LineString(points));
  feature.setStyle([stroke(colour.white, 5), stroke(colour.sound, 2.4)]);
  return [feature];
}

export function residualTicks(all: Residual[]): Feature[] {
  return [false, true].map((beyond) => {
    const feature = new Feature(new MultiLineString(all.filter((r) => r.beyond === beyond).map((r) => [r.at, r.to])));
    feature.setStyle(stroke(beyond ? colour.fault : colour.sound, 2));
    return feature;
  });
}

export function structureMarks(all: { name: string; kind: "pit" | "pipe"; points: number[][] }[]): Feature[] {
  return all.map((s) => {
    const feature = new Feature(s.points.length > 1 ? new LineString(s.points) : new Point(s.points[0]!));
    feature.set("pick", { label: `${s.kind === "pit" ? "Pit" : "Pipe"} ${s.name}`, kind: "structure", id: s.name } satisfies Pickable);
    const text = new Style({ text: new Text({ text: s.name, offsetY: -11, font: mono(10), fill: new Fill({ color: colour.short }), stroke: halo }) });
    const mark =
      s.points.length > 1
        ? new Style({ stroke: new Stroke({ color: colour.short, width: 2.4 }) })
        : new Style({
            image: new RegularShape({
              declutterMode: "none",
              points: 4,
              radius: 6,
              angle: Math.PI / 4,
              fill: new Fill({ color: colour.white }),
              stroke: new Stroke({ color: colour.short, width: 1.8 }),
            }),
          });
    feature.setStyle((_: FeatureLike, resolution: number) => (resolution < NAMED_BELOW ? [mark, text] : mark));
    return feature;
  });
}

export function handleStyle(label: string): Style {
  return new Style({
    image: new Circle({ declutterMode: "none", radius: 6, fill: new Fill({ color: colour.white }), stroke: new Stroke({ color: colour.saddle500, width: 2 }) }),
    text: new Text({ text: label, offsetY: -14, font: mono(11), fill: new Fill({ color: colour.saddle700 }), stroke: halo }),
  });
}
