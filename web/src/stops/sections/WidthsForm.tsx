/** How far the lines of a group reach. */
import { Button, Input, Modal, Select } from "antd";
import { useState } from "react";
import { chainageText, parseChainage } from "../../app/chainage";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { SourceRow, useEdgeLine } from "../../common/SourceRow";
import { DEFAULTS } from "../../api/defaults";
import type { Widths } from "./lines";

const WAYS: Record<Widths["by"], string> = {
  fixed: "Fixed",
  table: "By a table along the road",
  boundary: "To the surface's boundary",
  line: "To a line and a margin",
};
type Rows = Extract<Widths, { by: "table" }>["rows"];

export function WidthsForm({ value, onChange, disabled }: { value: Widths; onChange: (w: Widths) => void; disabled: boolean }) {
  const edge = useEdgeLine(20);
  const [pasting, setPasting] = useState(false);
  const pick = (by: Widths["by"]) => {
    if (by === "fixed") onChange(DEFAULTS.FixedWidth);
    else if (by === "boundary") onChange(DEFAULTS.ToBoundary);
    else if (by === "line") onChange({ ...DEFAULTS.ToLine, left_line: edge, right_line: edge });
    else setPasting(true);
  };
  return (
    <>
      <Row label="Widths">
        <Select<Widths["by"]>
          size="small"
          aria-label="Widths of the group"
          disabled={disabled}
          value={value.by}
          options={(Object.keys(WAYS) as Widths["by"][]).map((by) => ({ value: by, label: WAYS[by] }))}
          onChange={pick}
        />
      </Row>
      {value.by === "fixed" && (
        <>
          {(["left", "right"] as const).map((side) => (
            <Row key={side} label={side === "left" ? "Left" : "Right"}>
              <NumberField
                label={`Width of the group ${side}`}
                unit="m"
                least={0}
                most={500}
                value={value[side]}
                disabled={disabled}
                onChange={(v) => onChange({ ...value, [side]: v })}
              />
            </Row>
          ))}
        </>
      )}
      {value.by === "boundary" && (
        <Row label="At most">
          <NumberField
            label="Width at most"
            unit="m"
            least={0.1}
            most={500}
            value={value.most}
            disabled={disabled}
            onChange={(most) => onChange({ ...value, most })}
          />
        </Row>
      )}
      {value.by === "line" && (
        <>
          {(["left_line", "right_line"] as const).map((side) => (
            <SourceRow
              key={side}
              label={side === "left_line" ? "Left to" : "Right to"}
              value={value[side]}
              disabled={disabled}
              linesOnly
              onChange={(s) => onChange({ ...value, [side]: s })}
            />
          ))}
          <Row label="Past it">
            <NumberField
              label="Margin past the line"
              unit="m"
              least={-100}
              most={100}
              value={value.plus}
              disabled={disabled}
              onChange={(plus) => onChange({ ...value, plus })}
            />
          </Row>
          <Row label="Without one">
            <NumberField
              label="Width where there is no line"
              unit="m"
              least={0.1}
              most={500}
              value={value.otherwise}
              disabled={disabled}
              onChange={(otherwise) => onChange({ ...value, otherwise })}
            />
          </Row>
        </>
      )}
      {value.by === "table" && (
        <>
          <table className="grid-table" aria-label="Widths by chainage">
            <thead>
              <tr>
                <th className="num">Chainage</th>
                <th className="num">Left m</th>
                <th className="num">Right m</th>
              </tr>
            </thead>
            <tbody>
              {value.rows.slice(0, 8).map((r) => (
                <tr key={r.chainage}>
                  <td className="num">{chainageText(r.chainage)}</td>
                  <td className="num">{r.left.toFixed(3)}</td>
                  <td className="num">{r.right.toFixed(3)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="quiet" style={{ margin: "4px 0" }}>
            {value.rows.length > 8 ? `and ${value.rows.length - 8} more rows` : `${value.rows.length} row${value.rows.length === 1 ? "" : "s"}`}, straight in
            between{" "}
            <Button size="small" disabled={disabled} onClick={() => setPasting(true)}>
              Change the table
            </Button>
          </p>
        </>
      )}
      {pasting && (
        <PasteWidths
          rows={value.by === "table" ? value.rows : []}
          close={() => setPasting(false)}
          take={(rows) => {
            onChange({ by: "table", rows });
            setPasting(false);
          }}
        />
      )}
    </>
  );
}

function PasteWidths({ rows, close, take }: { rows: Rows; close: () => void; take: (rows: Rows) => void }) {
  const [text, setText] = useState(rows.map((r) => `${chainageText(r.chainage)}\t${r.left}\t${r.right}`).join("\n"));
  const found = readWidths(text);
  return (
    <Modal
      title="Widths by chainage"
      open
      okText={typeof found === "string" ? "Take the rows" : `Take ${found.length} row${found.length === 1 ? "" : "s"}`}
      okButtonProps={{ disabled: typeof found === "string" }}
      onCancel={close}
      onOk={() => typeof found !== "string" && take(found)}
    >
      <p className="quiet">Chainage, left and right in metres on each row, typed or pasted from a spreadsheet. Between rows the widths run straight.</p>
      <Input.TextArea
        aria-label="Widths as text"
        className="mono"
        autoFocus
        rows={12}
        value={text}
        placeholder={"0+000\t12\t15\n0+250\t18\t15"}
        onChange={(e) => setText(e.target.value)}
      />
      {typeof found === "string" && text.trim() !== "" && (
        <p role="alert" style={{ color: "var(--fault)" }}>
          {found}
        </p>
      )}
    </Modal>
  );
}

/** Rows of chainage, left and right out of text, or what is wrong with it. Widths may be typed with a sign. */
export function readWidths(text: string): Rows | string {
  const rows: Rows = [];
  for (const [i, line] of text.split(/\r\n|\n|\r/).entries()) {
    if (!line.trim()) continue;
    const divider = line.includes("\t") ? "\t" : line.includes(";") ? ";" : /,\s/.test(line) || (line.match(/,/g)?.length ?? 0) > 1 ? "," : /\s+/;
    const cells = line
      .trim()
      .split(divider)
      .map((c) => c.trim());
    const number = (c: string | undefined) => Number((c ?? "").replace(divider === "," ? "" : ",", divider === "," ? "" : ".").replace("−", "-") || "x");
    const chainage = parseChainage(divider === "," ? cells[0]! : cells[0]!.replace(",", "."));
    const [left, right] = [Math.abs(number(cells[1])), Math.abs(number(cells[2]))];
    if (chainage === null || Number.isNaN(left) || Number.isNaN(right)) {
      if (rows.length === 0 && i === 0 && !/\d/.test(cells[0]!)) continue; // a heading
      return `Row ${i + 1}: write a chainage, the width to the left and the width to the right`;
    }
    if (left > 500 || right > 500) return `Row ${i + 1}: widths are at most 500 m`;
    if (rows.length && chainage <= rows.at(-1)!.chainage) return `Row ${i + 1}: chainages must rise`;
    rows.push({ chainage, left, right });
  }
  return rows.length ? rows : "There is no row yet";
}
