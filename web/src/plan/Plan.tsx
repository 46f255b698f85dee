/** The plan: survey, alignment, guides, sections and depth. It knows no API. */
import { Dropdown } from "antd";
import Collection from "ol/Collection";
import Feature from "ol/Feature";
import OlMap from "ol/Map";
import type MapBrowserEvent from "ol/MapBrowserEvent";
import View from "ol/View";
import { ScaleLine, Zoom } from "ol/control";
import { boundingExtent, type Extent } from "ol/extent";
import { Point } from "ol/geom";
import { defaults, Modify, Snap } from "ol/interaction";
import VectorLayer from "ol/layer/Vector";
import Projection from "ol/proj/Projection";
import VectorSource from "ol/source/Vector";
import { type RefObject, useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { chainageText } from "../base/chainage";
import { keptStore } from "../common/store";
import { Handles } from "./Handles";
import * as draw from "./features";
import type { CutDrawn, GuideDrawn, LineLook, Pickable, Residual } from "./features";

export interface PlanProps {
  lines?: Schemas["LineOut"][];
  look?: LineLook;
  points?: Schemas["PointsOut"];
  /** What lies beneath the survey. */
  background?: Schemas["EdgesOut"];
  edges?: Schemas["EdgesOut"];
  contours?: Schemas["ContoursOut"];
  road?: Schemas["PlanOut"];
  depth?: Schemas["DepthMapOut"];
  problems?: { at: number[]; severity: string }[];
  guides?: GuideDrawn[];
  structures?: { name: string; kind: "pit" | "pipe"; points: number[][] }[];
  /** Section lines that somebody drew. */
  cuts?: CutDrawn[];
  /** A line that is being drawn or moved, and the points of it that can be dragged. */
  sketch?: number[][];
  handles?: { at: number[]; label: string }[];
  /** While a handle is dragged, and when it is let go. */
  onMoveHandle?: (index: number, at: [number, number], done: boolean) => void;
  proposal?: number[][];
  residuals?: Residual[];
  /** Row of the current section, and its chainage for the label. */
  current?: { index: number; chainage: number };
  showSections?: boolean;
  extent?: number[];
  /** Show only so many metres either side of the current section, instead of the whole road. */
  reach?: number;
  /** Id of the survey line that is chosen. */
  chosenLine?: string | null;
  /** East, north of a point that is chosen. */
  chosenPoint?: number[];
  /** A click on nothing that can be chosen, or any click while there is nothing to choose. */
  onPick?: (east: number, north: number) => void;
  /** A click on a line; where several lie on top of each other the person is asked which. */
  onChoose?: (what: Pickable) => void;
  /** A click on another road. */
  onRoad?: (key: string) => void;
  /** Nothing but survey points can be chosen for now. */
  onlyPoints?: boolean;
  onView?: (box: { west: number; south: number; east: number; north: number }) => void;
}

const LAYERS = [
  "background",
  "contours",
  "bands",
  "edges",
  "lines",
  "points",
  "sections",
  "guides",
  "structures",
  "cuts",
  "others",
  "road",
  "proposal",
  "residuals",
  "sketch",
  "remarks",
  "problems",
  "chosen",
  "current",
  "handles",
] as const;
type LayerName = (typeof LAYERS)[number];
/** Layers whose labels give way to those drawn over them. */
const LABELLED: ReadonlySet<LayerName> = new Set(["contours", "others", "road", "structures", "remarks", "current", "handles"]);
const NO_LOOK: LineLook = {};
interface Made {
  map: OlMap;
  sources: Record<LayerName, VectorSource>;
  handles: Collection<Feature>;
}

function chooseIn({ onChoose, onRoad }: PlanProps, what: Pickable): void {
  if (what.kind === "road") onRoad?.(what.id);
  else onChoose?.(what);
}

interface Asking {
  x: number;
  y: number;
  among: Pickable[];
}

/** What lies under a click is chosen; where it is several things the person is asked which. */
function clicked(made: OlMap, e: MapBrowserEvent, props: PlanProps, setAsking: (asking: Asking | null) => void) {
  const { onPick, onChoose, onRoad } = props;
  const [x, y] = e.pixel as [number, number];
  const among: Pickable[] = [];
  if (onChoose || onRoad) {
    made.forEachFeatureAtPixel(
      e.pixel,
      (f) => {
        const pick = f.get("pick") as Pickable | undefined;
        if (pick && (pick.kind === "road" ? onRoad : onChoose) && !among.some((p) => p.kind === pick.kind && p.id === pick.id)) among.push(pick);
      },
      { hitTolerance: 5 },
    );
  }
  const { points, onlyPoints } = props;
  if (onlyPoints) among.length = 0;
  if (onChoose && points) among.push(...draw.pointsUnder(points, e.coordinate, made.getView().getResolution()!));
  setAsking(null);
  if (among.length > 1) setAsking({ x, y, among });
  else if (among[0]) chooseIn(props, among[0]);
  else onPick?.(e.coordinate[0]!, e.coordinate[1]!);
}

interface MapProps {
  node: RefObject<HTMLDivElement | null>;
  map: RefObject<Made | undefined>;
  handlers: RefObject<PlanProps>;
  /** Points that can be dragged. */
  handles: PlanProps["handles"];
  setAsking: (asking: Asking | null) => void;
}

/** The map with its layers, made once, and what is done with the pointer on it. */
function useMap({ node, map: mapRef, handlers, handles: points, setAsking }: MapProps) {
  /** What hears of the handle that is being dragged. */
  const moving = useRef<(() => void) | null>(null);
  /** The pointer is down: handles are not made anew under the hand. */
  const pressed = useRef(false);
  const refill = useRef<() => void>(() => undefined);
  useEffect(() => {
    const handles = new Collection<Feature>();
    const sources = Object.fromEntries(LAYERS.map((n) => [n, n === "handles" ? new VectorSource({ features: handles }) : new VectorSource()])) as Record<
      LayerName,
      VectorSource
    >;
    const projection = new Projection({ code: "SITE", units: "m", metersPerUnit: 1, global: false });
    const made = new OlMap({
      target: node.current!,
      controls: [new Zoom(), new ScaleLine({ minWidth: 80 })],
      interactions: defaults(), // the wheel zooms before the plan was clicked, too: nothing else here scrolls
      layers: LAYERS.map((n) => new VectorLayer({ source: sources[n], declutter: LABELLED.has(n) ? "labels" : false })),
      view: new View({ projection, center: [0, 0], resolution: 1, minResolution: 0.005, maxResolution: 500 }),
    });
    const modify = new Modify({ features: handles, pixelTolerance: 12, insertVertexCondition: () => false, deleteCondition: () => false });
    const told = (feature: Feature, done: boolean) => {
      const at = (feature.getGeometry() as Point).getCoordinates();
      handlers.current.onMoveHandle?.(feature.get("index") as number, [at[0]!, at[1]!], done);
    };
    modify.on("modifystart", (e) => {
      const feature = e.features.item(0);
      moving.current = () => told(feature, false);
      feature.getGeometry()!.on("change", moving.current);
    });
    modify.on("modifyend", (e) => {
      const feature = e.features.item(0);
      feature.getGeometry()!.un("change", moving.current!);
      moving.current = null;
      told(feature, true);
    });
    const onPress = () => (pressed.current = true);
    // What was given up, or cannot be, stands where it stood.
    const onRelease = () =>
      window.setTimeout(() => {
        pressed.current = false;
        refill.current();
      });
    const target = node.current!;
    target.addEventListener("pointerdown", onPress, true);
    window.addEventListener("pointerup", onRelease);
    window.addEventListener("pointercancel", onRelease);
    made.addInteraction(modify);
    made.addInteraction(new Snap({ source: sources.lines, pixelTolerance: 8 }));
    made.addInteraction(new Snap({ source: sources.background, pixelTolerance: 8 }));
    made.on("singleclick", (e) => clicked(made, e, handlers.current, setAsking));
    made.on("moveend", () => {
      const [west, south, east, north] = made.getView().calculateExtent(made.getSize());
      handlers.current.onView?.({ west: west!, south: south!, east: east!, north: north! });
    });
    mapRef.current = { map: made, sources, handles };
    return () => {
      target.removeEventListener("pointerdown", onPress, true);
      window.removeEventListener("pointerup", onRelease);
      window.removeEventListener("pointercancel", onRelease);
      made.setTarget(undefined);
    };
  }, [node, mapRef, handlers, setAsking]);
  useEffect(() => {
    refill.current = () => {
      const all = mapRef.current?.handles;
      if (!all || pressed.current) return;
      all.clear();
      points?.forEach((h, index) => {
        const feature = new Feature(new Point([h.at[0]!, h.at[1]!]));
        feature.set("index", index);
        feature.setStyle(draw.handleStyle(h.label));
        all.push(feature);
      });
    };
    refill.current();
  }, [mapRef, points]);
}

/** Every layer is kept filled with what is given of it. */
function useLayers(map: RefObject<Made | undefined>, props: PlanProps, line: number[] | undefined, rotation: number) {
  const { road } = props;
  const look = props.look ?? NO_LOOK;
  const chosenLine = props.chosenLine ?? null;
  useFill(map, "chosen", props.chosenPoint, draw.chosenPoint);
  useFill(map, "lines", props.lines, (l) => draw.surveyLines(l, look, chosenLine), [look, chosenLine]);
  useFill(map, "points", props.points, draw.surveyPoints);
  useFill(map, "background", props.background, draw.backgroundLines);
  useFill(map, "edges", props.edges, draw.triangleEdges);
  useFill(map, "contours", props.contours, draw.contourLines);
  useFill(map, "bands", props.depth, draw.depthBands);
  useFill(map, "road", road, (r) => draw.roadLine(r, rotation), [rotation]);
  useFill(map, "others", road?.others, draw.otherRoads);
  useFill(map, "sections", props.showSections ? road : undefined, draw.sectionLines);
  useFill(map, "remarks", road?.remarks, draw.remarkFlags);
  useFill(map, "problems", props.problems, draw.problemDots);
  useFill(map, "guides", props.guides, draw.guideLines);
  useFill(map, "structures", props.structures, draw.structureMarks);
  useFill(map, "cuts", props.cuts, draw.cutLines);
  useFill(map, "sketch", props.sketch, draw.sketchLine);
  useFill(map, "proposal", props.proposal, draw.proposalLine);
  useFill(map, "residuals", props.residuals, draw.residualTicks);
  const label = props.current ? chainageText(props.current.chainage) : "";
  useFill(map, "current", line, (s) => draw.currentSection({ line: s, label }), [label]);
}

export function Plan(props: PlanProps) {
  const node = useRef<HTMLDivElement>(null);
  const map = useRef<Made>(undefined);
  const fittedTo = useRef("");
  const handlers = useRef(props);
  const [asking, setAsking] = useState<Asking | null>(null);
  useEffect(() => {
    handlers.current = props;
  });

  useMap({ node, map, handlers, handles: props.handles, setAsking });
  const { road, current, extent, reach, handles } = props;
  const line = current && road?.sections[current.index];
  const turns = turned.use((on) => on);
  // In steps, so that labels are not placed anew at every section.
  const rotation = turns && line ? Math.round(along(line) / TURN) * TURN : 0;
  useLayers(map, props, line, rotation);

  useEffect(() => {
    const here = reach !== undefined && line ? around(line, reach) : undefined;
    const box: Extent | undefined = here ?? (extent ? [extent[0]!, extent[1]!, extent[2]!, extent[3]!] : road ? boundingExtent(road.alignment) : undefined);
    const key = here ? `near ${reach}` : JSON.stringify(box?.map((v) => Math.round(v / 50)));
    if (!box || fittedTo.current === key) return;
    fittedTo.current = key;
    map.current?.map.getView().fit(box, { padding: [50, 40, 50, 40] });
  }, [extent, road, reach, line]);

  useEffect(() => {
    map.current?.map.getView().setRotation(rotation);
  }, [rotation]);

  // Follow the current section when somebody goes to one beyond the view, not when the road is computed anew; the one that was there
  // first does not take it from a part that is asked for.
  const followed = useRef<number>(undefined);
  useEffect(() => {
    const at = handlers.current.current?.chainage;
    if (!line || !map.current || at === followed.current) return;
    const first = followed.current === undefined;
    followed.current = at;
    if (first && handlers.current.extent) return;
    const view = map.current.map.getView();
    const middle: [number, number] = [(line[0]! + line[2]!) / 2, (line[1]! + line[3]!) / 2];
    const [west, south, east, north] = view.calculateExtent(map.current.map.getSize());
    if (middle[0] < west! || middle[0] > east! || middle[1] < south! || middle[1] > north!) view.setCenter(middle);
  }, [line]);

  return (
    <>
      <div ref={node} className="plan" role="application" aria-label="Plan" tabIndex={0} />
      {line && (
        <button
          type="button"
          className="plan-corner"
          aria-label="Turn with the road"
          aria-pressed={turns}
          title="The road from left to right, at every section; else north is up"
          onClick={() => turned.set(!turns)}
        >
          <svg viewBox="-10 -10 20 20" width={18} height={18} aria-hidden="true" style={{ transform: `rotate(${rotation}rad)` }}>
            <path d="M0 -8L4 6L0 3L-4 6Z" fill="currentColor" />
          </svg>
        </button>
      )}
      {handles && <Handles map={() => map.current?.map} handles={handles} move={props.onMoveHandle} />}
      {asking && (
        <Dropdown
          open
          onOpenChange={(open) => !open && setAsking(null)}
          menu={{
            items: [
              {
                key: "head",
                type: "group",
                label: "Several lie here. Which one?",
                children: asking.among.map((p) => ({ key: `${p.kind} ${p.id}`, label: p.label })),
              },
            ],
            onClick: ({ key }) => {
              const chosen = asking.among.find((p) => `${p.kind} ${p.id}` === key);
              setAsking(null);
              if (chosen) chooseIn(props, chosen);
            },
          }}
        >
          <span style={{ position: "absolute", left: asking.x, top: asking.y, width: 1, height: 1 }} />
        </Dropdown>
      )}
    </>
  );
}

/** The plan turns in steps of this, rad. */
const TURN = Math.PI / 36;
const turned = keptStore("tin-saddle plan turns", false);

/** How far the map is turned clockwise so that the road through a section line runs from left to right. */
function along(s: number[]): number {
  const [dx, dy] = [s[2]! - s[0]!, s[3]! - s[1]!];
  return Math.atan2(dy, dx) + Math.PI / 2;
}

function around(s: number[], reach: number): Extent {
  const [x, y] = [(s[0]! + s[2]!) / 2, (s[1]! + s[3]!) / 2];
  return [x - reach, y - reach / 4, x + reach, y + reach / 4];
}

const NOTHING: readonly unknown[] = [];

/** Keeps a layer filled with the features of some data, made anew when it or something else it reads changes. */
function useFill<T>(map: RefObject<Made | undefined>, layer: LayerName, data: T | undefined, make: (data: T) => Feature[], also: readonly unknown[] = NOTHING) {
  const making = useRef(make);
  useEffect(() => {
    making.current = make;
  });
  const key = JSON.stringify(also);
  useEffect(() => {
    const source = map.current?.sources[layer];
    if (!source) return;
    source.clear(true);
    if (data !== undefined) source.addFeatures(making.current(data));
  }, [map, layer, data, key]);
}
