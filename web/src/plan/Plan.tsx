/** The plan: survey, alignment, sections and depth. Coordinates are plain metres of the site. */
import Feature from "ol/Feature";
import OlMap from "ol/Map";
import View from "ol/View";
import { ScaleLine, Zoom } from "ol/control";
import { boundingExtent, type Extent } from "ol/extent";
import { LineString, MultiLineString, MultiPoint, MultiPolygon, Point } from "ol/geom";
import VectorLayer from "ol/layer/Vector";
import Projection from "ol/proj/Projection";
import VectorSource from "ol/source/Vector";
import { Circle, Fill, Stroke, Style, Text } from "ol/style";
import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { chainageText } from "../app/place";
import { bandColours, colour } from "../app/theme";

export interface PlanProps {
  lines?: Schemas["LineOut"][];
  points?: Schemas["PointsOut"];
  edges?: Schemas["EdgesOut"];
  road?: Schemas["PlanOut"];
  depth?: Schemas["DepthMapOut"];
  problems?: { at: number[]; severity: string }[];
  /** Row of the current section, and its chainage for the label. */
  current?: { index: number; chainage: number };
  showSections?: boolean;
  extent?: number[];
  /** Show only so many metres either side of the current section, instead of the whole road. */
  reach?: number;
  onPick?: (east: number, north: number) => void;
  onView?: (box: { west: number; south: number; east: number; north: number }) => void;
}

const LAYERS = ["bands", "edges", "lines", "points", "sections", "road", "problems", "current"] as const;
type LayerName = (typeof LAYERS)[number];

const stroke = (tone: string, width = 1, lineDash?: number[]) => new Style({ stroke: new Stroke({ color: tone, width, lineDash }) });
const LINE_STYLES: [RegExp, Style][] = [
  [/^(CL|CR)/, stroke(colour.saddle500, 1.2, [8, 4])],
  [/^(EP|LIP|KT)/, stroke(colour.tin950, 1.2)],
  [/^BDY/, stroke(colour.fault, 1.2, [10, 3, 2, 3])],
  [/^(CUL|PIPE)/, stroke(colour.short, 2)],
  [/^WP/, stroke(colour.tin200, 0.8)],
];
/** Survey points, smaller the more ground is in view (m per pixel and above). */
const DOTS = ([[0.8, 0.6], [0.3, 1], [0, 1.8]] as const).map(([from, radius]) => [from, new Style({ image: new Circle({ radius, fill: new Fill({ color: colour.tin600 }) }) })] as const);
const OTHER_LINE = stroke(colour.tin400, 0.8);

