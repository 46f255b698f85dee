/** Which column of a table of points holds what: said in the heads of the columns, over the rows as they stand in the file. */
import { Button, Checkbox, Input, Segmented, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useDocumentsOf } from "../../api/hooks";
import { freshKey, useSave } from "../../api/save";
import { NumberField } from "../../common/NumberField";
import { choicesOf } from "../../common/words";
import { FieldCodes } from "./FieldCodes";
import { DRAWING_UNITS } from "./Layers";
import { Rulers } from "./Rulers";
import "./columns.css";

export type Uploaded = Schemas["UploadOut"];
export type Mapping = Schemas["ColumnMapping"];
type Unit = Mapping["unit"];
type Encoding = Uploaded["encoding"];
/** What a column may hold, and whether some column must. */
const FIELDS = {
  number: ["Number", false],
  east: ["Easting", true],
  north: ["Northing", true],
  level: ["Level", true],
  code: ["Code", false],
  line: ["Line", false],
  order: ["Order", false],
} as const;
type Field = keyof typeof FIELDS;
const ORDER = Object.keys(FIELDS) as Field[];
const DELIMITERS = [",", ";", "\t", " ", "|"];
const NAMES: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", " ": "space", "|": "bar" };
/** Stands in the list of delimiters for columns that begin at fixed places. */
const WIDTHS = "widths";
/** The first rows taken apart anew. breaks: where columns begin, guessed where there are none of them; encoding: of the letters. */
export interface Division {
  delimiter?: string;
  skip?: number;
  breaks?: number[];
  encoding?: Encoding;
  sheet?: string;
}
const { metre, foot, us_survey_foot } = DRAWING_UNITS;
export const UNITS: Record<Unit, string> = { metre, foot, us_survey_foot };
export const SIGNS: Record<Mapping["decimal"], string> = { ".": "point", ",": "comma" };
export const ENCODINGS: Record<Encoding, string> = {
  "utf-8": "UTF-8",
  cp1252: "Western",
  cp1250: "Central European",
  cp1251: "Cyrillic",
  cp1253: "Greek",
  cp1254: "Turkish",
  cp1255: "Hebrew",
  cp1256: "Arabic",
  cp1257: "Baltic",
  cp1258: "Vietnamese",
  shift_jis: "Japanese",
  gb18030: "Chinese",
  big5: "Chinese, traditional",
  euc_kr: "Korean",
  iso8859_2: "Central European, ISO",
  koi8_r: "Cyrillic, KOI8",
  "utf-16": "UTF-16",
  "utf-16-le": "UTF-16, small end first",
  "utf-16-be": "UTF-16, great end first",
};

/** Points by coordinates, or levels along the alignment. */
const ALONG: Record<Mapping["along"], string> = {
  no: "Points by coordinates",
  rows: "Levels by chainage and offset",
  offsets: "A row a chainage, offsets above",
};
/** What a field is called in a kind of table, and which fields a column of it can hold. */
const FIELDS_OF: Record<Mapping["along"], Partial<Record<Field, string>>> = {
  no: {},
  rows: { east: "Chainage", north: "Offset" },
  offsets: { east: "Chainage" },
};
const HELD: Record<Mapping["along"], readonly Field[]> = {
  no: ORDER,
  rows: ["east", "north", "level", "code"],
  offsets: ["east"],
};
const titleOf = (field: Field, along: Mapping["along"]) => FIELDS_OF[along][field] ?? FIELDS[field][0];

/** Fields that no column holds yet and one must. */
export const missing = (mapping: Mapping | null) => {
  const along = mapping?.along ?? "no";
  return HELD[along].filter((f) => FIELDS[f][1] && mapping?.[f] == null).map((f) => titleOf(f, along));
};

interface Props {
  file: Uploaded;
  mapping: Mapping;
  onChange: (m: Mapping) => void;
  onDivide: (division: Division) => Promise<void>;
  fromCodes: boolean;
  setFromCodes: (yes: boolean) => void;
}

