/** What is drawn over the section on the bench: points to drag, the test ground, boundaries, what is chosen. */
import { Fragment, useRef } from "react";
import { nudged } from "../../common/nudge";
import type { DrawingScale } from "../../drawing/SectionDrawing";
import { signed } from "../../common/signed";
import type { Vertex } from "../../drawing/scale";
import { colour } from "../../base/theme";
import { jointsOf } from "./insert";
import { drawnSide, halfOf, type Kerbs, type Sel, type Side, type Template } from "./spec";
import type { BenchView } from "./useTryOut";

type PointView = BenchView["points"][number];

/** The test ground as three levels: at so far left of the hinge, at it, and right of it. */
export interface GroundShape {
  left: number;
  middle: number;
  right: number;
}
export const GROUND_REACH = 10;

interface Props {
  scale: DrawingScale;
  view: BenchView;
  spec: Template;
  sel: Sel | null;
  /** The side that is looked at. */
  side: Side;
  ground: GroundShape;
  boundary: Record<Side, number | null>;
  mayEdit: boolean;
  adding: boolean;
  select: (sel: Sel) => void;
  /** Something is to be put at a joint of the side that is looked at. */
  insert: (at: string) => void;
  kerbs: Kerbs;
  /** Moves a point to a place; `done` when the pointer is let go. */
  drag: (point: PointView, to: Vertex, level: boolean, done: boolean) => void;
  setGround: (g: GroundShape, done: boolean) => void;
  setBoundary: (side: Side, offset: number, done: boolean) => void;
}

export function BenchMarks({ scale, view, spec, sel, side, ground, boundary, mayEdit, adding, select, insert, kerbs, drag, setGround, setBoundary }: Props) {
  const { x, y } = scale;
  const wrong = new Set(view.faults.flatMap((f) => f.names));
  const own = view.points.filter((p) => p.kind === "point" && p.side !== "hinge" && !p.name.includes("."));
  const boxing = view.points.filter((p) => p.kind === "boxing");
  const hinge = view.points.find((p) => p.side === "hinge");
  const isChosen = (p: PointView) => sel?.kind === "point" && sel.name === p.name && drawnSide(spec, p.side as Side) === sel.side;
  const levels: Vertex[] = [
    [-GROUND_REACH, ground.left],
    [0, ground.middle],
    [GROUND_REACH, ground.right],
  ];
  return (
    <g>
      {view.layers
        .filter((l) => sel && l.element === sel.name && drawnSide(spec, l.side) === sel.side && ["strip", "kerb", "floor"].includes(sel.kind))
        .map((l, i) => (
          <polygon
            key={i}
            points={l.polygon.map(([o, z]) => `${x(o)},${y(z)}`).join(" ")}
            fill={colour.saddle500}
            fillOpacity={0.18}
            stroke={colour.saddle500}
            strokeWidth={1.8}
            pointerEvents="none"
          />
        ))}
      {(["left", "right"] as const).map((which) => {
        const at = boundary[which];
        return at === null ? null : (
          <Handle
            key={which}
            label={`Boundary ${Math.abs(at).toFixed(2)} m, ${which}`}
            enabled
            at={[at, 0]}
            step={0.05}
            onMove={([o], _, done) => setBoundary(which, Math.round(o * 20) / 20, done)}
            scale={scale}
          >
            <line x1={x(at)} x2={x(at)} y1={40} y2={scale.height - 24} stroke={colour.fault} strokeDasharray="9 3 2 3" strokeWidth={1.2} />
            <line x1={x(at)} x2={x(at)} y1={40} y2={scale.height - 24} stroke="transparent" strokeWidth={12} />
            <text x={x(at) + (which === "left" ? 5 : -5)} y={50} textAnchor={which === "left" ? "start" : "end"} style={{ fill: colour.fault }}>
              boundary {Math.abs(at).toFixed(2)} m
            </text>
          </Handle>
        );
      })}
      {levels.map(([o, z], i) => (
        <Handle
          key={i}
          label={["Ground left", "Ground at the hinge", "Ground right"][i]!}
          enabled
          at={[o, z]}
          step={0.01}
          scale={scale}
          onMove={(to, from, done) => {
            const by = to[1] - from[1];
            const near = (v: number) => Math.round(v * 100) / 100;
            if (i === 1) setGround({ left: near(ground.left + by), middle: near(ground.middle + by), right: near(ground.right + by) }, done);
            else setGround({ ...ground, [i === 0 ? "left" : "right"]: near(to[1]) }, done);
          }}
        >
          <circle cx={x(o)} cy={y(z)} r={6} fill={colour.white} stroke={colour.saddle500} strokeWidth={2} />
        </Handle>
      ))}
      {view.slopes.map(
        (s) =>
          s.catch &&
          s.number !== null && (
            <text key={s.side} x={x(s.catch[0])} y={y(s.catch[1]) + 16} textAnchor="middle" style={{ fill: colour.sound }}>
              {s.rung}, {Math.abs(s.catch[0]).toFixed(2)} m
            </text>
          ),
      )}
      {boxing.map((p, i) => (
        <g key={i}>
          <path d={`M${x(p.offset) - 4} ${y(p.level)}h8M${x(p.offset)} ${y(p.level) - 4}v8`} stroke={colour.short} strokeWidth={1.4} />
          <text x={x(p.offset)} y={y(p.level) + 15} textAnchor="middle" style={{ fill: colour.short }}>
            {p.name}
          </text>
        </g>
      ))}
      {hinge && <PointLabel x={x(hinge.offset)} y={y(hinge.level)} name="hinge" tier={0} fault={false} chosen={false} />}
      {tiered(own, x).map(({ point: p, tier }) => (
        <Handle
          key={`${p.side} ${p.name}`}
          label={`Point ${p.name} ${p.side}`}
          enabled={!adding}
          at={[p.offset, p.level]}
          step={0.01}
          grabs={mayEdit}
          scale={scale}
          onPress={() => select({ kind: "point", side: drawnSide(spec, p.side as Side), name: p.name })}
          onMove={(to, _, done, start, keyed) => drag(p, to, keyed ? to[1] !== start[1] : Math.abs(y(to[1]) - y(start[1])) > 8, done)}
        >
          <PointLabel x={x(p.offset)} y={y(p.level)} name={p.name} tier={tier} fault={wrong.has(p.name)} chosen={isChosen(p)} />
        </Handle>
      ))}
      {mayEdit && !adding && view.built && <Joints {...{ scale, view, spec, side, kerbs, insert }} />}
      {own
        .filter((p) => isChosen(p) && (spec.left || p.side === side))
        .map((p) => (
          <Reach key={p.side} point={p} view={view} spec={spec} scale={scale} />
        ))}
    </g>
  );
}

