/** A template as tables: strips and kerbs outward from the hinge, then the side slopes. */
import { ArrowDownOutlined, ArrowUpOutlined, DeleteOutlined } from "@ant-design/icons";
import { Alert, Button, Input, Segmented, Select, Switch } from "antd";
import { useState } from "react";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { NumberField } from "../../common/NumberField";
import { freeName, type Half, halfOf, type Row, rowsOf, type StripKind, type StripRow } from "./rows";

type Spec = SpecOf<"template">;
const KINDS: StripKind[] = ["lane", "shoulder", "path", "verge"];
const LEVELS: { value: StripRow["level"]["kind"]; label: string }[] = [
  { value: "turns", label: "crossfall" },
  { value: "fall", label: "own crossfall" },
  { value: "rise", label: "rise" },
];

interface Props<T> {
  spec: T;
  change: (spec: T) => void;
  disabled: boolean;
}

/** A name typed in place; taken over when it is a name. */
export function NameField({ label, value, onChange, disabled, width }: { label: string; value: string; onChange: (v: string) => void; disabled: boolean; width?: number }) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && typed.trim() === "";
  const commit = () => {
    if (typed !== null && !wrong && typed.trim() !== value) onChange(typed.trim());
    setTyped(null);
  };
  return <Input size="small" style={{ width }} aria-label={label} maxLength={40} disabled={disabled} status={wrong ? "error" : undefined} value={typed ?? value} onChange={(e) => setTyped(e.target.value)} onBlur={commit} onPressEnter={commit} />;
}

export function TemplateEditor({ spec, change, disabled }: Props<Spec>) {
  const [side, setSide] = useState<"right" | "left">("right");
  const mirrored = spec.left === null || spec.left === undefined;
  const shown = mirrored ? "right" : side;
  const half = (shown === "left" ? spec.left : spec.right) ?? spec.right;
  return (
    <>
      <div className="toolbar" style={{ position: "sticky", top: 0, zIndex: 3 }}>
        <NameField label="Name of the template" width={220} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
        <label style={{ display: "inline-flex", gap: 6, alignItems: "center" }}>
          <Switch size="small" aria-label="Left mirrors right" disabled={disabled} checked={mirrored} onChange={(on) => change({ ...spec, left: on ? null : structuredClone(spec.right) })} />
          Left mirrors right
        </label>
        {!mirrored && <Segmented size="small" value={side} options={[{ value: "left", label: "Left half" }, { value: "right", label: "Right half" }]} onChange={setSide} />}
      </div>
      <HalfEditor spec={half} disabled={disabled} change={(next) => change(shown === "left" ? { ...spec, left: next } : { ...spec, right: next })} />
    </>
  );
}

