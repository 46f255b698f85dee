/** Rows of figures beneath a drawing, and surfaces on a section, as tables: each row with how it is written or drawn. */
import { useMemo } from "react";
import { DEFAULTS } from "../../api/defaults";
import { useDocumentsOf } from "../../api/hooks";
import { CellTable } from "../../common/cells/CellTable";
import { choices, type Column, drawn, numbersOrNone, phrases, words } from "../../common/cells/columns";
import { choicesOf } from "../../common/words";
import type { Of } from "./drawings";
import { ColourField } from "../../common/ColourField";

type SectionRow = Of<"sections">["rows"][number];
type LongRow = Of<"long">["rows"][number];
type SurfaceLine = Of<"sections">["surfaces"][number];
interface Props<Row> {
  rows: Row[];
  change: (rows: Row[]) => void;
  disabled: boolean;
}

const SECTION_KINDS = choicesOf<SectionRow["kind"]>({
  point: "Name of the point",
  offset: "Offset",
  distance: "Distance between points",
  existing: "Existing level",
  milled: "Milled level",
  design: "Design level",
  difference: "Difference",
  depth: "Depth of overlay",
  crossfall: "Crossfall between points",
  formation: "Formation level",
  underside: "Underside of a course",
  surface: "Another surface",
  east: "East",
  north: "North",
});
const LONG_KINDS = choicesOf<LongRow["kind"]>({
  chainage: "Chainage",
  existing: "Existing level at the hinge",
  design: "Design level at the hinge",
  difference: "Difference",
  milled: "Milled depth",
  left_edge: "Design level at the left edge",
  right_edge: "Design level at the right edge",
  grade: "Grade",
});
const LETTERING = [{ value: "", label: "as the style" }, ...["1.8", "2.5", "3.5"].map((h) => ({ value: h, label: `${h} mm` }))];

/** How a row is written: the same for every kind of drawing. */
function writing<R extends SectionRow | LongRow>(): Column<R>[] {
  return [
    words<R>({ title: "Heading", width: 96, most: 40, of: (r) => r.title, put: (r, title) => ({ ...r, title }), label: (_, i) => `Heading of row ${i + 1}` }),
    numbersOrNone<R>({
      title: "Decimals",
      width: 62,
      unit: "",
      none: "usual",
      least: 0,
      most: 4,
      of: (r) => r.decimals ?? null,
      put: (r, v) => ({ ...r, decimals: v === null ? null : Math.round(v) }),
      label: (_, i) => `Decimals of row ${i + 1}`,
    }),
    choices<R, string>({
      title: "Lettering",
      width: 84,
      options: LETTERING,
      of: (r) => (r.lettering ? String(r.lettering) : ""),
      put: (r, v) => ({ ...r, lettering: v === "" ? null : Number(v) }),
      label: (_, i) => `Lettering of row ${i + 1}`,
    }),
    numbersOrNone<R>({
      title: "Height",
      help: "Least height of the row, mm; it grows with its longest figure",
      width: 58,
      unit: "mm",
      none: "usual",
      least: 3,
      most: 60,
      of: (r) => r.height ?? null,
      put: (r, height) => ({ ...r, height }),
      label: (_, i) => `Height of row ${i + 1}`,
    }),
  ];
}

const SECTION_COLUMNS = (courses: string[], surfaces: string[]): Column<SectionRow>[] => [
  choices<SectionRow, SectionRow["kind"]>({
    title: "Row",
    width: 150,
    options: SECTION_KINDS,
    of: (r) => r.kind,
    put: (r, kind) => ({ ...r, kind, of: "" }),
    label: (_, i) => `Row ${i + 1}`,
  }),
  phrases<SectionRow, string>({
    title: "Of",
    help: "Of an underside the course, nothing for every one; of a surface its name",
    width: 96,
    of: (r) => r.of,
    put: (r, of) => ({ ...r, of }),
    write: (of) => of,
    read: (text) => (text.trim().length > 80 ? { value: null, wrong: "At most 80 letters" } : { value: text.trim(), wrong: null }),
    suggestions: [...courses, ...surfaces],
    empty: { value: "", words: "every one" },
    off: (r) => (r.kind === "underside" || r.kind === "surface" ? null : ""),
    label: (_, i) => `What row ${i + 1} is of`,
  }),
  ...writing<SectionRow>(),
];
const LONG_COLUMNS: Column<LongRow>[] = [
  choices<LongRow, LongRow["kind"]>({
    title: "Row",
    width: 170,
    options: LONG_KINDS,
    of: (r) => r.kind,
    put: (r, kind) => ({ ...r, kind }),
    label: (_, i) => `Row ${i + 1}`,
  }),
  ...writing<LongRow>(),
];