/** A plus below every joint of the side that is looked at: something is put there, and what lies further out makes room. */
function Joints({ scale, view, spec, side, kerbs, insert }: Pick<Props, "scale" | "view" | "spec" | "side" | "kerbs" | "insert">) {
  const low = scale.height - 56;
  const found = jointsOf(halfOf(spec, drawnSide(spec, side)), kerbs).flatMap((name) => {
    const p = view.points.find((v) => v.name === name && (v.side === side || v.side === "hinge"));
    return p ? [{ name, x: scale.x(p.offset), top: scale.y(p.level) }] : [];
  });
  // Where joints lie close together every other one stands higher.
  const places: ((typeof found)[number] & { y: number })[] = [];
  for (const joint of found) {
    const last = places.at(-1);
    places.push({ ...joint, y: last && Math.abs(joint.x - last.x) < 18 && last.y === low ? low - 19 : low });
  }
  return places.map(({ name, x, y, top }) => (
    <Fragment key={name}>
      <g
        className="joint"
        role="button"
        tabIndex={0}
        aria-label={`Insert at ${name}`}
        data-grab
        onClick={(e) => {
          e.stopPropagation();
          insert(name);
        }}
        onKeyDown={(e) => {
          if (e.key !== "Enter" && e.key !== " ") return;
          e.preventDefault(); // else the same press would choose the first of what may be put there
          insert(name);
        }}
      >
        <title>{`Insert at ${name}`}</title>
        <circle cx={x} cy={y} r={8} />
        <path d={`M${x - 4} ${y}h8M${x} ${y - 4}v8`} />
      </g>
      <line className="joint-line" x1={x} x2={x} y1={top} y2={y - 8} strokeDasharray="2 3" pointerEvents="none" />
    </Fragment>
  ));
}

