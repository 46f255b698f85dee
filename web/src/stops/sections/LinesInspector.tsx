/** Groups of section lines, the lines of one, and what is known of the chosen line. */
import { Button, Checkbox, Dropdown, Input, Select } from "antd";
import { useState } from "react";
import { fileOf, sendFile } from "../../api/client";
import { OpenFile } from "../../common/OpenFile";
import { DEFAULTS } from "../../api/defaults";
import { type DocumentOf, useDocumentsOf, useMayEdit, useOfRoad } from "../../api/hooks";
import { freshKey, useSave } from "../../api/save";
import { ChainageField } from "../../common/ChainageField";
import { Inspector, Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { Remove } from "../../common/Remove";
import { useSurvey } from "../../plan/hooks";
import { AddLines } from "./AddLines";
import { KINDS, type Line, type LineGroup, type PlacedGroup } from "./lines";
import { LineTable } from "./LineTable";
import type { Picking } from "./picking";
import { WidthsForm } from "./WidthsForm";

interface Props {
  groupKey: string | undefined;
  saved: DocumentOf<"section_lines"> | undefined;
  spec: LineGroup | undefined;
  change: (spec: LineGroup) => void;
  placed: PlacedGroup | undefined;
  part: number;
  select: (key: string, part: number) => void;
  pick: (picking: Picking) => void;
  others: string[];
  setOthers: (keys: string[]) => void;
}

/** A group in the hand: what is removed, shown, and read from a file. */
function useLinesInspector({ groupKey, saved, spec, change, placed, part, select, pick, others, setOthers }: Props) {
  const of = useOfRoad();
  const mayEdit = useMayEdit();
  const save = useSave();
  const documents = useDocumentsOf("section_lines");
  const surfaces = useDocumentsOf("surface").filter((d) => d.key !== "main");
  const codes = useSurvey().data?.codes.filter((c) => c.lines > 0) ?? [];
  const [adding, setAdding] = useState(false);
  const begin = async (group: LineGroup) => {
    const key = freshKey("section_lines");
    if ((await save({ kind: "section_lines", key, version: 0, spec: group })) !== null) select(key, 0);
  };
  const open = async (file: File) => begin(await sendFile<LineGroup>(fileOf(of, "lines/read"), file));
  const fresh = (): LineGroup => ({ ...DEFAULTS.LineGroup, name: `Lines ${documents.length + 1}`, lines: [], widths: DEFAULTS.FixedWidth });
  const file = (form: "json" | "csv") => fileOf(of, `lines/${groupKey}/file?form=${form}`);
  const line = placed?.lines[part];
  const drawn = line ? spec?.lines[line.number] : undefined;
  const set = (next: Line) => change({ ...spec!, lines: spec!.lines.map((l, i) => (i === line!.number ? next : l)) });
  return {
    groupKey,
    saved,
    spec,
    change,
    placed,
    select,
    pick,
    others,
    setOthers,
    mayEdit,
    documents,
    surfaces,
    codes,
    adding,
    setAdding,
    begin,
    open,
    fresh,
    file,
    line,
    drawn,
    set,
  };
}
type LinesInspectorWork = ReturnType<typeof useLinesInspector>;

export function LinesInspector(props: Props) {
  const work = useLinesInspector(props);
  const { groupKey, saved, spec, change, select, mayEdit, documents, adding, setAdding, begin, open, fresh, file } = work;
  return (
    <Inspector title="Section lines">
      <Row label="Group">
        <Select
          size="small"
          aria-label="Group of lines"
          placeholder="none yet"
          value={groupKey}
          options={documents.map((d) => ({ value: d.key, label: d.spec.name }))}
          onChange={(k) => select(k, 0)}
        />
      </Row>
      <div style={{ display: "flex", gap: 6, flexWrap: "wrap", margin: "6px 0" }}>
        {mayEdit && (
          <>
            <Button size="small" type={documents.length ? "default" : "primary"} onClick={() => void begin(fresh())}>
              New group
            </Button>
            <OpenFile label="Open file" accept=".json,.csv,.txt,.xlsx,.ods,.xls" take={open} />
          </>
        )}
        {groupKey && (
          <Dropdown
            menu={{
              items: [
                { key: "json", label: <a href={file("json")}>All of it (JSON)</a> },
                { key: "csv", label: <a href={file("csv")}>Chainage, angle, widths (CSV)</a> },
              ],
            }}
          >
            <Button size="small">Save as file</Button>
          </Dropdown>
        )}
        {saved && mayEdit && <Remove document={saved} label="Remove group" />}
      </div>
      {spec && <GroupFields {...work} spec={spec} />}
      {adding && spec && <AddLines close={() => setAdding(false)} add={(lines) => change({ ...spec, lines: [...spec.lines, ...lines] })} />}
    </Inspector>
  );
}

function GroupFields({
  groupKey,
  spec,
  change,
  placed,
  select,
  pick,
  others,
  setOthers,
  mayEdit,
  surfaces,
  codes,
  setAdding,
  line,
  drawn,
  set,
}: LinesInspectorWork & { spec: NonNullable<LinesInspectorWork["spec"]> }) {
  return (
    <>
      <Row label="Name">
        <NameField label="Name of the group" value={spec.name} disabled={!mayEdit} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <WidthsForm value={spec.widths} disabled={!mayEdit} onChange={(widths) => change({ ...spec, widths })} />
      <h3 style={{ margin: "12px 0 4px" }}>Lines</h3>
      {mayEdit && (
        <div style={{ display: "flex", gap: 6, flexWrap: "wrap" }}>
          <Button size="small" type="primary" onClick={() => setAdding(true)}>
            Add lines
          </Button>
          <Dropdown
            menu={{
              items: [
                { key: "square", label: "A square line" },
                { key: "skew", label: "A skew, by two places" },
                { key: "path", label: "A bent path" },
              ],
              onClick: ({ key }) => pick(key === "path" ? { what: "path", points: [] } : { what: key as "square" | "skew" }),
            }}
          >
            <Button size="small">Pick in plan</Button>
          </Dropdown>
        </div>
      )}
      <div style={{ margin: "8px 0" }}>
        <LineTable
          lines={spec.lines}
          placed={placed}
          current={line?.number ?? -1}
          choose={(i) => select(groupKey!, placed?.lines.find((p) => p.number === i)?.part ?? 0)}
          disabled={!mayEdit}
          change={(lines) => change({ ...spec, lines })}
        />
      </div>
      {line && drawn && <LineForm line={drawn} set={set} disabled={!mayEdit} widths={[line.left, line.right]} />}
      <h3 style={{ margin: "12px 0 4px" }}>Shown on the lines</h3>
      <Row label="Other surfaces">
        <Select
          mode="multiple"
          size="small"
          aria-label="Other surfaces"
          placeholder="none"
          value={others}
          options={surfaces.map((s) => ({ value: s.key, label: s.spec.name }))}
          onChange={setOthers}
        />
      </Row>
      <Row label="Marked lines">
        <Select
          mode="multiple"
          size="small"
          aria-label="Marked survey lines"
          placeholder="codes"
          disabled={!mayEdit}
          value={spec.marked_codes}
          options={codes.map((c) => ({ value: c.code, label: c.code }))}
          onChange={(marked_codes) => change({ ...spec, marked_codes })}
        />
      </Row>
      <Checkbox disabled={!mayEdit} checked={spec.marked_guides} onChange={(e) => change({ ...spec, marked_guides: e.target.checked })}>
        Mark guides where they cross
      </Checkbox>
      <Offsets value={spec.levels_at} disabled={!mayEdit} onChange={(levels_at) => change({ ...spec, levels_at })} />
      <Row label="Levels every">
        <NumberField
          label="Levels every"
          unit="m"
          least={0}
          most={500}
          value={spec.levels_every ?? 0}
          disabled={!mayEdit}
          onChange={(v) => change({ ...spec, levels_every: v > 0 ? v : null })}
        />
      </Row>
    </>
  );
}

function LineForm({ line, set, disabled, widths }: { line: Line; set: (l: Line) => void; disabled: boolean; widths: [number, number] }) {
  return (
    <div className="card" style={{ padding: 8, margin: "8px 0" }}>
      <strong>{KINDS[line.kind]}</strong>
      <Row label="Name">
        <Input
          size="small"
          aria-label="Name of the line"
          maxLength={80}
          disabled={disabled}
          value={line.name}
          onChange={(e) => set({ ...line, name: e.target.value })}
        />
      </Row>
      {line.kind === "at" && (
        <>
          <Row label="Chainage">
            <ChainageField label="Chainage of this line" value={line.chainage} disabled={disabled} onChange={(chainage) => set({ ...line, chainage })} />
          </Row>
          <Row label="Right of square">
            <NumberField
              label="Angle of this line"
              unit="°"
              least={-80}
              most={80}
              value={line.angle_deg}
              disabled={disabled}
              onChange={(angle_deg) => set({ ...line, angle_deg })}
            />
          </Row>
        </>
      )}
      {line.kind === "regular" && (
        <>
          <Row label="From">
            <ChainageField
              label="From of these lines"
              value={line.from_chainage}
              disabled={disabled}
              onChange={(from_chainage) => set({ ...line, from_chainage })}
            />
          </Row>
          <Row label="To">
            <ChainageField label="To of these lines" value={line.to_chainage} disabled={disabled} onChange={(to_chainage) => set({ ...line, to_chainage })} />
          </Row>
          <Row label="Every">
            <NumberField
              label="Interval of these lines"
              unit="m"
              least={0.5}
              most={5000}
              value={line.interval}
              disabled={disabled}
              onChange={(interval) => set({ ...line, interval })}
            />
          </Row>
        </>
      )}
      {line.kind === "run" && (
        <Row label="Past both">
          <NumberField
            label="Past of this line"
            unit="m"
            least={0}
            most={100}
            value={line.past}
            disabled={disabled}
            onChange={(past) => set({ ...line, past })}
          />
        </Row>
      )}
      {(line.kind === "at" || line.kind === "regular" || line.kind === "structure") &&
        (["left", "right"] as const).map((side, i) => (
          <Row key={side} label={`${side === "left" ? "Left" : "Right"}${line[side] === null ? ", of the group" : ""}`}>
            <span style={{ display: "flex", gap: 4 }}>
              <NumberField
                label={`Own width ${side}`}
                unit="m"
                least={0}
                most={500}
                value={line[side] ?? widths[i]!}
                disabled={disabled}
                onChange={(v) => set({ ...line, [side]: v })}
              />
              {line[side] !== null && !disabled && (
                <Button size="small" onClick={() => set({ ...line, [side]: null })}>
                  Group's
                </Button>
              )}
            </span>
          </Row>
        ))}
      <Row label="Remark">
        <Input.TextArea
          size="small"
          autoSize={{ minRows: 1, maxRows: 4 }}
          aria-label="Remark of the line"
          maxLength={400}
          disabled={disabled}
          value={line.remark}
          onChange={(e) => set({ ...line, remark: e.target.value })}
        />
      </Row>
    </div>
  );
}

/** Distances at which levels are listed: a list of numbers. */
function Offsets({ value, onChange, disabled }: { value: number[]; onChange: (v: number[]) => void; disabled: boolean }) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = value.join("; ");
  const numbers = (typed ?? shown)
    .split(/[;\s]+|,\s+/)
    .filter(Boolean)
    .map((t) => Number(t.replace("−", "-").replace(",", ".")));
  const wrong = numbers.some((n) => !Number.isFinite(n) || Math.abs(n) > 1000) || numbers.length > 100;
  const commit = () => {
    if (typed === null || wrong) return;
    const next = [...new Set(numbers)].sort((a, b) => a - b);
    if (next.join() !== value.join()) onChange(next);
    setTyped(null);
  };
  return (
    <Row label="Levels at">
      <Input
        size="small"
        className="mono"
        aria-label="Levels at"
        placeholder="-7.5; -5; 0; 5; 7.5"
        title={wrong ? "Numbers in metres, divided by semicolons or spaces; at most 100" : undefined}
        status={wrong ? "error" : undefined}
        disabled={disabled}
        value={typed ?? shown}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={commit}
        onPressEnter={commit}
        onKeyDown={(e) => e.key === "Escape" && setTyped(null)}
      />
    </Row>
  );
}
