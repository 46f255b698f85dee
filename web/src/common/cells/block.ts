/** Blocks of cells to and from a spreadsheet. */
import type { Column } from "./columns";

/** Cells of a text: parted by tabs, else semicolons. What a spreadsheet put in quotes may hold both and line ends. Blank rows count. */
export function cellsOf(text: string): string[][] {
  const divider = text.includes("\t") || !text.includes(";") ? "\t" : ";";
  const rows: string[][] = [[]];
  let cell = "";
  let quoted = false;
  const plain = text.replace(/\r\n?/g, "\n").replace(/\n$/, "");
  for (let i = 0; i < plain.length; i++) {
    const c = plain[i]!;
    if (quoted) {
      if (c !== '"') cell += c;
      else if (plain[i + 1] === '"') cell += plain[i++];
      else quoted = false;
    } else if (c === '"' && cell === "" && closes(plain, i, divider)) quoted = true;
    else if (c === divider || c === "\n") {
      rows.at(-1)!.push(cell);
      cell = "";
      if (c === "\n") rows.push([]);
    } else cell += c;
  }
  rows.at(-1)!.push(cell);
  const trimmed = rows.map((row) => row.map((v) => v.trim()));
  return trimmed.some((row) => !blank(row)) ? trimmed : [];
}

const blank = (row: string[]) => row.every((v) => v === "");

/** Whether a quote that opens a cell is closed at the end of one: 6" is six inches, not a quote. */
function closes(text: string, from: number, divider: string): boolean {
  const end = text.slice(from + 1).search(new RegExp(`"(?:${divider}|\\n|$)`));
  return end >= 0;
}

const same = (text: string) =>
  text
    .toLowerCase()
    .replace(/\(.*\)|\[.*\]/g, "")
    .replace(/[^a-z0-9]+/g, " ")
    .replace(/ (m|mm|kmh|deg)$/, "")
    .trim();
const UNITS = /^[([]?(m|mm|cm|km|%|°|deg|km\/h|t\/m³|-|)[)\]]?$/i;

interface Placed<Row> {
  /** Columns of the block's cells, null for those that no column takes. */
  columns: (Column<Row> | null)[];
  cells: string[][];
  /** Headings of the block, where it has some. */
  heads: string[] | null;
}

/** Where the cells of a block go: by its headings if it has some, else from the column `from` on. Rows of headings and units are left out. */
function placeBlock<Row>(cells: string[][], columns: readonly Column<Row>[], from: number): Placed<Row> {
  const first = cells[0] ?? [];
  const named = first.map((t) => columns.find((c) => same(c.title) === same(t) && t !== "") ?? null);
  const numeric = (row: string[]) => row.some((t) => /\d/.test(t));
  if (named.some(Boolean) && named.filter(Boolean).length * 2 >= first.filter(Boolean).length) {
    const rest = cells.slice(1);
    return { columns: named, heads: first, cells: rest[0] && !blank(rest[0]) && rest[0].every((t) => UNITS.test(t)) ? rest.slice(1) : rest };
  }
  const headed = cells.length > 1 && !blank(first) && !numeric(first) && numeric(cells[1]!) && columns.slice(from).some((c) => c.kind.right);
  return { columns: first.map((_, k) => columns[from + k] ?? null), heads: headed ? first : null, cells: headed ? cells.slice(1) : cells };
}

interface Cell {
  row: number;
  col: number;
}

/** The chosen cells of a table. */
export interface Area {
  min: Cell;
  max: Cell;
}

/** What a block is laid into. keyed: the column by which its rows find their place; fresh: makes rows, none where they are given. */
export interface Target<Row> {
  rows: readonly Row[];
  columns: readonly Column<Row>[];
  keyed?: string;
  fresh?: (rows: readonly Row[], at: number) => Row;
}

/** What comes of a paste. Where something is wrong nothing is done; where something is told it is shown first. */
export interface Pasted<Row> {
  rows: Row[];
  wrong: string[];
  told: string[];
  /** Titles of the columns that take cells, and how many rows are new, changed and as they were. */
  into: string[];
  fresh: number;
  changed: number;
  same: number;
}

const rowsOf = (n: number) => `${n} row${n === 1 ? "" : "s"}`;

/**
 * A block laid over a table at the chosen cells, or by the table's key where the block has its column: rows with the same value are
 * replaced, the second with the second where two share one, the others are new. A cell that is given as it stands is left untouched.
 * A blank cell empties what may be empty and leaves the rest.
 */