function PointLabel({ x, y, name, tier, fault, chosen }: { x: number; y: number; name: string; tier: number; fault: boolean; chosen: boolean }) {
  const top = y - 22 - tier * 15;
  return (
    <>
      <line x1={x} x2={x} y1={y - 4} y2={top + 4} stroke={colour.tin400} strokeWidth={0.7} />
      <rect x={x - 9} y={y - 9} width={18} height={18} fill="transparent" />
      {fault && <circle cx={x} cy={y} r={9} fill="none" stroke={colour.fault} strokeWidth={2} />}
      <rect
        x={x - 3.5}
        y={y - 3.5}
        width={7}
        height={7}
        fill={chosen ? colour.saddle500 : colour.white}
        stroke={chosen ? colour.saddle700 : colour.tin950}
        strokeWidth={chosen ? 1.8 : 1}
      />
      <text x={x} y={top} textAnchor="middle" fontWeight={600} style={{ fill: fault ? colour.fault : chosen ? colour.saddle700 : colour.tin800 }}>
        {name}
      </text>
    </>
  );
}

/** The width and fall of the chosen point, from its parents. */
function Reach({ point, view, spec, scale: { x, y } }: { point: PointView; view: BenchView; spec: Template; scale: DrawingScale }) {
  const tie = halfOf(spec, point.side as Side).points.find((p) => p.name === point.name);
  const parent = view.points.find((p) => p.name === tie?.offset.parent && (p.side === point.side || p.side === "hinge"));
  if (!tie || !parent) return null;
  const top = Math.min(y(point.level), y(parent.level)) - 62;
  const [a, b] = [x(parent.offset), x(point.offset)];
  const width = Math.abs(point.offset - parent.offset);
  const fall = width > 1e-6 ? (100 * (point.level - parent.level)) / width : null;
  return (
    <g pointerEvents="none" stroke={colour.saddle500}>
      <path d={`M${a} ${top - 5}v10M${b} ${top - 5}v10M${a} ${top}H${b}`} fill="none" />
      <rect x={(a + b) / 2 - 58} y={top - 11} width={116} height={22} rx={3} fill={colour.saddle100} />
      <text x={(a + b) / 2} y={top + 4} textAnchor="middle" className="mono" style={{ fill: colour.saddle700, stroke: "none" }}>
        {width.toFixed(2)} m{fall !== null && `, ${signed(fall, 1)} %`}
      </text>
    </g>
  );
}

/** Labels in tiers that keep them apart. */
function tiered(points: PointView[], x: (o: number) => number) {
  const ends: number[] = [x(0) + 22];
  return [...points]
    .sort((a, b) => a.offset - b.offset)
    .map((point) => {
      const at = x(point.offset);
      const half = point.name.length * 3.4 + 4;
      let tier = 0;
      while ((ends[tier] ?? -Infinity) > at - half && !(tier === 0 && at + half < x(0) - 22)) tier += 1;
      if (tier > 0 || at > x(0)) ends[tier] = at + half;
      return { point, tier };
    });
}

interface HandleProps {
  label: string;
  enabled: boolean;
  grabs?: boolean;
  scale: DrawingScale;
  /** Where it is, and by how much the arrow keys move it, m. */
  at: Vertex;
  step: number;
  onPress?: () => void;
  onMove: (to: Vertex, from: Vertex, done: boolean, start: Vertex, keyed?: boolean) => void;
  children: React.ReactNode;
}

/** Something that can be dragged, or moved with the arrow keys; a press without moving only chooses it. */
function Handle({ label, enabled, grabs = true, scale, at, step, onPress, onMove, children }: HandleProps) {
  const from = useRef<Vertex | null>(null);
  const last = useRef<Vertex | null>(null);
  const begun = useRef(false);
  if (!enabled) return <g pointerEvents="none">{children}</g>;
  return (
    <g
      data-grab
      role="button"
      aria-label={label}
      {...nudged((right, up) => {
        onPress?.();
        if (grabs) onMove([at[0] + right * step, at[1] + up * step], at, true, at, true);
      }, onPress)}
      style={{ cursor: grabs ? "move" : "pointer" }}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = last.current = scale.toPoint(e);
        begun.current = false;
        onPress?.();
      }}
      onPointerMove={(e) => {
        if (!from.current || !grabs) return;
        const to = scale.toPoint(e);
        if (!begun.current && Math.hypot(scale.x(to[0]) - scale.x(from.current[0]), scale.y(to[1]) - scale.y(from.current[1])) < 4) return;
        begun.current = true;
        onMove(to, last.current!, false, from.current);
        last.current = to;
      }}
      onPointerUp={(e) => {
        if (from.current && begun.current) onMove(scale.toPoint(e), last.current!, true, from.current);
        from.current = null;
      }}
    >
      {children}
    </g>
  );
}
