/** A section: existing, design, courses, points. Plain data in; it knows no API. */
import { type ReactNode, useMemo, useState } from "react";
import type { SectionView, SpecOf } from "../api/hooks";
import { chainageText } from "../base/chainage";
import { colour } from "../base/theme";
import { MaterialPatterns } from "./patterns";
import { movedSince } from "./before";
import { useFitting } from "./fitting";
import { MeasureLine, PointNames, SectionLines } from "./lines";
import { useMeasuring } from "./measuring";
import { axis, CrossfallText, DepthMarks, Flag, placedFlags, StructureMark } from "./marks";
import { OtherRoads } from "./roads";
import { labelTiers, levelAt, type Vertex } from "./scale";
import { snapped } from "./snap";
import { STRETCH, stretchOver, UNSTRETCHED } from "./stretch";
import { HeadButtons, Measured, MovedWords, Readout } from "./words";

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
  const { svg, size, base, high, x, y, toPoint, exaggerate, fitAgain } = useFitting({ section, fitTo, look, beginHigh, within });
  const { measuring, marks, measure, mark } = useMeasuring(exaggerate);
  const [pointer, setPointer] = useState<Vertex | null>(null);

  const stretch = useMemo(() => (stretched && section ? stretchOver(section.existing) : UNSTRETCHED), [stretched, section]);
  const line = (points: Vertex[]) =>
    stretch
      .line(points)
      .map(([o, z]) => `${x(o).toFixed(2)},${y(z).toFixed(2)}`)
      .join(" ");
  const down = (o: number, z: number) => y(stretch.level(o, z));
  const moved = useMemo(() => movedSince(before, section), [before, section]);

  const onClick = (e: React.MouseEvent) => {
    if (onPlace) return onPlace(toPoint(e));
    if (!measuring) return;
    const box = svg.current!.getBoundingClientRect();
    const found = snapped(section, [e.clientX - box.left, e.clientY - box.top], ([o, z]) => [x(o), down(o, z)], stretched ? null : toPoint(e));
    if (found) mark(found);
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
        <SectionLines
          section={section}
          designs={designs}
          others={others}
          before={moved ? before?.design : undefined}
          bands={bands}
          line={line}
          x={x}
          y={y}
          onPick={onPick}
        />
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
        {!overlay && <PointNames labels={labels} />}
        {section?.hinge && <CrossfallText section={section} x={x} at={down} />}
        {overlay?.({ x, y, toPoint, height: size.height })}
        {a && <MeasureLine a={a} b={b} to={([o, z]) => [x(o), down(o, z)]} />}
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