export function planPaste<Row>({ rows, columns, keyed, fresh }: Target<Row>, cells: string[][], at: Area): Pasted<Row> {
  const one = cells.length === 1 && cells[0]!.length === 1;
  const [tall, wide] = [at.max.row - at.min.row + 1, at.max.col - at.min.col + 1];
  const filled = one && tall * wide > 1;
  const block: Placed<Row> = filled
    ? { columns: columns.slice(at.min.col, at.max.col + 1), cells: Array.from({ length: tall }, () => Array<string>(wide).fill(cells[0]![0]!)), heads: null }
    : placeBlock(cells, columns, at.min.col);
  const plan: Pasted<Row> = { rows: [...rows], wrong: [], told: [], into: [], fresh: 0, changed: 0, same: 0 };
  plan.into = block.columns.flatMap((c) => (c?.put ? [c.title] : []));
  const taken = block.columns.length;
  const spare = Array.from({ length: Math.max(...block.cells.map((r) => r.length), taken) }, (_, j) => j).filter(
    (j) => !block.columns[j] && block.cells.some((r) => (r[j] ?? "") !== ""),
  );
  if (spare.length > 0)
    plan.told.push(`No column of the table takes ${spare.map((j) => (block.heads?.[j] ? `“${block.heads[j]}”` : `column ${j + 1} of the block`)).join(", ")}`);
  const key = keyed !== undefined && !filled && !one ? block.columns.findIndex((c) => c?.key === keyed) : -1;
  const met = new Map<string, number>();
  let [left, kept] = [0, 0];
  for (const [k, line] of block.cells.entries()) {
    const name = `Row ${k + 1}`;
    let i = at.min.row + k;
    if (key >= 0) {
      if (blank(line)) continue;
      if ((line[key] ?? "") === "") {
        plan.told.push(`${name} has no ${block.columns[key]!.title.toLowerCase()} and is left out`);
        continue;
      }
      const found = rowOf(rows, block.columns[key]!, line[key]!, met);
      if (typeof found === "string") {
        plan.wrong.push(`${name}, ${block.columns[key]!.title}: ${found}`);
        continue;
      }
      if (found === null && !fresh) {
        plan.wrong.push(`${name}, ${block.columns[key]!.title}: there is no “${line[key]!}” in the table`);
        continue;
      }
      i = found ?? plan.rows.length;
    }
    const isNew = i >= plan.rows.length;
    if (isNew && blank(line)) continue;
    if (isNew && !fresh) {
      left++;
      continue;
    }
    const before = isNew ? fresh!(plan.rows, plan.rows.length) : plan.rows[i]!;
    let row = before;
    for (const [j, text] of line.entries()) {
      const column = block.columns[j];
      if (!column?.put || (column.off?.(row, i) ?? null) !== null) continue;
      if (!isNew && text === column.kind.copy(column.of(row, i))) continue;
      if (text === "" && !column.kind.empty) {
        kept++;
        continue;
      }
      const put = written(column, row, i, text);
      if (typeof put === "string") plan.wrong.push(`${name}, ${column.title}: ${put}`);
      else row = put.row;
    }
    plan.rows[i] = row;
    if (isNew) plan.fresh++;
    else if (row === before) plan.same++;
    else plan.changed++;
  }
  if (left > 0) plan.wrong.push(`The block has ${rowsOf(left)} more than there is room for`);
  if (kept > 0) plan.told.push(`${kept} blank cell${kept === 1 ? " leaves" : "s leave"} what stands there`);
  return plan;
}

/** The row with a value in the key's column: of several the one that has not been met yet. null: there is none; or what is wrong. */
function rowOf<Row>(rows: readonly Row[], column: Column<Row>, text: string, met: Map<string, number>): number | null | string {
  // What only shows is not read: it names its row by its words.
  const read = column.put ? column.kind.read(text) : { value: text, wrong: null };
  if (read.wrong !== null) return read.wrong;
  const value = column.kind.copy(read.value);
  const named = rows.flatMap((r, i) => (column.kind.copy(column.of(r, i)) === value ? [i] : []));
  const nth = met.get(value) ?? 0;
  met.set(value, nth + 1);
  return named[nth] ?? null;
}

/** A row with a text put into one of its cells, or what is wrong with the text. */
export function written<Row>(column: Column<Row>, row: Row, i: number, text: string): { row: Row } | string {
  const { kind, put } = column;
  if (!put) return "this follows from the others";
  if (text.trim() === "") return kind.empty ? { row: put(row, kind.empty.value, i) } : "it may not be empty";
  const read = kind.read(text, row);
  return read.wrong === null ? { row: put(row, read.value, i) } : read.wrong;
}

/** Cells as text for a spreadsheet. */
export function textOf<Row>(rows: readonly Row[], columns: readonly Column<Row>[], first = 0): string {
  return rows
    .map((row, k) => columns.map((c) => ((c.off?.(row, first + k) ?? null) === null ? quote(c.kind.copy(c.of(row, first + k))) : "")).join("\t"))
    .map((line) => `${line}\n`)
    .join("");
}

export const headOf = <Row>(columns: readonly Column<Row>[]): string => columns.map((c) => c.title).join("\t");

const quote = (text: string) => (/[\t\n;]|^"/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
