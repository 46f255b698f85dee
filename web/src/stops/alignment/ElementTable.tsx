/** Elements of the alignment as a table: straights, arcs, clothoids. */
import { Checkbox, Tooltip } from "antd";
import type { Schemas } from "../../api/client";
import { chainageText } from "../../base/chainage";
import { CellTable } from "../../common/cells/CellTable";
import { choices, drawn, numbers, numbersOrNone, shown } from "../../common/cells/columns";
import { choicesOf } from "../../common/words";
import type { Element, Spec } from "./hooks";

interface Props {
  spec: Spec;
  change: (s: Spec) => void;
  disabled: boolean;
  /** Indices of elements that keep their length and radius in the next fit. */
  checks: Schemas["CurveCheck"][];
  pinned: Set<number>;
  pin: (i: number) => void;
}

const KINDS = choicesOf<Element["kind"]>({ straight: "straight", arc: "arc", clothoid: "clothoid" });

export function ElementTable({ spec, checks, change, disabled, pinned, pin }: Props) {
  const { elements } = spec;
  const starts: number[] = [];
  elements.reduce((c, e) => (starts.push(c), c + e.length), spec.start_chainage);
  const columns = [
    shown<Element>({ title: "No", width: 40, of: (_, i) => String(i + 1) }),
    choices<Element, Element["kind"]>({
      title: "Kind",
      width: 94,
      options: KINDS,
      of: (e) => e.kind,
      put: (e, kind, i) => (kind === e.kind ? e : asKind(e, kind, elements[i - 1], elements[i + 1])),
      label: (_, i) => `Kind of element ${i + 1}`,
    }),
    shown<Element>({ title: "From", width: 92, of: (_, i) => chainageText(starts[i] ?? 0) }),
    numbers<Element>({
      title: "Length m",
      unit: "m",
      least: 0.001,
      width: 92,
      of: (e) => e.length,
      put: (e, length) => ({ ...e, length }),
      label: (_, i) => `Length of element ${i + 1}`,
    }),
    numbersOrNone<Element>({
      title: "Radius in m",
      help: "Radius of an arc, or at the start of a clothoid: positive turns right, empty is straight",
      unit: "m right +",
      none: "straight",
      width: 92,
      of: (e) => (e.kind === "arc" ? e.radius : e.kind === "clothoid" ? (e.radius_start ?? null) : null),
      put: (e, v) => (e.kind === "arc" ? { ...e, radius: v ?? 0 } : e.kind === "clothoid" ? { ...e, radius_start: v } : e),
      off: (e) => (e.kind === "straight" ? "" : null),
      label: (e, i) => (e.kind === "arc" ? `Radius of element ${i + 1}` : `Radius at the start of element ${i + 1}`),
    }),
    numbersOrNone<Element>({
      title: "Radius out m",
      help: "Radius at the end of a clothoid: positive turns right, empty is straight",
      unit: "m right +",
      none: "straight",
      width: 92,
      of: (e) => (e.kind === "clothoid" ? (e.radius_end ?? null) : null),
      put: (e, v) => (e.kind === "clothoid" ? { ...e, radius_end: v } : e),
      off: (e) => (e.kind === "clothoid" ? null : ""),
      label: (_, i) => `Radius at the end of element ${i + 1}`,
    }),
    shown<Element>({ title: "Turns", width: 128, of: turns }),
    drawn<Element>({ title: "Limits", width: 116, render: (_, i) => <Check check={checks.find((c) => c.element === i)} /> }),
    drawn<Element>({
      title: "Pin",
      help: "Keeps its length and radius when it is fitted again",
      width: 44,
      render: (_, i) => <Checkbox aria-label={`Pin element ${i + 1}`} disabled={disabled} checked={pinned.has(i)} onChange={() => pin(i)} />,
    }),
  ];
  return (
    <CellTable<Element>
      label="Elements"
      height="fill"
      rows={elements}
      columns={columns}
      disabled={disabled}
      change={(next) => change({ ...spec, elements: next })}
      tidy={sound}
      least={1}
      fresh={() => ({ kind: "straight", length: 50 })}
    />
  );
}

/** The elements, or what is wrong with one of them. */
function sound(elements: Element[]): Element[] | string {
  for (const [i, e] of elements.entries()) {
    if (e.kind === "arc" && Math.abs(e.radius) < 1) return `Element ${i + 1}: an arc has a radius of at least 1 m`;
    if (e.kind === "clothoid" && (e.radius_start ?? null) === (e.radius_end ?? null))
      return `Element ${i + 1}: a clothoid runs between two different radii, one of which may be empty`;
  }
  return elements;
}

/** An element turned into another kind; a clothoid joins what stands beside it. */
function asKind(e: Element, kind: Element["kind"], before: Element | undefined, after: Element | undefined): Element {
  if (kind === "straight") return { kind, length: e.length };
  const beside = (x: Element | undefined) => (x?.kind === "arc" ? x.radius : null);
  if (kind === "arc") return { kind, length: e.length, radius: beside(before) ?? beside(after) ?? 300 };
  const [start, end] = [beside(before), beside(after)];
  return { kind, length: e.length, radius_start: start, radius_end: end ?? (start === null ? 300 : null) };
}

/** Whether an arc keeps the least radius of the design speed, and what its transitions should be. */
function Check({ check }: { check: Schemas["CurveCheck"] | undefined }) {
  if (!check) return null;
  const sharp = check.radius < check.least_radius;
  return (
    <Tooltip
      title={`Tangent ${check.tangent.toFixed(2)} m, external ${check.external.toFixed(2)} m. At 6 % superelevation R is at least ${check.least_radius.toFixed(0)} m; transitions ${check.least_transition.toFixed(0)} to ${check.most_transition.toFixed(0)} m, about ${check.desirable_transition.toFixed(0)} m wanted (AASHTO). To see far enough to stop, ${check.sightline.toFixed(1)} m are clear inside the curve.`}
    >
      <span style={{ color: sharp ? "var(--fault)" : "var(--sound)", whiteSpace: "nowrap" }}>
        {sharp ? `R under ${check.least_radius.toFixed(0)} m` : "radius is sound"}
      </span>
    </Tooltip>
  );
}

function turns(e: Element): string {
  if (e.kind === "straight") return "";
  const k = e.kind === "arc" ? 1 / e.radius : ((e.radius_start ? 1 / e.radius_start : 0) + (e.radius_end ? 1 / e.radius_end : 0)) / 2;
  const degrees = (e.length * k * 180) / Math.PI;
  return `${Math.abs(degrees).toFixed(4)}° ${degrees > 0 ? "right" : "left"}`;
}
