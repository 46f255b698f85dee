/** The treatments on the strip; their ends can be dragged, and moved by the arrow keys. */
import { useState } from "react";
import { type SpecOf, useDocument, useMayEdit, useOwnKey } from "../api/hooks";
import { useDraft } from "../api/useDraft";
import { chainageText } from "../base/chainage";
import { colour } from "../base/theme";
import { Bar, type Scale } from "./Bar";

type Plan = SpecOf<"treatments">;
type Work = Plan["ranges"][number]["work"];
const RULES: Record<Extract<Work, { kind: "overlay" }>["governs"]["kind"], string> = {
  cover: "cover governs",
  edges: "edges govern",
  level_table: "level table governs",
  profile: "profile governs",
  line: "a guide governs",
  kerb_to_kerb: "kerb to kerb",
};
/** What is left of a treatment at least, m. */
const SHORTEST = 1;

function workWords(work: Work): string {
  return work.kind === "leave" || !work.governs ? work.kind : `${work.kind}, ${RULES[work.governs.kind]}`;
}

/** Chainages where a treatment begins or ends, once each. */
function endsOf({ ranges }: Plan): number[] {
  return [...new Set(ranges.flatMap((r) => [r.from_chainage, r.to_chainage]))].sort((a, b) => a - b);
}

/** The plan with an end moved, as far as the treatments on both sides of it leave room; two that meet there still do. */
function withEnd(plan: Plan, end: number, to: number, start: number, stop: number): Plan {
  const low = Math.max(
    start,
    ...plan.ranges.flatMap((r) => (r.to_chainage === end ? [r.from_chainage + SHORTEST] : r.to_chainage < end ? [r.to_chainage] : [])),
  );
  const high = Math.min(
    stop,
    ...plan.ranges.flatMap((r) => (r.from_chainage === end ? [r.to_chainage - SHORTEST] : r.from_chainage > end ? [r.from_chainage] : [])),
  );
  const at = Math.max(low, Math.min(high, to));
  return {
    ...plan,
    ranges: plan.ranges.map((r) => ({
      ...r,
      from_chainage: r.from_chainage === end ? at : r.from_chainage,
      to_chainage: r.to_chainage === end ? at : r.to_chainage,
    })),
  };
}

interface Props {
  x: Scale;
  start: number;
  end: number;
  /** Chainage under the pointer, stuck to what is near. */
  chainageAt: (e: React.PointerEvent) => number;
}

export function TreatmentTrack({ x, start, end, chainageAt }: Props) {
  const mayEdit = useMayEdit();
  const { spec, change, drag } = useDraft("treatments", useOwnKey("treatments"), useDocument("treatments"), 0);
  const [grasped, setGrasped] = useState<{ number: number; from: Plan } | null>(null);
  if (!spec) return null;
  const ends = endsOf(spec);
  const move = (number: number, from: Plan, to: number, done: boolean) => drag(withEnd(from, endsOf(from)[number]!, to, start, end), done);
  const onKey = (e: React.KeyboardEvent, number: number) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    change(withEnd(spec, ends[number]!, ends[number]! + by * (e.shiftKey ? 10 : 1), start, end));
  };
  return (
    <g>
      {spec.ranges.map((t, i) => (
        <Bar
          key={i}
          x={x}
          from={t.from_chainage}
          to={t.to_chainage}
          y={24}
          height={14}
          text={workWords(t.work)}
          fill={t.work.kind === "overlay" ? colour.saddle300 : t.work.kind === "reconstruct" ? colour.tin400 : colour.tin600}
          dark={t.work.kind !== "leave"}
        />
      ))}
      {mayEdit &&
        ends.map((c, i) => (
          <g key={i}>
            {grasped?.number === i && (
              <text
                x={x(c)}
                y={21}
                textAnchor={c - start < (end - start) / 8 ? "start" : c > end - (end - start) / 8 ? "end" : "middle"}
                className="mono strong"
              >
                {chainageText(c)}
              </text>
            )}
            <rect
              role="slider"
              tabIndex={0}
              aria-label={`Treatment end ${i + 1}`}
              aria-valuemin={start}
              aria-valuemax={end}
              aria-valuenow={c}
              aria-valuetext={chainageText(c)}
              className="treatment-end"
              x={x(c) - 3}
              width={6}
              y={24}
              height={14}
              onPointerDown={(e) => {
                e.stopPropagation();
                e.currentTarget.setPointerCapture(e.pointerId);
                setGrasped({ number: i, from: spec });
              }}
              onPointerMove={(e) => {
                if (grasped) move(i, grasped.from, chainageAt(e), false);
              }}
              onPointerUp={(e) => {
                if (!grasped) return;
                setGrasped(null);
                // A press that moved nothing changes nothing.
                if (spec !== grasped.from) move(i, grasped.from, chainageAt(e), true);
              }}
              onPointerCancel={() => setGrasped(null)}
              onKeyDown={(e) => onKey(e, i)}
            >
              <title>{`Drag to move this end, ${chainageText(c)}`}</title>
            </rect>
          </g>
        ))}
    </g>
  );
}
