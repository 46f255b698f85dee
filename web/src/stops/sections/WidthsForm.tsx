/** How far the lines of a group reach. */
import { Select } from "antd";
import { useSummary } from "../../api/hooks";
import { AlongTable, chainageOf, likeRow } from "../../common/cells/AlongTable";
import { numbers } from "../../common/cells/columns";
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
type WidthRow = Extract<Widths, { by: "table" }>["rows"][number];

export function WidthsForm({ value, onChange, disabled }: { value: Widths; onChange: (w: Widths) => void; disabled: boolean }) {
  const edge = useEdgeLine(20);
  const start = useSummary().data?.start ?? 0;
  const pick = (by: Widths["by"]) => {
    if (by === "fixed") onChange(DEFAULTS.FixedWidth);
    else if (by === "boundary") onChange(DEFAULTS.ToBoundary);
    else if (by === "line") onChange({ ...DEFAULTS.ToLine, left_line: edge, right_line: edge });
    else onChange({ by: "table", rows: [{ chainage: start, left: 12, right: 12 }] });
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
        <AlongTable<WidthRow>
          label="Widths by chainage"
          height={240}
          rows={value.rows}
          columns={WIDTH}
          disabled={disabled}
          change={(rows) => onChange({ by: "table", rows })}
          least={1}
          fresh={(chainage, all, i) => ({ left: 12, right: 12, ...likeRow(all, i), chainage })}
        />
      )}
    </>
  );
}

/** Widths may be typed with the sign of their side. */
const width = (title: string, side: "left" | "right") =>
  numbers<WidthRow>({
    title,
    unit: "m",
    least: -500,
    most: 500,
    of: (r) => r[side],
    put: (r, v) => ({ ...r, [side]: Math.abs(v) }),
    label: (_, i) => `Width ${i + 1} to the ${side}`,
  });

const WIDTH = [chainageOf<WidthRow>((i) => `of width ${i + 1}`), width("Left m", "left"), width("Right m", "right")];
