/** A section: existing, design, courses, points. Plain data in; it knows no API. */
import { Button, Tooltip } from "antd";
import { zoom, zoomIdentity, type D3ZoomEvent, type ZoomBehavior, type ZoomTransform } from "d3-zoom";
import { select } from "d3-selection";
import { memo, type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { SectionView, SpecOf } from "../api/hooks";
import { chainageText } from "../base/chainage";
import { bandColours, colour } from "../base/theme";
import { signed } from "../common/signed";
import { MaterialPatterns, patternId } from "./patterns";
import { type Moved, movedSince } from "./before";
import { axis, CrossfallText, DepthMarks, earthTicks, Flag, placedFlags, StructureMark } from "./marks";
import { OtherRoads } from "./roads";
import { fitted, labelTiers, levelAt, type Vertex } from "./scale";
import { type Mark, snapped } from "./snap";
import { STRETCH, stretchOver, UNSTRETCHED } from "./stretch";
import { EXAGGERATIONS, firstHigh, heldOf, holds, keepLook, lookOf, stillFitted, useLook, zoomOf } from "./view";

/** Lines of other surfaces, in turn. */
const OTHER_TONES = [colour.sound, colour.caution, colour.saddle700];
const OTHER_DASHES = ["10 4", "4 4", "12 3 2 3"];

/** From offset and level to the screen, and from the pointer back. */
export interface DrawingScale {
  x: (offset: number) => number;
  y: (level: number) => number;
  toPoint: (e: React.PointerEvent | React.MouseEvent) => Vertex;
  height: number;
}

interface Props {
  section: SectionView | undefined;
  materials: { key: string; spec: SpecOf<"material"> }[];
  about?: ReactNode;
  controls?: ReactNode;
  /** Shown in place of the section's chainage. */
  title?: ReactNode;
  /** Drawn over the section in place of its own labels; what carries data-grab is not panned by. */
  overlay?: (scale: DrawingScale) => ReactNode;
  /** One of many: without the controls in its head. */
  plain?: boolean;
  /** What is fitted into the box stays as it is until this changes. */
  fitTo?: unknown;
  /** Keeps exaggeration, zoom and scale under this name, and the hinge still from section to section. */
  look?: string;
  /** Exaggeration to begin with. */
  beginHigh?: number;
  /** Offsets to fit into the box, in place of the design. */
  within?: [number, number];
  /** What crosses the section, drawn as flags. */
  flags?: { name: string; offset: number; level: number | null }[];
  /** The finished surface in runs, where something between is not known; in place of the section's own. */
  designs?: Vertex[][];
  /** Other surfaces by name, each in a line of its own. */
  others?: Record<string, Vertex[][]>;
  /** The section before the last change, a line behind, with what moved in mm. */
  before?: SectionView;
  /** The overlay drawn many times as high above the old surface. */
  stretched?: boolean;
  /** The overlay coloured by its bands of depth, over the courses. */
  bands?: boolean;
  onPick?: (layer: SectionView["layers"][number]) => void;
  /** A click anywhere, while something is being placed. */
  onPlace?: (at: Vertex) => void;
}

/** One of many that is lower than this shows no labels, px. */
const LABELLED = 250;
/** Before the box is known. */
const UNMEASURED = { width: 800, height: 300 };

export function SectionDrawing({
  section,
  materials,
  about,
  controls,
  title,
  overlay,
  plain,
  fitTo,
  look,
  beginHigh = 1,
  within,
  flags,
  designs = section && [section.design],
  others,
  before,
  stretched,
  bands,
  onPick,
  onPlace,
}: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown>>(undefined);
  const [size, setSize] = useState(UNMEASURED);
  const kept = useLook(look);
  const [view, setView] = useState<ZoomTransform>(() => zoomOf(kept));
  const [ownHigh, setOwnHigh] = useState(beginHigh);
  const [pointer, setPointer] = useState<Vertex | null>(null);
  const [measuring, setMeasuring] = useState(false);
  const [marks, setMarks] = useState<Mark[]>([]);

  const now = useMemo(() => ({ to: fitTo, section, within }), [fitTo, section, within]);
  const [held, setHeld] = useState(now);
  const stale = fitTo !== undefined && (held.to !== fitTo || (!held.section && section !== undefined));
  if (stale) setHeld(now);
  const fit = fitTo === undefined || stale ? now : held;
  const high = look ? kept.high || firstHigh(section, size) : ownHigh;
  const base = useMemo(() => (look ? stillFitted(fit.section, size, high, kept) : fitted(fit.section, size, high, fit.within)), [look, fit, size, high, kept]);
  // The first section that is fitted into such a box gives the scale of those after it, and of those beside it.
  const unheld = look !== undefined && size !== UNMEASURED && section !== undefined && !holds(kept, size);
  useEffect(() => {
    if (!unheld || holds(lookOf(look), size)) return;
    const held = heldOf(section, base, size);
    if (held.scale !== null) keepLook(look, held);
  }, [unheld, look, section, base, size]);
  const nextHigh = () => {
    const next = EXAGGERATIONS[(EXAGGERATIONS.indexOf(high) + 1) % EXAGGERATIONS.length]!;
    if (look) keepLook(look, { high: next, scale: null });
    else setOwnHigh(next);
  };
  const onX = useRef(nextHigh);
  useEffect(() => {
    onX.current = nextHigh;
  });
  const exaggerate = useCallback(() => onX.current(), []);
  const measure = useCallback(() => {
    setMeasuring((m) => !m);
    setMarks([]);
  }, []);
  const fitAgain = useCallback(() => {
    if (svg.current) behaviour.current?.transform(select(svg.current), zoomIdentity);
    // The scale of the sections is found anew too: another road may lie beside this one now.
    if (look) keepLook(look, { scale: null });
  }, [look]);
  const x = useCallback((o: number) => view.applyX(base.left + (o - base.offset) * base.scale), [view, base]);
  const y = useCallback((z: number) => view.applyY(base.middle - (z - base.level) * base.scale * high), [view, base, high]);
  const stretch = useMemo(() => (stretched && section ? stretchOver(section.existing) : UNSTRETCHED), [stretched, section]);
  const line = (points: Vertex[]) =>
    stretch
      .line(points)
      .map(([o, z]) => `${x(o).toFixed(2)},${y(z).toFixed(2)}`)
      .join(" ");
  const down = (o: number, z: number) => y(stretch.level(o, z));
  const moved = useMemo(() => movedSince(before, section), [before, section]);

  useEffect(() => {
    const node = svg.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setSize({ width: node.clientWidth || 800, height: node.clientHeight || 300 }));
    watch.observe(node);
    const z = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.2, 400])
      .filter((e: MouseEvent) => !e.button && !(e.target as Element).closest("[data-grab]"))
      .on("zoom", (e: D3ZoomEvent<SVGSVGElement, unknown>) => {
        setView(e.transform);
        keepLook(look, { zoom: { k: e.transform.k, x: e.transform.x, y: e.transform.y } });
      });
    behaviour.current = z;
    const drawn = select(node);
    drawn.call(z).on("dblclick.zoom", null);
    if (look) z.transform(drawn, zoomOf(lookOf(look)));
    drawn.on("dblclick", () => z.transform(drawn, zoomIdentity));
    return () => {
      watch.disconnect();
      drawn.on(".zoom", null).on("dblclick", null);
    };
  }, [look]);

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input, textarea, [role=combobox], .ant-modal") || e.ctrlKey || e.metaKey) return;
      if (e.key === "x" || e.key === "X") onX.current();
      if (e.key === "m" || e.key === "M") setMeasuring((m) => !m);
      if (e.key === "Escape" && measuring) {
        setMarks([]);
        setMeasuring(false);
        e.stopPropagation(); // measuring ends first, the marked range is dropped by the next one
      }
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [measuring]);

  const toPoint = (e: React.PointerEvent | React.MouseEvent): Vertex => {
    const box = svg.current!.getBoundingClientRect();
    const [px, py] = view.invert([e.clientX - box.left, e.clientY - box.top]);
    return [base.offset + (px - base.left) / base.scale, base.level - (py - base.middle) / (base.scale * high)];
  };
  const onClick = (e: React.MouseEvent) => {
    if (onPlace) return onPlace(toPoint(e));
    if (!measuring) return;
    const box = svg.current!.getBoundingClientRect();
    const mark = snapped(section, [e.clientX - box.left, e.clientY - box.top], ([o, z]) => [x(o), down(o, z)], stretched ? null : toPoint(e));
    if (mark) setMarks((m) => (m.length === 2 ? [mark] : [...m, mark]));
  };

  const ticks = useMemo(() => axis((o) => x(o), size.width), [x, size.width]);
  const labels = section && !(plain && size.height < LABELLED) ? labelTiers(section, x, down) : [];
  const depth = section?.depth;
  const short = depth && section.least_cover !== null && depth.least < section.least_cover - 1e-6;
  const [a, b] = marks;
  return (
    <div className={`section${measuring || onPlace ? " measuring" : ""}`}>
      <svg
        ref={svg}
        role={overlay ? "group" : "img"}
        aria-label={typeof title === "string" ? title : section ? `Section at ${chainageText(section.chainage)}` : "Section"}
        onPointerMove={(e) => setPointer(toPoint(e))}
        onPointerLeave={() => setPointer(null)}
        onClick={onClick}
      >
        <MaterialPatterns materials={materials} />
        <g stroke={colour.tin100}>
          {ticks.map((o) => (
            <line key={o} x1={x(o)} x2={x(o)} y1={34} y2={size.height - 18} />
          ))}
        </g>
        {ticks.map((o) => (
          <text key={o} x={x(o)} y={size.height - 6} textAnchor="middle" className="mono">
            {o > 0 ? `+${o}` : String(o).replace("-", "−")}
          </text>
        ))}
        {section && <OtherRoads roads={section.roads} line={line} x={x} down={down} named={!overlay && !(plain && size.height < LABELLED)} />}
        {section?.layers.map((layer, i) => (
          <polygon
            key={i}
            points={line(layer.polygon)}
            fill={`url(#${patternId(layer.material)})`}
            stroke={colour.tin950}
            strokeWidth={0.6}
            onClick={() => onPick?.(layer)}
          >
            <title>{`${layer.name}, ${layer.element} ${layer.side}: ${layer.area.toFixed(3)} m²`}</title>
          </polygon>
        ))}
        {bands &&
          section?.bands.map((b, i) => (
            <polygon key={`band ${i}`} points={line(b.polygon)} fill={bandColours[b.band]} stroke={bandColours[b.band]} strokeWidth={0.6} />
          ))}
        {section?.existing.map((run, i) => (
          <g key={i} fill="none" stroke={colour.tin600}>
            <polyline points={line(run)} strokeWidth={1.4} />
            <path d={earthTicks(run, x, y)} strokeWidth={0.8} />
          </g>
        ))}
        {Object.entries(others ?? {}).map(([name, runs], i) =>
          runs.map((run, k) => (
            <polyline
              key={`${name} ${k}`}
              points={line(run)}
              fill="none"
              stroke={OTHER_TONES[i % OTHER_TONES.length]}
              strokeWidth={1.4}
              strokeDasharray={OTHER_DASHES[i % OTHER_DASHES.length]}
            >
              <title>{name}</title>
            </polyline>
          )),
        )}
        {section?.milled.map((run, i) => (
          <polyline key={`milled ${i}`} points={line(run)} fill="none" stroke={colour.tin600} strokeWidth={1.4} strokeDasharray="6 3">
            <title>Milled surface</title>
          </polyline>
        ))}
        {moved && before && (
          <polyline points={line(before.design)} fill="none" stroke={colour.saddle500} strokeWidth={1.6} strokeDasharray="3 3">
            <title>Before the last change</title>
          </polyline>
        )}
        {designs?.map((run, i) => (
          <polyline key={`design ${i}`} points={line(run)} fill="none" stroke={colour.tin950} strokeWidth={1.8} />
        ))}
        {section?.floors.map((f) => (
          <polyline key={`${f.side} ${f.name}`} points={line(f.line)} fill="none" stroke={colour.short} strokeWidth={1.4} strokeDasharray="5 2">
            <title>{`Floor ${f.name}, ${f.side}`}</title>
          </polyline>
        ))}
        {section?.structures.map((s, i) => (
          <StructureMark key={i} s={s} x={x} y={y} width={size.width} />
        ))}
        {placedFlags(
          (flags ?? []).map((f) => ({ name: f.name, x: x(f.offset), foot: y(f.level ?? (section && levelAt(section.existing, f.offset)) ?? base.level) })),
          labels,
          size,
        ).map((f, i) => (
          <Flag key={i} flag={f} />
        ))}
        {section?.slopes.map((s) => s.catch && <circle key={s.side} cx={x(s.catch[0])} cy={y(s.catch[1])} r={3.5} fill={colour.sound} />)}
        {section && depth && <DepthMarks section={section} x={x} at={down} short={Boolean(short)} />}
        {!overlay &&
          labels.map((l) => (
            <g key={l.key}>
              <line x1={l.x} x2={l.x} y1={l.y - 4} y2={l.labelY + 3} stroke={colour.tin400} strokeWidth={0.7} />
              <rect x={l.x - 3} y={l.y - 3} width={6} height={6} fill={colour.white} stroke={colour.tin950} />
              <text x={l.x} y={l.labelY - 11} textAnchor="middle" fontWeight={600}>
                {l.name}
              </text>
              <text x={l.x} y={l.labelY} textAnchor="middle" className="mono">
                {l.level.toFixed(3)}
              </text>
            </g>
          ))}
        {section?.hinge && <CrossfallText section={section} x={x} at={down} />}
        {/* eslint-disable-next-line react-hooks/refs -- toPoint reads where the drawing stands when a pointer moves, not while rendering */}
        {overlay?.({ x, y, toPoint, height: size.height })}
        {a && (
          <g stroke={colour.saddle500} fill={colour.saddle500}>
            <circle cx={x(a.at[0])} cy={down(...a.at)} r={3.5} />
            {b && <line x1={x(a.at[0])} y1={down(...a.at)} x2={x(b.at[0])} y2={down(...b.at)} strokeDasharray="4 3" />}
            {b && <circle cx={x(b.at[0])} cy={down(...b.at)} r={3.5} />}
          </g>
        )}
      </svg>
      <div className="head">
        <h3>{title ?? (section ? `Section ${chainageText(section.chainage)}` : "Section")}</h3>
        {stretched && <span className="badge">overlay ×{STRETCH} above the old surface</span>}
        <span className="quiet about">{about}</span>
        <span className="room" />
        {controls}
        {!plain && <HeadButtons high={high} measuring={measuring} exaggerate={exaggerate} measure={measure} fit={fitAgain} />}
      </div>
      <div className="readout" aria-live="off">
        {a && b ? (
          <Measured a={a} b={b} />
        ) : measuring && !a ? (
          "Click two points to measure; points, corners and lines nearby are taken"
        ) : pointer ? (
          <Readout at={pointer} section={section} designs={designs} before={before} stretched={stretched} />
        ) : moved ? (
          <MovedWords moved={moved} />
        ) : null}
      </div>
    </div>
  );
}