/** The first kind that no row has yet. */
const free = <K extends string>(kinds: { value: K }[], rows: readonly { kind: K }[]) =>
  (kinds.find((k) => rows.every((r) => r.kind !== k.value)) ?? kinds[0]!).value;

export function SectionRows({ rows, change, disabled }: Props<SectionRow>) {
  const makeUps = useDocumentsOf("make_up");
  const surfaces = useDocumentsOf("surface");
  const columns = useMemo(() => {
    const courses = makeUps.flatMap((m) => m.spec.courses.map((c) => c.name));
    return SECTION_COLUMNS(
      [...new Set(courses)],
      surfaces.map((s) => s.spec.name),
    );
  }, [makeUps, surfaces]);
  const fresh = (all: readonly SectionRow[]) => ({ ...DEFAULTS.SectionRow, kind: free(SECTION_KINDS, all) });
  return <Rows label="Rows of figures" least={1} {...{ rows, columns, change, disabled, fresh }} />;
}

export function LongRows({ rows, change, disabled }: Props<LongRow>) {
  const fresh = (all: readonly LongRow[]) => ({ ...DEFAULTS.LongRow, kind: free(LONG_KINDS, all) });
  return <Rows label="Rows of figures" least={1} columns={LONG_COLUMNS} {...{ rows, change, disabled, fresh }} />;
}

interface RowsProps<R> extends Props<R> {
  label: string;
  columns: Column<R>[];
  fresh: (all: readonly R[]) => R;
  least?: number;
}

/** Rows of a style, in an order of their own, under a heading. */
function Rows<R>(props: RowsProps<R>) {
  return (
    <>
      <h3 style={{ margin: "12px 0 4px" }}>{props.label}</h3>
      <CellTable<R> movable {...props} />
    </>
  );
}

const SURFACES = choicesOf<SurfaceLine["of"]>({ existing: "Existing", milled: "Milled", design: "Finished", other: "Another" });
const LINES = choicesOf<SurfaceLine["line"]>({ solid: "solid", dashed: "dashed", dotted: "dotted", chain: "chain" });
const WIDTHS = ["0.13", "0.18", "0.25", "0.35", "0.5", "0.7"].map((w) => ({ value: w, label: w }));

export function Surfaces({ rows, change, disabled }: Props<SurfaceLine>) {
  const surfaces = useDocumentsOf("surface");
  const columns = useMemo(() => {
    const names = surfaces.map((s) => s.spec.name);
    const put = (i: number, colour: string) => change(rows.map((r, k) => (k === i ? { ...r, colour } : r)));
    return [
      choices<SurfaceLine, SurfaceLine["of"]>({
        title: "Surface",
        width: 92,
        options: SURFACES,
        of: (r) => r.of,
        put: (r, of) => ({ ...r, of, name: of === "other" ? r.name || (names[0] ?? "") : "" }),
        label: (_, i) => `Surface ${i + 1}`,
      }),
      phrases<SurfaceLine, string>({
        title: "Name",
        width: 92,
        of: (r) => r.name,
        put: (r, name) => ({ ...r, name }),
        write: (name) => name,
        read: (text) =>
          names.includes(text.trim())
            ? { value: text.trim(), wrong: null }
            : { value: null, wrong: `No surface is called “${text.trim()}”: ${names.join(", ")}` },
        suggestions: names,
        off: (r) => (r.of === "other" ? null : ""),
        label: (_, i) => `Name of surface ${i + 1}`,
      }),
      choices<SurfaceLine, SurfaceLine["line"]>({
        title: "Line",
        width: 84,
        options: LINES,
        of: (r) => r.line,
        put: (r, line) => ({ ...r, line }),
        label: (_, i) => `Line of surface ${i + 1}`,
      }),
      choices<SurfaceLine, string>({
        title: "mm",
        help: "Width of the line, mm",
        width: 66,
        options: WIDTHS,
        of: (r) => String(r.width),
        put: (r, width) => ({ ...r, width: Number(width) }),
        label: (_, i) => `Width of surface ${i + 1}, mm`,
      }),
      words<SurfaceLine>({
        title: "Colour",
        width: 70,
        most: 7,
        wrong: (t) => (/^#[0-9a-f]{6}$/i.test(t) ? null : "As #1B2327: two figures each for red, green and blue"),
        of: (r) => r.colour,
        put: (r, colour) => ({ ...r, colour }),
        label: (_, i) => `Colour of surface ${i + 1}`,
      }),
      drawn<SurfaceLine>({
        title: "",
        key: "pick",
        width: 36,
        render: (r, i) => (
          <ColourField disabled={disabled} value={r.colour} label={`Choose the colour of surface ${i + 1}`} onChange={(colour) => put(i, colour)} />
        ),
      }),
    ];
  }, [surfaces, rows, change, disabled]);
  return <Rows label="Surfaces" fresh={() => DEFAULTS.SurfaceLine} {...{ rows, columns, change, disabled }} />;
}
