/** Values along the road as lines, with handles to drag and layers drawn over them. Plain data in; it knows no API. */
import { type ScaleLinear, scaleLinear } from "d3-scale";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { chainageText } from "../base/chainage";
import { colour } from "../base/theme";
import { nudged } from "./nudge";

export interface Series {
  name: string;
  values: (number | null)[];
  tone: string;
  width?: number;
  dash?: string;
}

export interface HandlePoint {
  chainage: number;
  value: number;
  tone: string;
  label: string;
  /** Filled: it stays where it is when others move. */
  firm?: boolean;
  chosen?: boolean;
}

/** Where chainages and values are drawn, px; top: where the plot begins. */
export interface Scales {
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
  top: number;
  bottom: number;
  left: number;
  right: number;
}

interface Props {
  label: string;
  unit: string;
  decimals: number;
  chainage: number[];
  series: Series[];
  handles?: HandlePoint[];
  /** A limit on either side of zero, drawn across. */
  limit?: number;
  at: number;
  range: { from: number; to: number } | null;
  /** Chainages shown; the whole road without. */
  window?: [number, number];
  /** Heights are drawn so many times larger than lengths; without, as the values fit. Only for values in m. */
  stretch?: number | null;
  /** Drawn over the lines, and px kept free above the plot for it. */
  layers?: (scales: Scales) => ReactNode;
  room?: number;
  /** Buttons at the right of the legend. */
  controls?: ReactNode;
  onGo: (chainage: number) => void;
  /** Escape while something is dragged. */
  onGiveUp?: () => void;
  /** A handle dragged to a value and chainage. */
  onDrag?: (index: number, value: number, done: boolean, chainage: number) => void;
  onAdd?: (chainage: number, value: number) => void;
}

const LEFT = 56;
/** Up to so many handles are reached by Tab one after another; of more the table is quicker. */
const REACHED = 40;

/** Scales of the chart, its size, and what is done with the pointer on it. */
function useAlongChart({
  label,
  unit,
  decimals,
  chainage,
  series,
  handles = [],
  limit,
  at,
  range,
  window: shown,
  stretch,
  layers,
  room = 0,
  controls,
  onGo,
  onGiveUp,
  onDrag,
  onAdd,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 200 });
  const held = useRef<number | null>(null);
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setSize({ width: e!.contentRect.width, height: e!.contentRect.height }));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== "Escape" || held.current === null) return;
      held.current = null;
      onGiveUp?.();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [onGiveUp]);
  const [from, to] = shown ?? [chainage[0] ?? 0, chainage.at(-1) ?? 1];
  const inside = (c: number) => c >= from && c <= to;
  const near = handles.filter((h) => inside(h.chainage));
  const known = [
    ...series.flatMap((s) => s.values.filter((v, i): v is number => v !== null && inside(chainage[i]!))),
    ...near.map((h) => h.value),
    ...(limit ? [limit, -limit] : []),
  ];
  const top = 8 + room;
  const x = scaleLinear([from, to], [LEFT, size.width - 12]);
  const plot = Math.max(10, size.height - 20 - top);
  const perMetre = (size.width - 12 - LEFT) / Math.max(1e-9, to - from);
  const y = scaleLinear(heights(known, stretch ? plot / (perMetre * stretch) : null, valueNear(chainage, series, at)), [size.height - 20, top]);
  const stretched = Math.abs(y(1) - y(0)) / perMetre;
  const line = (values: (number | null)[]) => {
    let pen = "M";
    return values
      .map((v, i) => {
        const c = chainage[i]!;
        if (v === null || c < from - (to - from) || c > to + (to - from)) {
          pen = "M";
          return "";
        }
        const out = `${pen}${x(c).toFixed(1)} ${y(v).toFixed(1)}`;
        pen = "L";
        return out;
      })
      .join("");
  };
  // Dashes that are shorter than the way from point to point say nothing, and cost most of the time that drawing takes.
  const crowded = chainage.filter(inside).length > size.width / 4;
  const stroke = (s: Series) => (s.dash && crowded ? { strokeWidth: 1, strokeOpacity: 0.6 } : { strokeWidth: s.width ?? 1.4, strokeDasharray: s.dash });
  const place = (e: React.PointerEvent | React.MouseEvent): [number, number] => {
    const b = box.current!.getBoundingClientRect();
    return [x.invert(e.clientX - b.left), y.invert(e.clientY - b.top)];
  };
  const rounded = (v: number) => Number(v.toFixed(decimals));
  const drag = (e: React.PointerEvent, done: boolean) => {
    if (held.current === null) return;
    const [c, v] = place(e);
    onDrag?.(held.current, rounded(v), done, Number(c.toFixed(1)));
  };
  const clip = `clip-${label.replace(/\W/g, "")}`;
  return {
    label,
    unit,
    decimals,
    series,
    handles,
    limit,
    at,
    range,
    stretch,
    layers,
    controls,
    onGo,
    onDrag,
    onAdd,
    box,
    size,
    held,
    inside,
    near,
    top,
    x,
    plot,
    y,
    stretched,
    line,
    stroke,
    place,
    rounded,
    drag,
    clip,
  };
}
type AlongChartWork = ReturnType<typeof useAlongChart>;