interface HeadProps {
  high: number;
  measuring: boolean;
  exaggerate: () => void;
  measure: () => void;
  fit: () => void;
}

/** Not rendered anew at every picture while something is dragged. */
const HeadButtons = memo(function HeadButtons({ high, measuring, exaggerate, measure, fit }: HeadProps) {
  return (
    <>
      <Tooltip title="Exaggerate heights (X)">
        <Button size="small" aria-label={`Exaggeration: ×${high} high`} onClick={exaggerate}>
          ×{high} high
        </Button>
      </Tooltip>
      <Tooltip title="Measure between two points (M)">
        <Button size="small" type={measuring ? "primary" : "default"} aria-pressed={measuring} onClick={measure}>
          Measure
        </Button>
      </Tooltip>
      <Button size="small" onClick={fit}>
        Fit
      </Button>
    </>
  );
});

interface ReadoutProps {
  at: Vertex;
  section: SectionView | undefined;
  designs: Vertex[][] | undefined;
  before: SectionView | undefined;
  stretched: boolean | undefined;
}

function Readout({ at, section, designs, before, stretched }: ReadoutProps) {
  const existing = section ? levelAt(section.existing, at[0]) : null;
  const design = designs ? levelAt(designs, at[0]) : null;
  const earlier = before ? levelAt([before.design], at[0]) : null;
  const by = design !== null && earlier !== null ? 1000 * (design - earlier) : 0;
  return (
    <>
      {signed(at[0], 3)} m{!stretched && `, level ${at[1].toFixed(3)}`}
      {existing !== null && ` · existing ${existing.toFixed(3)}`}
      {design !== null && ` · design ${design.toFixed(3)}`}
      {existing !== null && design !== null && ` · ${signed(1000 * (design - existing), 0)} mm`}
      {Math.abs(by) >= 0.05 && ` · before ${earlier!.toFixed(3)}, ${signed(by, Math.abs(by) < 1 ? 1 : 0)} mm`}
    </>
  );
}

function MovedWords({ moved }: { moved: Moved }) {
  const mm = (v: number) => `${signed(1000 * v, 0)} mm`;
  return (
    <span role="status" aria-label="Since the last change">
      since the last change: {moved.hinge !== null && `hinge ${mm(moved.hinge)}, `}
      {moved.least < -5e-5 && moved.greatest > 5e-5
        ? `${mm(moved.least)} to ${mm(moved.greatest)}`
        : `up to ${mm(moved.greatest > -moved.least ? moved.greatest : moved.least)}`}
    </span>
  );
}

function Measured({ a, b }: { a: Mark; b: Mark }) {
  const across = b.at[0] - a.at[0];
  const up = b.at[1] - a.at[1];
  const ratio = up !== 0 ? Math.abs(across / up) : Infinity;
  return (
    <span role="status" aria-label="Measured">
      {(a.name || b.name) && `${a.name || "place"} to ${b.name || "place"}: `}across {signed(across, 3)} m, up {signed(up, 3)} m
      {across !== 0 && `, ${signed((100 * up) / Math.abs(across), 2)} %`}
      {Number.isFinite(ratio) && `, 1 in ${ratio.toFixed(2)}`}
    </span>
  );
}
