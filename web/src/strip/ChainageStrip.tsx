/** The whole road in thin tracks. Drag to move along it, Shift+drag to mark a range. */
import { memo, useEffect, useMemo, useRef, useState } from "react";
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { useDocument, useDocumentsOf, useSummary } from "../api/hooks";
import { usePreviewedAlong } from "../api/preview";
import { chainageText } from "../base/chainage";
import { nearestSection } from "../base/nearest";
import { usePlace } from "../base/place";
import { stepping } from "../base/stepping";
import { bandColours, colour, rungColour } from "../base/theme";
import { Bar, type Scale } from "./Bar";
import { RangeBar } from "./RangeBar";
import { TreatmentTrack } from "./TreatmentTrack";
import { isOpen } from "../common/Problems";
import { useStable } from "../common/stable";

const LEFT = 148;
const RIGHT = 22;
/** Height of a row that only some roads have: their medians. */
const ROW = 15;
export function bandOf(depth: number, limits: number[]): number {
  const found = limits.findIndex((limit) => depth < limit - 1e-9);
  return found === -1 ? limits.length : found;
}

export function ChainageStrip() {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1280);
  const drag = useRef<{ from: number; marking: boolean } | null>(null);
  const summary = useSummary().data!;
  const place = usePlace();
  const { start, end, chainage, side } = summary;
  const more = ROW * summary.medians.length;

  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);

  const x = useMemo(() => scaleLinear([start, end], [LEFT, width - RIGHT]), [start, end, width]);
  const chainageAt = (e: React.PointerEvent) => {
    const raw = x.invert(e.clientX - box.current!.getBoundingClientRect().left);
    return Math.min(end, Math.max(start, raw));
  };
  /** Ends of ranges stick to sections nearby, and to whole metres otherwise. */
  const snapped = (c: number) => {
    const near = chainage[nearestSection(chainage, side, c, 0)] ?? c;
    return Math.abs(x(near) - x(c)) < 5 ? near : Math.round(c);
  };
  const onDown = (e: React.PointerEvent<SVGSVGElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    const c = chainageAt(e);
    drag.current = { from: snapped(c), marking: e.shiftKey };
    if (!e.shiftKey) place.goTo(nearestSection(chainage, side, c, 0));
  };
  const onMove = (e: React.PointerEvent) => {
    if (!drag.current) return;
    const c = chainageAt(e);
    if (!drag.current.marking) return place.goTo(nearestSection(chainage, side, c, 0));
    const to = snapped(c);
    const [low, high] = [Math.min(drag.current.from, to), Math.max(drag.current.from, to)];
    if (high > low) place.mark({ from: low, to: high });
  };
  /** Where it is let go counts, moved there or not. */
  const onUp = (e: React.PointerEvent) => {
    onMove(e);
    drag.current = null;
  };

  const onWheel = (e: React.WheelEvent) => {
    const by = e.deltaY || e.deltaX;
    if (by !== 0) place.step(Math.sign(by) * (e.shiftKey ? 10 : 1));
  };
  const snappedAt = useStable((e: React.PointerEvent) => snapped(chainageAt(e)));
  return (
    <div className="strip" ref={box} role="region" aria-label="Chainage strip">
      {place.range ? (
        <RangeBar range={place.range} />
      ) : (
        <button type="button" className="strip-range" title="Begin a range at the section in view: R" onClick={() => stepping.range()}>
          Range
        </button>
      )}
      <svg style={{ height: 96 + more }} onPointerDown={onDown} onPointerMove={onMove} onPointerUp={onUp} onWheel={onWheel}>
        {/* Behind all that can be taken hold of by itself. */}
        <rect
          role="slider"
          tabIndex={0}
          aria-label="Chainage"
          aria-valuemin={start}
          aria-valuemax={end}
          aria-valuenow={place.chainage}
          aria-valuetext={chainageText(place.chainage)}
          width="100%"
          height="100%"
          fill="transparent"
          onKeyDown={(e) => {
            const ten = e.shiftKey ? 10 : 1;
            const by: Record<string, number> = { ArrowRight: ten, ArrowLeft: -ten, Home: -chainage.length, End: chainage.length };
            if (e.key in by) {
              e.preventDefault();
              place.step(by[e.key]!);
            }
          }}
        />
        <Tracks x={x} width={width} summary={summary} chainageAt={snappedAt} />
        {place.range && (
          <rect
            x={x(place.range.from)}
            width={x(place.range.to) - x(place.range.from)}
            y={1}
            height={94 + more}
            fill={colour.saddle500}
            fillOpacity={0.28}
            stroke={colour.saddle300}
            pointerEvents="none"
          />
        )}
        <line x1={x(place.chainage)} x2={x(place.chainage)} y1={0} y2={96 + more} stroke={colour.white} strokeWidth={1.4} pointerEvents="none" />
        <path d={`M${x(place.chainage) - 6} 0h12l-6 7z`} fill={colour.white} />
      </svg>
    </div>
  );
}