export function AlongChart(props: Props) {
  const work = useAlongChart(props);
  const {
    label,
    decimals,
    series,
    handles,
    limit,
    at,
    range,
    layers,
    onGo,
    onDrag,
    onAdd,
    box,
    size,
    held,
    inside,
    near,
    top,
    x,
    plot,
    y,
    line,
    stroke,
    place,
    rounded,
    drag,
    clip,
  } = work;
  return (
    <div className="along">
      <ChartHead {...work} />
      <div ref={box} className="along-plot">
        <svg
          width={size.width}
          height={size.height}
          role={onDrag ? "group" : "img"}
          aria-label={label}
          onClick={(e) => held.current === null && onGo(place(e)[0])}
          onDoubleClick={(e) => onAdd?.(Math.round(place(e)[0]), rounded(place(e)[1]))}
          onPointerMove={(e) => drag(e, false)}
          onPointerUp={(e) => {
            drag(e, true);
            window.setTimeout(() => (held.current = null), 0);
          }}
        >
          <clipPath id={clip}>
            <rect x={LEFT} y={0} width={Math.max(0, size.width - LEFT)} height={size.height} />
          </clipPath>
          {y.ticks(Math.max(2, Math.floor(plot / 36))).map((v) => (
            <g key={v}>
              <line x1={LEFT} x2={size.width} y1={y(v)} y2={y(v)} stroke={v === 0 ? colour.tin400 : colour.tin100} />
              <text x={LEFT - 6} y={y(v) + 3.5} textAnchor="end" className="mono">
                {v.toFixed(Math.min(decimals, 2))}
              </text>
            </g>
          ))}
          {x.ticks(Math.max(3, Math.floor(size.width / 130))).map((c) => (
            <text key={c} x={x(c)} y={size.height - 5} textAnchor="middle" className="mono">
              {chainageText(c, 0)}
            </text>
          ))}
          <g clipPath={`url(#${clip})`}>
            {range && (
              <rect
                x={x(range.from)}
                width={Math.max(0, x(range.to) - x(range.from))}
                y={top}
                height={size.height - 20 - top}
                fill={colour.saddle500}
                fillOpacity={0.12}
              />
            )}
            {limit !== undefined &&
              [limit, -limit].map((v) => <line key={v} x1={LEFT} x2={size.width} y1={y(v)} y2={y(v)} stroke={colour.fault} strokeDasharray="6 3" />)}
            {series.map((s, i) => (
              <path key={i} d={line(s.values)} fill="none" stroke={s.tone} {...stroke(s)} />
            ))}
            {layers?.({ x, y, top, bottom: size.height - 20, left: LEFT, right: size.width })}
            <line x1={x(at)} x2={x(at)} y1={top} y2={size.height - 18} stroke={colour.saddle500} strokeWidth={1.2} />
            {near.length < 400 &&
              handles.map((h, i) =>
                inside(h.chainage) ? (
                  <circle
                    key={i}
                    role="button"
                    aria-label={h.label}
                    aria-pressed={h.chosen}
                    cx={x(h.chainage)}
                    cy={y(h.value)}
                    r={near.length > 120 ? 2.5 : h.chosen ? 6 : 4.5}
                    fill={h.firm || h.chosen ? h.tone : colour.white}
                    stroke={h.tone}
                    strokeWidth={1.6}
                    {...(onDrag &&
                      near.length <= REACHED &&
                      nudged((right, up) => onDrag(i, rounded(h.value + up * 10 ** -decimals), true, Number((h.chainage + right).toFixed(1)))))}
                    style={{ cursor: onDrag ? "move" : "default" }}
                    onPointerDown={(e) => {
                      if (!onDrag) return;
                      e.stopPropagation();
                      (e.currentTarget.ownerSVGElement as Element).setPointerCapture(e.pointerId);
                      held.current = i;
                    }}
                  />
                ) : null,
              )}
          </g>
        </svg>
      </div>
    </div>
  );
}

function ChartHead({ unit, series, stretch, controls, stretched, stroke }: AlongChartWork) {
  return (
    <div className="along-head">
      <span className="mono">
        {unit}
        {stretch !== undefined && `, heights ×${stretched < 9.5 ? stretched.toFixed(1) : stretched.toFixed(0)}`}
      </span>
      {series
        .filter((s) => s.name !== "")
        .map((s, i) => (
          <span key={i} className="key">
            <svg width={18} height={8} aria-hidden="true">
              <line x1={0} x2={18} y1={4} y2={4} stroke={s.tone} {...stroke(s)} />
            </svg>
            {s.name}
          </span>
        ))}
      <span className="along-controls">{controls}</span>
    </div>
  );
}

/** The values shown: all known ones with some room, or as many as a stretch leaves, around what is known or the place. */
function heights(known: number[], span: number | null, here: number | null): [number, number] {
  const [low, high] = known.length ? [Math.min(...known), Math.max(...known)] : [0, 1];
  const spare = Math.max((high - low) * 0.08, 0.05);
  if (span === null) return [low - spare, high + spare];
  const middle = high - low > span && here !== null ? here : (low + high) / 2;
  return [middle - span / 2, middle + span / 2];
}

function valueNear(chainage: number[], series: Series[], at: number): number | null {
  const i = chainage.findIndex((c) => c >= at);
  return series.map((s) => s.values[i]).find((v) => v != null) ?? null;
}

/** Chainages around a place, for a chart that shows some of the road. */
export function around(at: number, reach: number, start: number, end: number): [number, number] {
  const low = Math.max(start, Math.min(at - reach, end - 2 * reach));
  return [low, Math.min(end, low + 2 * reach)];
}