export function Columns({ file, mapping, onChange, onDivide, fromCodes, setFromCodes }: Props) {
  const fixed = mapping.breaks.length > 0;
  const divide = (said: Partial<Division>) =>
    onDivide({
      delimiter: mapping.delimiter,
      skip: mapping.skip,
      breaks: fixed ? mapping.breaks : undefined,
      encoding: file.encoding,
      sheet: mapping.sheet,
      ...said,
    });
  const open = missing(mapping);
  return (
    <>
      <div className="columns-row">
        {file.sheets.length > 1 && (
          <>
            <span className="quiet">Sheet</span>
            <Select
              size="small"
              style={{ width: 130 }}
              aria-label="Sheet of the workbook"
              value={mapping.sheet || file.sheets[0]}
              options={file.sheets.map((value) => ({ value, label: value }))}
              onChange={(sheet) => divide({ sheet, delimiter: undefined, skip: undefined, breaks: undefined })}
            />
          </>
        )}
        {file.sheets.length === 0 && (
          <>
            <Said
              words="letters"
              label="Letters of the file"
              width={140}
              value={file.encoding}
              of={ENCODINGS}
              onChange={(encoding) => void divide({ encoding })}
            />
            <span className="quiet">Between columns</span>
            <Select
              size="small"
              style={{ width: 110 }}
              aria-label="Delimiter"
              value={fixed ? WIDTHS : mapping.delimiter}
              options={[...DELIMITERS.map((d) => ({ value: d, label: NAMES[d] })), { value: WIDTHS, label: "fixed widths" }]}
              onChange={(d) => (d === WIDTHS ? divide({ breaks: [] }) : divide({ delimiter: d, skip: undefined, breaks: undefined }))}
            />
          </>
        )}
        <Said
          words="decimal sign"
          label="Decimal sign"
          width={92}
          value={mapping.decimal}
          of={SIGNS}
          onChange={(decimal) => onChange({ ...mapping, decimal })}
        />
        <Said words="in" label="Unit of the file" width={128} value={mapping.unit} of={UNITS} onChange={(unit) => onChange({ ...mapping, unit })} />
      </div>
      <div className="columns-row">
        <Checkbox checked={mapping.header} onChange={(e) => onChange({ ...mapping, header: e.target.checked })}>
          The first row holds headings
        </Checkbox>
        <span className="quiet">Lines before it</span>
        <NumberField label="Lines before it" unit="" least={0} most={1000} width={64} value={mapping.skip} onChange={(n) => divide({ skip: Math.round(n) })} />
        <span style={{ flex: 1 }} />
        <Kept
          mapping={mapping}
          use={(kept) =>
            onDivide({ ...kept, breaks: kept.breaks.length > 0 ? kept.breaks : undefined, encoding: kept.encoding ?? undefined }).then(() => {
              // The rows are divided as it says before its columns are named.
              setFromCodes(kept.grammar != null);
              onChange(kept);
            })
          }
        />
      </div>
      {fixed && <Rulers lines={file.lines} breaks={mapping.breaks} onChange={(breaks) => divide({ breaks })} />}
      <div className="columns-row">
        <span className={open.length > 0 ? "columns-open" : "quiet"}>
          {open.length > 0 ? `Say in its head which column holds the ${open.join(", the ").toLowerCase()}.` : "What a column holds is changed in its head."}
        </span>
        <span style={{ flex: 1 }} />
        <Select
          size="small"
          style={{ width: 232 }}
          aria-label="Kind of table"
          value={mapping.along}
          options={choicesOf(ALONG)}
          onChange={(along) => {
            if (along !== "no") setFromCodes(false);
            // Of a row a chainage only the chainages have a column of their own.
            const rest = along === "offsets" ? { north: mapping.east, level: mapping.east, code: null } : {};
            onChange({ ...mapping, ...rest, along, grammar: null });
          }}
        />
        {mapping.along === "no" && mapping.code != null && (
          <Segmented<"column" | "codes">
            size="small"
            aria-label="Lines come from"
            value={fromCodes ? "codes" : "column"}
            options={[
              { value: "column", label: "Lines by a column" },
              { value: "codes", label: "Lines from the codes" },
            ]}
            onChange={(by) => {
              setFromCodes(by === "codes");
              onChange({ ...mapping, grammar: null });
            }}
          />
        )}
      </div>
      <Rows file={file} mapping={mapping} onChange={onChange} low={fromCodes && mapping.code != null} />
      {fromCodes && mapping.code != null && open.length === 0 && (
        <FieldCodes upload={file.id} mapping={mapping} onChange={(grammar) => onChange({ ...mapping, grammar })} />
      )}
    </>
  );
}