interface TracksProps {
  x: Scale & { ticks: (count: number) => number[] };
  width: number;
  summary: Schemas["Summary"];
  chainageAt: (e: React.PointerEvent) => number;
}

/** All that stays as it is while one steps along the road. */
const Tracks = memo(function Tracks({ x, width, summary, chainageAt }: TracksProps) {
  const templateRanges = useDocument("template_plan")?.spec.ranges ?? [];
  const templates = useDocumentsOf("template");
  const { start, end } = summary;
  const more = ROW * summary.medians.length;
  const ticks = x.ticks(Math.max(4, Math.floor(width / 130)));
  return (
    <>
      {["curves", "treatment", "template", ...summary.medians.map((m) => (summary.medians.length > 1 ? `median ${m.side}` : "median"))].map((name, i) => (
        <text key={name} x={LEFT - 10} y={[16, 34][i] ?? 50 + ROW * (i - 2)} textAnchor="end">
          {name}
        </text>
      ))}
      {["depth", "sections"].map((name, i) => (
        <text key={name} x={LEFT - 10} y={[74, 91][i]! + more} textAnchor="end">
          {name}
        </text>
      ))}
      {summary.medians.map((m, k) => (
        <Shapes key={`${m.side} ${m.name}`} x={x} y={56 + ROW * k} chainage={summary.chainage} median={m} />
      ))}
      <path d={curvePath(summary.curves, x)} fill={colour.tin400} />
      <line x1={LEFT} x2={width - RIGHT} y1={12} y2={12} stroke={colour.tin600} />
      <TreatmentTrack x={x} start={start} end={end} chainageAt={chainageAt} />
      {templateRanges.map((t) => (
        <Bar
          key={t.from_chainage}
          x={x}
          from={t.from_chainage}
          to={t.to_chainage}
          y={41}
          height={13}
          text={templates.find((d) => d.key === t.template)?.spec.name ?? t.template}
          fill="none"
          stroke={colour.tin400}
        />
      ))}
      {(["left", "right"] as const).map((which, k) => (
        <Rungs key={which} side={which} x={x} y={55.5 + 2.6 * k + more} summary={summary} />
      ))}
      <g transform={`translate(0 ${more})`}>
        <Depth x={x} summary={summary} />
      </g>
      {summary.problems.filter(isOpen).map((p, i) => (
        <circle
          key={i}
          cx={x((p.chainage_from + p.chainage_to) / 2)}
          cy={64.5 + more}
          r={3}
          fill={p.severity === "fault" ? colour.fault : colour.saddle300}
          stroke={colour.tin950}
        >
          <title>{`${chainageText(p.chainage_from)} ${p.message}`}</title>
        </circle>
      ))}
      {ticks.map((c) => (
        <text key={c} x={Math.min(Math.max(x(c), LEFT + 16), width - RIGHT - 14)} y={94 + more} textAnchor="middle" className="mono">
          {chainageText(c, 0)}
        </text>
      ))}
    </>
  );
});