function HalfEditor({ spec: half, change, disabled }: Props<Half>) {
  const kerbs = useDocumentsOf("kerb");
  const makeUps = useDocumentsOf("make_up");
  const lastVertex = (profile: string) => kerbs.find((k) => k.key === profile)?.spec.top.at(-1)?.name ?? "back";
  const rows = rowsOf(half, lastVertex);
  if (!rows) return <Alert style={{ margin: 12 }} type="info" title="This half has ties that the table cannot show. It is used as it is." />;
  const write = (next: Row[]) => change(halfOf(next, half.ladder, lastVertex));
  const set = (i: number, fields: Partial<Row>) => write(rows.map((r, j) => (j === i ? ({ ...r, ...fields } as Row) : r)));
  const swap = (i: number, j: number) => {
    const next = [...rows];
    [next[i], next[j]] = [next[j]!, next[i]!];
    write(next);
  };
  const makeUpOptions = makeUps.map((m) => ({ value: m.key, label: m.spec.name }));
  const addStrip = () => {
    const name = freeName("Shoulder", rows);
    write([...rows, { row: "strip", name, kind: "shoulder", point: freeName(`${name}Edge`, rows), width: 1, level: { kind: "fall", pct: -4 }, new: makeUps[0]?.key ?? "", overExisting: null }]);
  };
  const addKerb = () => {
    const lanes = rows.findLastIndex((r) => r.row === "strip" && r.kind === "lane") + 1;
    write([...rows.slice(0, lanes), { row: "kerb", name: freeName("Kerb", rows), profile: kerbs[0]!.key }, ...rows.slice(lanes)]);
  };
  return (
    <>
      <table className="grid-table edit-table" aria-label="Strips and kerbs">
        <thead>
          <tr>
            <th>Strip</th>
            <th>Kind</th>
            <th>Outer point</th>
            <th>Width</th>
            <th>Level from</th>
            <th style={{ width: 86 }} aria-label="Value" />
            <th>New make-up</th>
            <th>Over existing</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <tr key={i}>
              <td>
                <NameField label={`Name of row ${i + 1}`} width={92} value={r.name} disabled={disabled} onChange={(name) => set(i, { name })} />
              </td>
              {r.row === "kerb" ? (
                <>
                  <td>kerb</td>
                  <td colSpan={6}>
                    <Select size="small" style={{ width: 260 }} aria-label={`Profile of ${r.name}`} disabled={disabled} value={r.profile} options={kerbs.map((k) => ({ value: k.key, label: k.spec.name }))} onChange={(profile) => set(i, { profile })} />
                  </td>
                </>
              ) : (
                <>
                  <td>
                    <Select size="small" style={{ width: 88 }} aria-label={`Kind of ${r.name}`} disabled={disabled} value={r.kind} options={KINDS.map((k) => ({ value: k, label: k }))} onChange={(kind) => set(i, { kind })} />
                  </td>
                  <td>
                    <NameField label={`Outer point of ${r.name}`} width={98} value={r.point} disabled={disabled} onChange={(point) => set(i, { point })} />
                  </td>
                  <td>
                    <NumberField label={`Width of ${r.name}`} width={78} unit="m" least={0} value={r.width} disabled={disabled} onChange={(width) => set(i, { width })} />
                  </td>
                  <td>
                    <Select
                      size="small"
                      style={{ width: 104 }}
                      aria-label={`Level of ${r.name} from`}
                      disabled={disabled}
                      value={r.level.kind}
                      options={LEVELS}
                      onChange={(kind) => set(i, { level: kind === "turns" ? { kind } : kind === "fall" ? { kind, pct: -2.5 } : { kind, rise: 0 } })}
                    />
                  </td>
                  <td>
                    {r.level.kind === "fall" && <NumberField width={84} label={`Crossfall of ${r.name}`} unit="%" least={-100} most={100} value={r.level.pct} disabled={disabled} onChange={(pct) => set(i, { level: { kind: "fall", pct } })} />}
                    {r.level.kind === "rise" && <NumberField width={84} label={`Rise of ${r.name}`} unit="m" value={r.level.rise} disabled={disabled} onChange={(rise) => set(i, { level: { kind: "rise", rise } })} />}
                  </td>
                  <td>
                    <Select size="small" style={{ width: 116 }} aria-label={`New make-up of ${r.name}`} disabled={disabled} value={r.new} options={makeUpOptions} onChange={(v) => set(i, { new: v })} />
                  </td>
                  <td>
                    <Select size="small" style={{ width: 116 }} aria-label={`Make-up over existing of ${r.name}`} disabled={disabled} value={r.overExisting ?? ""} options={[{ value: "", label: "built new" }, ...makeUpOptions]} onChange={(v) => set(i, { overExisting: v || null })} />
                  </td>
                </>
              )}
              <td style={{ whiteSpace: "nowrap" }}>
                <Button type="text" size="small" aria-label={`Move ${r.name} inward`} icon={<ArrowUpOutlined />} disabled={disabled || i === 0} onClick={() => swap(i, i - 1)} />
                <Button type="text" size="small" aria-label={`Move ${r.name} outward`} icon={<ArrowDownOutlined />} disabled={disabled || i === rows.length - 1} onClick={() => swap(i, i + 1)} />
                <Button type="text" size="small" aria-label={`Remove ${r.name}`} icon={<DeleteOutlined />} disabled={disabled || rows.filter((x) => x.row === "strip").length <= (r.row === "strip" ? 1 : 0)} onClick={() => write(rows.filter((_, j) => j !== i))} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="toolbar" style={{ border: 0, background: "none" }}>
        <Button size="small" disabled={disabled} onClick={addStrip}>
          Add strip
        </Button>
        <Button size="small" disabled={disabled || kerbs.length === 0 || rows.some((r) => r.row === "kerb")} onClick={addKerb}>
          Add kerb
        </Button>
      </div>
      <Slopes spec={half} change={change} disabled={disabled} />
    </>
  );
}

function Slopes({ spec: half, change, disabled }: Props<Half>) {
  const set = (i: number, fields: Partial<Half["ladder"][number]>) => change({ ...half, ladder: half.ladder.map((r, j) => (j === i ? { ...r, ...fields } : r)) });
  const add = (when: "cut" | "fill") => change({ ...half, ladder: [...half.ladder, { name: when === "cut" ? "Cut slope" : "Fill slope", when, one_in: when === "cut" ? 1.5 : 2, most_width: 25 }] });
  return (
    <>
      <table className="grid-table edit-table" aria-label="Side slopes">
        <thead>
          <tr>
            <th>Side slope</th>
            <th>Where</th>
            <th>1 vertical to</th>
            <th>Not wider than</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {half.ladder.map((r, i) => (
            <tr key={i}>
              <td>
                <NameField label={`Name of slope ${i + 1}`} width={140} value={r.name} disabled={disabled} onChange={(name) => set(i, { name })} />
              </td>
              <td>
                <Select size="small" style={{ width: 170 }} aria-label={`Where slope ${i + 1} holds`} disabled={disabled} value={r.when} options={[{ value: "cut", label: "ground above (cut)" }, { value: "fill", label: "ground below (fill)" }]} onChange={(when) => set(i, { when })} />
              </td>
              <td>
                <NumberField label={`Slope ${i + 1}`} width={110} unit="1 in" least={0.05} most={1000} value={r.one_in} disabled={disabled} onChange={(one_in) => set(i, { one_in })} />
              </td>
              <td>
                <NumberField label={`Most width of slope ${i + 1}`} width={110} unit="m" least={0.1} value={r.most_width} disabled={disabled} onChange={(most_width) => set(i, { most_width })} />
              </td>
              <td>
                <Button type="text" size="small" aria-label={`Remove slope ${i + 1}`} icon={<DeleteOutlined />} disabled={disabled} onClick={() => change({ ...half, ladder: half.ladder.filter((_, j) => j !== i) })} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="toolbar" style={{ border: 0, background: "none" }}>
        <Button size="small" disabled={disabled} onClick={() => add("cut")}>
          Add cut slope
        </Button>
        <Button size="small" disabled={disabled} onClick={() => add("fill")}>
          Add fill slope
        </Button>
        <span className="quiet">Tried from the top; the first that meets the ground is taken.</span>
      </div>
    </>
  );
}
