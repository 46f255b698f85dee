/** The straightened diagram: chainage against offset. Joints of the chosen guide's pieces are dragged in it. */
import { scaleLinear } from "d3-scale";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { chainageText } from "../../base/chainage";
import { colour } from "../../base/theme";
import { nudged } from "../../common/nudge";
import { signed } from "../../common/signed";

interface Props {
  diagram: Schemas["Diagram"] | undefined;
  /** What template points get: offsets over the sections' chainages. */
  followed: { name: string; chainage: number[]; offset: (number | null)[] }[];
  joints: { chainage: number; offset: number }[] | null;
  chosen: string | null;
  window: [number, number];
  current: number;
  onDrag: (joint: number, chainage: number, offset: number, done: boolean) => void;
  onStep: (chainage: number) => void;
  onChoose: (key: string) => void;
}

const LEFT = 42;

/** Scales of the diagram and its drag. */
function useDiagram({ diagram, followed, joints, chosen, window: shown, current, onDrag, onStep, onChoose }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 180 });
  const drag = useRef<number | null>(null);
  /** The click that ends a drag is not one on the road. */
  const dragged = useRef(false);
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setSize({ width: e!.contentRect.width, height: e!.contentRect.height }));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const [low, high] = shown;
  const reach = useMemo(() => {
    const inside = (chainage: number[], offset: (number | null)[]) =>
      offset.filter((o, i): o is number => o !== null && chainage[i]! >= low && chainage[i]! <= high);
    const all = (diagram?.guides ?? []).flatMap((g) => inside(g.chainage, g.offset)).filter((o) => Math.abs(o) < 30);
    return Math.max(6, ...all.map(Math.abs), ...(joints ?? []).map((j) => Math.abs(j.offset))) + 1;
  }, [diagram, joints, low, high]);
  const x = scaleLinear([low, high], [LEFT, size.width - 8]);
  // Left of the road lies above, as seen looking up-chainage turned to the right.
  const y = scaleLinear([-reach, reach], [16, size.height - 16]);
  const path = (chainage: number[], offset: (number | null)[]) => {
    let pen = "M";
    let out = "";
    chainage.forEach((c, i) => {
      const o = offset[i];
      if (o == null || c < low - 50 || c > high + 50 || Math.abs(o) > 3 * reach) {
        pen = "M";
        return;
      }
      out += `${pen}${x(c).toFixed(1)} ${y(o).toFixed(1)}`;
      pen = "L";
    });
    return out;
  };
  const at = (e: React.PointerEvent | React.MouseEvent): [number, number] => {
    const b = box.current!.getBoundingClientRect();
    return [x.invert(e.clientX - b.left), y.invert(e.clientY - b.top)];
  };
  /** Offsets grow upward or downward. */
  const upward = Math.sign(y.invert(0) - y.invert(1));
  const rounded = ([c, o]: [number, number]): [number, number] => [Math.round(c * 2) / 2, Math.round(o * 20) / 20];
  /** A joint is taken into the hand. */
  const take = (i: number) => {
    drag.current = i;
  };
  const pointer = {
    onPointerDown: () => {
      dragged.current = false;
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (drag.current !== null) onDrag(drag.current, ...rounded(at(e)), false);
    },
    onPointerUp: (e: React.PointerEvent) => {
      if (drag.current === null) return;
      onDrag(drag.current, ...rounded(at(e)), true);
      drag.current = null;
      dragged.current = true;
    },
    onClick: (e: React.MouseEvent) => {
      const pointed = (e.target as Element).tagName === "svg" && !dragged.current;
      dragged.current = false;
      if (pointed) onStep(at(e)[0]);
    },
  };
  return { diagram, followed, joints, chosen, current, onDrag, onChoose, box, size, take, pointer, x, y, path, upward, rounded };
}

export function Diagram(props: Props) {
  const { diagram, followed, joints, chosen, current, onDrag, onChoose, box, size, take, pointer, x, y, path, upward, rounded } = useDiagram(props);
  return (
    <div ref={box} style={{ height: "100%", background: "var(--white)", touchAction: "none" }}>
      <svg width={size.width} height={size.height} role={joints?.length ? "group" : "img"} aria-label="Straightened diagram" {...pointer}>
        {y.ticks(6).map((o) => (
          <g key={o}>
            <line
              x1={LEFT}
              x2={size.width}
              y1={y(o)}
              y2={y(o)}
              stroke={o === 0 ? colour.saddle500 : colour.tin100}
              strokeWidth={o === 0 ? 1.4 : 1}
              pointerEvents="none"
            />
            <text x={LEFT - 6} y={y(o) + 3.5} textAnchor="end" className="mono" fontSize={10} fill={colour.tin600}>
              {o === 0 ? "0" : signed(o, 0)}
            </text>
          </g>
        ))}
        {x.ticks(Math.max(3, Math.floor(size.width / 110))).map((c) => (
          <text key={c} x={x(c)} y={size.height - 3} textAnchor="middle" className="mono" fontSize={10} fill={colour.tin600} pointerEvents="none">
            {chainageText(c, 0)}
          </text>
        ))}
        <clipPath id="diagram-room">
          <rect x={LEFT} y={0} width={Math.max(0, size.width - LEFT)} height={size.height - 14} />
        </clipPath>
        <g clipPath="url(#diagram-room)" fill="none" pointerEvents="none">
          {diagram?.surveyed.map((l) => (
            <path key={`${l.code} ${l.name}`} d={path(l.chainage, l.offset)} stroke={colour.tin400} strokeWidth={0.7} />
          ))}
        </g>
        <line x1={x(current)} x2={x(current)} y1={0} y2={size.height - 14} stroke={colour.saddle500} strokeDasharray="4 3" pointerEvents="none" />
        {diagram?.guides.map((g) => (
          <g key={g.key} fill="none" clipPath="url(#diagram-room)">
            <path
              d={path(g.chainage, g.offset)}
              stroke={g.key === chosen ? colour.saddle500 : colour.saddle700}
              strokeWidth={g.key === chosen ? 2.4 : 1.4}
              strokeDasharray={g.key === chosen ? undefined : "6 3"}
              pointerEvents="none"
            />
            <path d={path(g.chainage, g.offset)} stroke="transparent" strokeWidth={9} style={{ cursor: "pointer" }} onClick={() => onChoose(g.key)} />
          </g>
        ))}
        <g clipPath="url(#diagram-room)" fill="none" pointerEvents="none">
          {followed.map((f) => (
            <path key={f.name} d={path(f.chainage, f.offset)} stroke={colour.sound} strokeWidth={3} strokeOpacity={0.55}>
              <title>{f.name}</title>
            </path>
          ))}
        </g>
        {joints?.map((j, i) => (
          <circle
            key={i}
            cx={x(j.chainage)}
            cy={y(j.offset)}
            r={6}
            fill={colour.white}
            stroke={colour.saddle500}
            strokeWidth={2}
            style={{ cursor: "move" }}
            role="button"
            aria-label={`Joint ${i} at ${chainageText(j.chainage)}, offset ${signed(j.offset, 2)}`}
            {...nudged((right, up) => onDrag(i, ...rounded([j.chainage + right * 0.5, j.offset + up * upward * 0.05]), true))}
            onPointerDown={(e) => {
              take(i);
              e.currentTarget.ownerSVGElement?.setPointerCapture(e.pointerId);
            }}
          />
        ))}
      </svg>
    </div>
  );
}