interface SaidProps<T extends string> {
  words: string;
  label: string;
  width: number;
  value: T;
  of: Record<T, string>;
  onChange: (value: T) => void;
}

/** How the file is read, in a word of a list behind what it is about. */
function Said<T extends string>({ words, label, width, value, of, onChange }: SaidProps<T>) {
  return (
    <>
      <span className="quiet">{words}</span>
      <Select<T> size="small" style={{ width }} aria-label={label} value={value} options={choicesOf(of)} onChange={onChange} />
    </>
  );
}

/** The rows of the file, each column under what it holds. low: there is something below that needs the room. */
function Rows({ file, mapping, onChange, low }: Pick<Props, "file" | "mapping" | "onChange"> & { low: boolean }) {
  const width = Math.max(...file.rows.map((row) => row.length), 0);
  const along = mapping.along;
  const held = HELD[along];
  const holds = (column: number) => held.find((f) => mapping[f] === column) ?? null;
  const say = (column: number, field: Field | null) => {
    const before = holds(column);
    const same = along === "offsets" && field === "east" ? { north: column, level: column } : {};
    onChange({ ...mapping, ...(before && { [before]: null }), ...(field && { [field]: column }), ...same });
  };
  const nameOf = (column: number) => (mapping.header && file.rows[0]?.[column]?.trim()) || `${column + 1}`;
  return (
    <div tabIndex={0} className="columns-rows" style={{ maxHeight: low ? 132 : 300 }}>
      <table className="grid-table mono" aria-label="First rows">
        <thead>
          <tr>
            {Array.from({ length: width }, (_, i) => (
              <th key={i} className={`column-head ${holds(i) ?? "none"}`}>
                <Select<Field | "">
                  size="small"
                  variant="borderless"
                  popupMatchSelectWidth={false}
                  aria-label={`Column ${nameOf(i)}`}
                  value={holds(i) ?? ""}
                  options={[{ value: "", label: along === "offsets" ? "levels" : "not taken" }, ...held.map((f) => ({ value: f, label: titleOf(f, along) }))]}
                  onChange={(f) => say(i, f || null)}
                />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {file.rows.map((row, i) => (
            <tr key={i} className={i === 0 && mapping.header ? "headings" : undefined}>
              {row.map((cell, j) => (
                <td key={j} className={`column-cell ${holds(j) ?? "none"}`}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Mappings that were kept under a name, and keeping this one. */
function Kept({ mapping, use }: { mapping: Mapping; use: (kept: Mapping) => Promise<void> }) {
  const saved = useDocumentsOf("mapping");
  const save = useSave();
  const [name, setName] = useState("");
  const keep = async () => {
    if ((await save({ kind: "mapping", key: freshKey("mapping"), version: 0, spec: { name: name.trim(), mapping } })) !== null) setName("");
  };
  return (
    <>
      {saved.length > 0 && (
        <Select<string | null>
          size="small"
          style={{ width: 150 }}
          aria-label="Saved mapping"
          placeholder="Use a saved mapping"
          value={null}
          options={saved.map((d) => ({ value: d.key, label: d.spec.name }))}
          onChange={(key) => void use(saved.find((d) => d.key === key)!.spec.mapping)}
        />
      )}
      <Input
        size="small"
        style={{ width: 110 }}
        aria-label="Name for this mapping"
        placeholder="Keep as"
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
      />
      <Button size="small" disabled={!name.trim()} onClick={() => void keep()}>
        Keep mapping
      </Button>
    </>
  );
}