/** The overlay's depth, greatest in bands and least as a line, and where sections stand. Paler where it has not yet followed what is on the screen. */
function Depth({ x, summary }: { x: Scale; summary: Schemas["Summary"] }) {
  const { along, behind } = usePreviewedAlong();
  const { chainage, side, greatest, least } = along ?? summary;
  const limits = summary.band_limits;
  const deepest = Math.max(0.1, ...greatest.map((v) => v ?? 0));
  /** One path a band, however long the road is. */
  const bands = bandColours.map(() => "");
  chainage.slice(0, -1).forEach((c, i) => {
    const [a, b] = [greatest[i], greatest[i + 1]];
    if (a == null || b == null || chainage[i + 1]! - c < 0.002) return;
    const mean = (a + b) / 2;
    bands[bandOf(mean, limits)] += `M${x(c).toFixed(1)} 80V${(80 - (18 * mean) / deepest).toFixed(1)}H${(x(chainage[i + 1]!) + 0.3).toFixed(1)}V80Z`;
  });
  return (
    <g opacity={behind ? 0.55 : 1} aria-busy={behind}>
      {bands.map((d, band) => (
        <path key={band} d={d} fill={bandColours[band]} />
      ))}
      <path d={leastLine(chainage, least, deepest, x)} stroke={colour.tin950} fill="none" strokeWidth={1} />
      <path d={chainage.map((c, i) => `M${x(c).toFixed(1)} 82V${side[i] ? 88 : 85}`).join("")} stroke={colour.tin400} strokeWidth={0.6} />
    </g>
  );
}

/** Stretches over which the same is taken, number by number of the sections; less than 0 for nothing. */
function runsOf(chainage: number[], taken: number[]): { from: number; to: number; which: number }[] {
  const runs: { from: number; to: number; which: number }[] = [];
  for (let i = 0; i + 1 < chainage.length; i++) {
    const which = taken[i]!;
    const last = runs.at(-1);
    if (chainage[i + 1]! - chainage[i]! < 0.002 || which < 0) continue;
    if (last && last.which === which && last.to === chainage[i]) last.to = chainage[i + 1]!;
    else runs.push({ from: chainage[i]!, to: chainage[i + 1]!, which });
  }
  return runs;
}

/** Which rung each side slope takes, as a thin coloured line; the left one above the right. */
function Rungs({ side, x, y, summary }: { side: "left" | "right"; x: Scale; y: number; summary: Schemas["Summary"] }) {
  const runs = runsOf(summary.chainage, side === "left" ? summary.left_rung : summary.right_rung);
  return (
    <g role="img" aria-label={`Slope ladder ${side}`}>
      {runs.map((r) => (
        <rect key={r.from} x={x(r.from)} width={x(r.to) - x(r.from)} y={y} height={2} fill={rungColour(r.which)}>
          <title>{`${side}: ${summary.rungs[r.which]}, ${chainageText(r.from)} to ${chainageText(r.to)}`}</title>
        </rect>
      ))}
    </g>
  );
}

/** Which shape a median takes along the road. */
function Shapes({ x, y, chainage, median }: { x: Scale; y: number; chainage: number[]; median: Schemas["MedianUseOut"] }) {
  return (
    <g role="img" aria-label={`Shapes of ${median.name}, ${median.side}`}>
      {runsOf(chainage, median.shape).map((r) => (
        <Bar key={r.from} x={x} from={r.from} to={r.to} y={y} height={13} dark text={median.shapes[r.which]!.name} fill={rungColour(r.which + 2)} />
      ))}
    </g>
  );
}

/** Curvature as shapes: above the line turning right, below it turning left, sloped on transitions. */
function curvePath(curves: Schemas["Curve"][], x: Scale): string {
  const most = Math.max(1 / 2000, ...curves.flatMap((c) => [Math.abs(c.first), Math.abs(c.last)]));
  return curves.map((c) => `M${x(c.start)} 12V${12 - (8 * c.first) / most}L${x(c.end)} ${12 - (8 * c.last) / most}V12Z`).join("");
}

function leastLine(chainage: number[], least: (number | null)[], deepest: number, x: Scale): string {
  let pen = "M";
  return chainage
    .map((c, i) => {
      const v = least[i];
      if (v == null) {
        pen = "M";
        return "";
      }
      const out = `${pen}${x(c)} ${80 - (18 * Math.max(0, v)) / deepest}`;
      pen = "L";
      return out;
    })
    .join("");
}