export function Plan(props: PlanProps) {
  const node = useRef<HTMLDivElement>(null);
  const map = useRef<{ map: OlMap; sources: Record<LayerName, VectorSource> }>(undefined);
  const fittedTo = useRef("");
  const handlers = useRef(props);
  useEffect(() => {
    handlers.current = props;
  });

  useEffect(() => {
    const sources = Object.fromEntries(LAYERS.map((n) => [n, new VectorSource()])) as Record<LayerName, VectorSource>;
    const projection = new Projection({ code: "SITE", units: "m", metersPerUnit: 1, global: false });
    const made = new OlMap({
      target: node.current!,
      controls: [new Zoom(), new ScaleLine({ minWidth: 80 })],
      layers: LAYERS.map((n) => new VectorLayer({ source: sources[n], declutter: n === "road" })),
      view: new View({ projection, center: [0, 0], resolution: 1, minResolution: 0.005, maxResolution: 500 }),
    });
    made.on("singleclick", (e) => handlers.current.onPick?.(e.coordinate[0]!, e.coordinate[1]!));
    made.on("moveend", () => {
      const [west, south, east, north] = made.getView().calculateExtent(made.getSize());
      handlers.current.onView?.({ west: west!, south: south!, east: east!, north: north! });
    });
    map.current = { map: made, sources };
    return () => made.setTarget(undefined);
  }, []);

  const { lines, points, edges, road, depth, problems, current, showSections, extent, reach } = props;
  useFill(map, "lines", lines, (l) => l.map((line) => {
    const feature = new Feature(new LineString(line.points.map((p) => [p[0]!, p[1]!])));
    feature.setStyle(LINE_STYLES.find(([code]) => code.test(line.code))?.[1] ?? OTHER_LINE);
    return feature;
  }));
  useFill(map, "points", points, (p) => {
    const feature = new Feature(new MultiPoint(p.east.map((e, i) => [e, p.north[i]!])));
    feature.setStyle((_, resolution) => DOTS.find(([from]) => resolution >= from)![1]);
    return [feature];
  });
  useFill(map, "edges", edges, (e) => {
    const feature = new Feature(new MultiLineString(e.edges.map((s) => [[s[0]!, s[1]!], [s[2]!, s[3]!]])));
    feature.setStyle(stroke(colour.tin200, 0.6));
    return [feature];
  });
  useFill(map, "bands", depth, ({ origin, bands }) => bands.map((band, i) => {
    const rings = band.polygons.map((flat) => {
      const ring: [number, number][] = [];
      for (let k = 0; k < flat.length; k += 2) ring.push([origin[0]! + flat[k]!, origin[1]! + flat[k + 1]!]);
      return [ring];
    });
    const feature = new Feature(new MultiPolygon(rings));
    feature.setStyle(new Style({ fill: new Fill({ color: bandColours[i] }), stroke: new Stroke({ color: bandColours[i], width: 0.7 }) }));
    return feature;
  }));
  useFill(map, "road", road, (r) => {
    const line = new Feature(new LineString(r.alignment));
    line.setStyle(stroke(colour.saddle500, 1.6));
    const marks = r.marks.map((m) => {
      const { chainage, at, right } = m as { chainage: number; at: [number, number]; right: [number, number] };
      const feature = new Feature(new Point([at[0], at[1]]));
      feature.setStyle(new Style({ text: new Text({ text: chainageText(chainage, 0), offsetX: -right[0] * 30, offsetY: right[1] * 24, font: "11px 'Overpass Mono Variable'", fill: new Fill({ color: colour.tin800 }), stroke: new Stroke({ color: colour.white, width: 3 }) }) }));
      const tick = new Feature(new LineString([[at[0] - 4 * right[0], at[1] - 4 * right[1]], [at[0] + 4 * right[0], at[1] + 4 * right[1]]]));
      tick.setStyle(stroke(colour.saddle700, 1.4));
      return [feature, tick];
    });
    return [line, ...marks.flat()];
  });
  useFill(map, "sections", showSections ? road : undefined, (r) => {
    const feature = new Feature(new MultiLineString(r.sections.map((s) => [[s[0]!, s[1]!], [s[2]!, s[3]!]])));
    feature.setStyle(stroke(colour.tin400, 0.6));
    return [feature];
  });
  useFill(map, "problems", problems, (all) => all.map((p) => {
    const feature = new Feature(new Point(p.at));
    const tone = p.severity === "fault" ? colour.fault : colour.caution;
    feature.setStyle(new Style({ image: new Circle({ radius: 5, fill: new Fill({ color: tone }), stroke: new Stroke({ color: colour.white, width: 1.5 }) }) }));
    return feature;
  }));
  const line = current && road?.sections[current.index];
  const label = current ? chainageText(current.chainage) : "";
  useFill(map, "current", line ? { line, label } : undefined, (c) => {
    const s = c.line;
    const feature = new Feature(new LineString([[s[0]!, s[1]!], [s[2]!, s[3]!]]));
    feature.setStyle(stroke(colour.saddle500, 2.4));
    const end = new Feature(new Point([s[2]!, s[3]!]));
    end.setStyle(new Style({
      image: new Circle({ radius: 4, fill: new Fill({ color: colour.saddle500 }) }),
      text: new Text({ text: c.label, offsetX: 38, offsetY: 10, font: "600 12px 'Overpass Mono Variable'", fill: new Fill({ color: colour.saddle700 }), stroke: new Stroke({ color: colour.white, width: 4 }) }),
    }));
    return [feature, end];
  });

  useEffect(() => {
    const here = reach !== undefined && line ? around(line, reach) : undefined;
    const box: Extent | undefined = here ?? (extent ? [extent[0]!, extent[1]!, extent[2]!, extent[3]!] : road ? boundingExtent(road.alignment) : undefined);
    const key = here ? `near ${reach}` : JSON.stringify(box?.map((v) => Math.round(v / 50)));
    if (!box || fittedTo.current === key) return;
    fittedTo.current = key;
    map.current?.map.getView().fit(box, { padding: [50, 40, 50, 40] });
  }, [extent, road, reach, line]);

  // Follow the current section when it leaves the view.
  useEffect(() => {
    if (!line || !map.current) return;
    const view = map.current.map.getView();
    const at: [number, number] = [(line[0]! + line[2]!) / 2, (line[1]! + line[3]!) / 2];
    const [west, south, east, north] = view.calculateExtent(map.current.map.getSize());
    if (at[0] < west! || at[0] > east! || at[1] < south! || at[1] > north!) view.setCenter(at);
  }, [line]);

  return <div ref={node} className="plan" role="application" aria-label="Plan" tabIndex={0} />;
}

function around(s: number[], reach: number): Extent {
  const [x, y] = [(s[0]! + s[2]!) / 2, (s[1]! + s[3]!) / 2];
  return [x - reach, y - reach / 4, x + reach, y + reach / 4];
}

function useFill<T>(
  map: React.RefObject<{ sources: Record<LayerName, VectorSource> } | undefined>,
  layer: LayerName,
  data: T | undefined,
  make: (data: T) => Feature[],
) {
  const making = useRef(make);
  useEffect(() => {
    making.current = make;
  });
  useEffect(() => {
    const source = map.current?.sources[layer];
    if (!source) return;
    source.clear(true);
    if (data !== undefined) source.addFeatures(making.current(data));
  }, [map, layer, data]);
}
