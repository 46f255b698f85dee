/** Elements of the alignment as a table: straights, arcs, clothoids. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Alert, Button, Checkbox, Input, Modal, Select, Tooltip } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { chainageText } from "../../app/chainage";
import { NumberField } from "../../common/NumberField";
import { readNumber } from "../../common/numbers";
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

export function ElementTable({ spec, checks, change, disabled, pinned, pin }: Props) {
  const [pasting, setPasting] = useState(false);
  const set = (i: number, element: Element) => change({ ...spec, elements: spec.elements.map((e, j) => (j === i ? element : e)) });
  const insert = (i: number) => change({ ...spec, elements: [...spec.elements.slice(0, i), { kind: "straight", length: 50 }, ...spec.elements.slice(i)] });
  const starts: number[] = [];
  spec.elements.reduce((c, e) => (starts.push(c), c + e.length), spec.start_chainage);
  return (
    <>
      <table className="grid-table edit-table" aria-label="Elements">
        <thead>
          <tr>
            <th className="num">No</th>
            <th>Kind</th>
            <th className="num">From</th>
            <th style={{ width: 108 }}>Length</th>
            <th style={{ width: 100 }}>Radius in</th>
            <th style={{ width: 100 }}>Radius out</th>
            <th className="num">Turns</th>
            <th>Limits</th>
            <th title="Keeps its length and radius when it is fitted again">Pin</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {spec.elements.map((e, i) => (
            <tr key={i}>
              <td className="num">{i + 1}</td>
              <td>
                <Select
                  size="small"
                  style={{ width: 94 }}
                  aria-label={`Kind of element ${i + 1}`}
                  disabled={disabled}
                  value={e.kind}
                  options={(["straight", "arc", "clothoid"] as const).map((k) => ({ value: k, label: k }))}
                  onChange={(kind) => set(i, asKind(e, kind, spec.elements[i - 1], spec.elements[i + 1]))}
                />
              </td>
              <td className="num">{chainageText(starts[i]!)}</td>
              <td>
                <NumberField
                  label={`Length of element ${i + 1}`}
                  unit="m"
                  least={0.001}
                  value={e.length}
                  disabled={disabled}
                  onChange={(length) => set(i, { ...e, length })}
                />
              </td>
              <td>
                {e.kind === "arc" && (
                  <NumberField
                    label={`Radius of element ${i + 1}`}
                    unit="m right +"
                    value={e.radius}
                    disabled={disabled}
                    onChange={(radius) => set(i, { ...e, radius })}
                  />
                )}
                {e.kind === "clothoid" && (
                  <RadiusField
                    label={`Radius at the start of element ${i + 1}`}
                    value={e.radius_start ?? null}
                    disabled={disabled}
                    onChange={(radius_start) => set(i, { ...e, radius_start })}
                  />
                )}
              </td>
              <td>
                {e.kind === "clothoid" && (
                  <RadiusField
                    label={`Radius at the end of element ${i + 1}`}
                    value={e.radius_end ?? null}
                    disabled={disabled}
                    onChange={(radius_end) => set(i, { ...e, radius_end })}
                  />
                )}
              </td>
              <td className="num">{turns(e)}</td>
              <td>
                <Check check={checks.find((c) => c.element === i)} />
              </td>
              <td>
                <Checkbox aria-label={`Pin element ${i + 1}`} disabled={disabled} checked={pinned.has(i)} onChange={() => pin(i)} />
              </td>
              <td style={{ whiteSpace: "nowrap" }}>
                <Button
                  type="text"
                  size="small"
                  aria-label={`Insert before element ${i + 1}`}
                  title="Insert before"
                  icon={<PlusOutlined />}
                  disabled={disabled}
                  onClick={() => insert(i)}
                />
                <Button
                  type="text"
                  size="small"
                  aria-label={`Remove element ${i + 1}`}
                  icon={<DeleteOutlined />}
                  disabled={disabled || spec.elements.length === 1}
                  onClick={() => change({ ...spec, elements: spec.elements.filter((_, j) => j !== i) })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="toolbar" style={{ border: 0, background: "none" }}>
        <Button size="small" disabled={disabled} icon={<PlusOutlined />} onClick={() => insert(spec.elements.length)}>
          Add element
        </Button>
        <Button size="small" disabled={disabled} onClick={() => setPasting(true)}>
          Paste table
        </Button>
      </div>
      {pasting && <PasteElements onClose={() => setPasting(false)} onTake={(elements) => change({ ...spec, elements })} />}
    </>
  );
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

/** A radius, or straight when it is left empty. */
function RadiusField({ label, value, onChange, disabled }: { label: string; value: number | null; onChange: (v: number | null) => void; disabled: boolean }) {
  const [typed, setTyped] = useState<string | null>(null);
  const parsed = typed === null ? value : typed.trim() === "" || /^(inf|straight)/i.test(typed.trim()) ? null : readNumber(typed, "m").value;
  const wrong = typed !== null && typed.trim() !== "" && parsed === null && !/^(inf|straight)/i.test(typed.trim());
  const commit = () => {
    if (typed !== null && !wrong && parsed !== value) onChange(parsed);
    if (!wrong) setTyped(null);
  };
  return (
    <Input
      size="small"
      className="number"
      aria-label={label}
      disabled={disabled}
      placeholder="straight"
      suffix={<span className="quiet">m</span>}
      status={wrong ? "error" : undefined}
      value={typed ?? (value === null ? "" : String(Number(value.toFixed(4))))}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onPressEnter={commit}
    />
  );
}

