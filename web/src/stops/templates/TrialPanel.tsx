/** Below the drawing: the test ground, crossfalls, boundary, what is followed; and how each rung fared. */
import { Segmented, Slider, Switch } from "antd";
import type { ReactNode } from "react";
import { useDocumentsOf } from "../../api/hooks";
import { NumberField } from "../../common/NumberField";
import type { Unit } from "../../common/numbers";
import { type Side, sourcesOf, type Template } from "./spec";
import { followKey, type TrialState } from "./trial";
import { GROUND_REACH } from "./BenchMarks";
import type { BenchView } from "./useTryOut";

interface Props {
  spec: Template;
  state: TrialState;
  view: BenchView | undefined;
  side: Side;
  setSide: (s: Side) => void;
  change: (s: TrialState, dragging: boolean) => void;
}

export function TrialPanel({ spec, state, view, side, setSide, change }: Props) {
  const guides = useDocumentsOf("guide");
  const tilt = ((state.ground.right - state.ground.left) / (2 * GROUND_REACH)) * 100;
  const set = (fields: Partial<TrialState>, dragging = false) => change({ ...state, ...fields }, dragging);
  const ground = (height: number, fall: number) => {
    const by = (fall / 100) * GROUND_REACH;
    return { ground: { left: height - by, middle: height, right: height + by } };
  };
  const sources = sourcesOf(spec).filter((s) => s.side === side);
  const boundary = state.boundary[side];
  const tried = view?.halves.find((h) => h.side === side);
  const nameOf = (source: (typeof sources)[number]["source"]) =>
    source.by === "guide"
      ? (guides.find((g) => g.key === source.guide)?.spec.name ?? source.guide)
      : source.by === "line"
        ? `line ${source.code}`
        : source.by === "far_side"
          ? "Far side"
          : `offset ${source.offset}`;
  return (
    <section className="trial" aria-label="Test bench">
      <div className="knobs">
        <Knob label="Ground at the hinge" unit="m" least={-15} most={15} step={0.05} value={state.ground.middle} change={(v, d) => set(ground(v, tilt), d)} />
        <Knob label="Ground tilt" unit="%" least={-60} most={60} step={1} value={tilt} change={(v, d) => set(ground(state.ground.middle, v), d)} />
        <Knob label="Crossfall left" unit="%" least={-8} most={8} step={0.1} value={state.left_pct} change={(v, d) => set({ left_pct: v }, d)} />
        <Knob label="Crossfall right" unit="%" least={-8} most={8} step={0.1} value={state.right_pct} change={(v, d) => set({ right_pct: v }, d)} />
        <Knob
          label={`Boundary ${side}`}
          unit="m"
          least={1}
          most={40}
          step={0.05}
          value={boundary === null ? 12 : Math.abs(boundary)}
          off={boundary === null}
          turn={(on) => set({ boundary: { ...state.boundary, [side]: on ? (side === "left" ? -12 : 12) : null } })}
          change={(v, d) => set({ boundary: { ...state.boundary, [side]: side === "left" ? -v : v } }, d)}
        />
        <Knob
          label="Old pavement out to"
          unit="m"
          least={0}
          most={12}
          step={0.05}
          value={state.oldEdge ?? 3}
          off={state.oldEdge === null}
          turn={(on) => set({ oldEdge: on ? 3 : null })}
          change={(v, d) => set({ oldEdge: v }, d)}
        />
        {sources.map(({ source }) => {
          const key = followKey(side, source);
          const at = state.followed[key] ?? null;
          return (
            <Knob
              key={key}
              label={`${nameOf(source)}, ${side}`}
              unit="m"
              least={0}
              most={25}
              step={0.05}
              value={at ?? 4}
              off={at === null}
              turn={(on) => set({ followed: { ...state.followed, [key]: on ? 4 : null } })}
              change={(v, d) => set({ followed: { ...state.followed, [key]: v } }, d)}
            />
          );
        })}
        {spec.dimensions.map((d) => (
          <Knob
            key={d.name}
            label={d.name}
            unit={d.unit as Unit}
            least={d.unit === "%" ? -10 : 0}
            most={d.unit === "mm" ? 1000 : d.unit === "%" ? 10 : 15}
            step={d.unit === "mm" ? 5 : 0.05}
            value={state.dimensions[d.name] ?? d.value}
            change={(v, dr) => set({ dimensions: { ...state.dimensions, [d.name]: v } }, dr)}
          />
        ))}
      </div>
      <div className="fared" aria-label={`Slope ladder, ${side}`} role="group">
        <h3>
          Slope ladder
          <Segmented<Side> size="small" value={side} options={["left", "right"]} onChange={setSide} aria-label="Side of the ladder" />
        </h3>
        <ol>
          {tried?.rungs.map((r) => (
            <li key={r.name} className={r.state.replace(" ", "-")}>
              {r.name}
              {r.state === "passed" && `: ${r.why}`}
              {r.state === "taken" && `: ${landing(view, side)}`}
            </li>
          ))}
        </ol>
        {tried && tried.rungs.length === 0 && <p className="quiet">No rungs yet: the section ends at its outer point.</p>}
      </div>
    </section>
  );
}

function landing(view: BenchView | undefined, side: Side): string {
  const slope = view?.slopes.find((s) => s.side === side);
  return slope?.catch ? `lands ${Math.abs(slope.catch[0]).toFixed(2)} m out` : "taken";
}

interface KnobProps {
  label: string;
  unit: Unit;
  least: number;
  most: number;
  step: number;
  value: number;
  off?: boolean;
  turn?: (on: boolean) => void;
  change: (v: number, dragging: boolean) => void;
}

function Knob({ label, unit, least, most, step, value, off, turn, change }: KnobProps): ReactNode {
  return (
    <div className="knob">
      <span className="label" title={label}>
        {label}
        {turn && <Switch size="small" aria-label={`Use ${label}`} checked={!off} onChange={turn} />}
      </span>
      <Slider
        min={least}
        max={most}
        step={step}
        value={value}
        disabled={off}
        tooltip={{ open: false }}
        ariaLabelForHandle={`${label}, slider`}
        onChange={(v) => change(v, true)}
        onChangeComplete={(v) => change(v, false)}
      />
      <NumberField label={label} unit={unit} value={Number(value.toFixed(3))} disabled={off} onChange={(v) => change(v, false)} />
    </div>
  );
}
