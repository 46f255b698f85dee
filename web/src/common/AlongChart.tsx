/** Values along the road as lines, with handles to drag. Plain data in; it knows no API. */
import { scaleLinear } from "d3-scale";
import { useEffect, useRef, useState } from "react";
import { chainageText } from "../app/chainage";
import { colour } from "../app/theme";

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
  onGo: (chainage: number) => void;
  onDrag?: (index: number, value: number, done: boolean) => void;
  onAdd?: (chainage: number, value: number) => void;
}

const LEFT = 56;

export function AlongChart({ label, unit, decimals, chainage, series, handles = [], limit, at, range, window: shown, onGo, onDrag, onAdd }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 200 });
  const held = useRef<number | null>(null);
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setSize({ width: e!.contentRect.width, height: e!.contentRect.height }));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const [from, to] = shown ?? [chainage[0] ?? 0, chainage.at(-1) ?? 1];
  const inside = (c: number) => c >= from && c <= to;
  const near = handles.filter((h) => inside(h.chainage));
  const known = [...series.flatMap((s) => s.values.filter((v, i): v is number => v !== null && inside(chainage[i]!))), ...near.map((h) => h.value), ...(limit ? [limit, -limit] : [])];
  const [low, high] = known.length ? [Math.min(...known), Math.max(...known)] : [0, 1];
  const room = Math.max((high - low) * 0.08, 0.05);
  const x = scaleLinear([from, to], [LEFT, size.width - 12]);
  const y = scaleLinear([low - room, high + room], [size.height - 20, 24]);
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
  const place = (e: React.PointerEvent | React.MouseEvent): [number, number] => {
    const b = box.current!.getBoundingClientRect();
    return [x.invert(e.clientX - b.left), y.invert(e.clientY - b.top)];
  };
  const rounded = (v: number) => Number(v.toFixed(decimals));
  return (
    <div ref={box} className="along">
      <svg
        width={size.width}
        height={size.height}
        role="img"
        aria-label={label}
        onClick={(e) => held.current === null && onGo(place(e)[0])}
        onDoubleClick={(e) => onAdd?.(Math.round(place(e)[0]), rounded(place(e)[1]))}
        onPointerMove={(e) => held.current !== null && onDrag?.(held.current, rounded(place(e)[1]), false)}
        onPointerUp={(e) => {
          if (held.current !== null) onDrag?.(held.current, rounded(place(e)[1]), true);
          window.setTimeout(() => (held.current = null), 0);
        }}
      >
        <clipPath id={`clip-${label.replace(/\W/g, "")}`}>
          <rect x={LEFT} y={0} width={Math.max(0, size.width - LEFT)} height={size.height} />
        </clipPath>
        {y.ticks(5).map((v) => (
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
        <text x={LEFT + 4} y={14} className="mono">
          {unit}
        </text>
        <g clipPath={`url(#clip-${label.replace(/\W/g, "")})`}>
          {range && <rect x={x(range.from)} width={Math.max(0, x(range.to) - x(range.from))} y={20} height={size.height - 40} fill={colour.saddle500} fillOpacity={0.12} />}
          {limit !== undefined && [limit, -limit].map((v) => <line key={v} x1={LEFT} x2={size.width} y1={y(v)} y2={y(v)} stroke={colour.fault} strokeDasharray="6 3" />)}
          {series.map((s, i) => (
            <path key={i} d={line(s.values)} fill="none" stroke={s.tone} strokeWidth={s.width ?? 1.4} strokeDasharray={s.dash} />
          ))}
          <line x1={x(at)} x2={x(at)} y1={20} y2={size.height - 18} stroke={colour.saddle500} strokeWidth={1.2} />
          {near.length < 400 &&
            handles.map((h, i) =>
              inside(h.chainage) ? (
                <circle
                  key={i}
                  role="button"
                  aria-label={h.label}
                  cx={x(h.chainage)}
                  cy={y(h.value)}
                  r={near.length > 120 ? 2.5 : 4.5}
                  fill={h.firm ? h.tone : colour.white}
                  stroke={h.tone}
                  strokeWidth={1.6}
                  style={{ cursor: onDrag ? "ns-resize" : "default" }}
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
        <g>
          {series.filter((s) => s.name !== "").map((s, i) => (
            <g key={s.name} transform={`translate(${LEFT + 24 + unit.length * 6.4 + i * (size.width > 700 ? 112 : 92)} 11)`}>
              <line x1={0} x2={18} stroke={s.tone} strokeWidth={s.width ?? 1.4} strokeDasharray={s.dash} />
              <text x={23} y={3.5}>
                {s.name}
              </text>
            </g>
          ))}
        </g>
      </svg>
    </div>
  );
}

/** Chainages around a place, for a chart that shows some of the road. */
export function around(at: number, reach: number, start: number, end: number): [number, number] {
  const low = Math.max(start, Math.min(at - reach, end - 2 * reach));
  return [low, Math.min(end, low + 2 * reach)];
}