/** Rows of kind, length and radii; straights have none, clothoids two of which one may be empty or "inf". */
export function readElements(text: string): { elements: Element[]; problems: string[] } {
  const elements: Element[] = [];
  const problems: string[] = [];
  const radius = (cell: string) => (cell === "" || /^inf/i.test(cell) || Number(cell) === 0 ? null : readNumber(cell, "m").value);
  text.split(/\r?\n/).forEach((row, i) => {
    const cells = row.split(/[\t;,]/).map((c) => c.trim());
    if (cells.every((c) => c === "") || /^kind$/i.test(cells[0]!)) return;
    const [kind = "", lengthText = "", first = "", second = ""] = cells;
    const length = readNumber(lengthText, "m").value;
    if (!/^(straight|arc|clothoid)$/i.test(kind)) problems.push(`row ${i + 1}: “${kind}” is neither straight, arc nor clothoid`);
    else if (length === null || length <= 0) problems.push(`row ${i + 1}: length “${lengthText}” is not a positive number`);
    else if (/^straight$/i.test(kind)) elements.push({ kind: "straight", length });
    else if (/^arc$/i.test(kind)) {
      const r = radius(first);
      if (r === null || Math.abs(r) < 1) problems.push(`row ${i + 1}: radius “${first}” is not a number of at least 1 m`);
      else elements.push({ kind: "arc", length, radius: r });
    } else if (radius(first) === radius(second)) problems.push(`row ${i + 1}: a clothoid needs two different radii, one of which may be empty`);
    else elements.push({ kind: "clothoid", length, radius_start: radius(first), radius_end: radius(second) });
  });
  return { elements, problems };
}

function PasteElements({ onClose, onTake }: { onClose: () => void; onTake: (elements: Element[]) => void }) {
  const [text, setText] = useState("");
  const { elements, problems } = readElements(text);
  return (
    <Modal
      open
      title="Paste elements"
      okText={`Take ${elements.length} elements`}
      okButtonProps={{ disabled: elements.length === 0 || problems.length > 0 }}
      onCancel={onClose}
      onOk={() => {
        onTake(elements);
        onClose();
      }}
    >
      <p className="quiet">
        One element a row: kind (straight, arc or clothoid), length in m, radius in m (positive turns right); for a clothoid the radius in and the radius out,
        empty where straight. They replace those in the table.
      </p>
      <Input.TextArea
        aria-label="Elements as text"
        className="mono"
        rows={9}
        value={text}
        placeholder={"straight\t210\nclothoid\t40\t\t320\narc\t230\t320"}
        onChange={(e) => setText(e.target.value)}
      />
      {problems.length > 0 && (
        <Alert
          style={{ marginTop: 8 }}
          type="error"
          title={problems.slice(0, 6).map((p) => (
            <div key={p}>{p}</div>
          ))}
        />
      )}
    </Modal>
  );
}
