/** Blocks of cells to and from a spreadsheet. */
import type { Column } from "./columns";

/** Cells of a text: parted by tabs, else semicolons. What a spreadsheet put in quotes may hold both and line ends. */
export function cellsOf(text: string): string[][] {
  const divider = text.includes("\t") || !text.includes(";") ? "\t" : ";";
  const rows: string[][] = [[]];
  let cell = "";
  let quoted = false;
  const plain = text.replace(/\r\n?/g, "\n").replace(/\n+$/, "");
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
  return rows.map((row) => row.map((v) => v.trim())).filter((row) => row.some((v) => v !== ""));
}

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

export interface Placed<Row> {
  /** Columns of the block's cells, null for those that no column takes. */
  columns: (Column<Row> | null)[];
  cells: string[][];
}

/** Where the cells of a block go: by its headings if it has some, else from the column `from` on. Rows of headings and units are left out. */
export function placeBlock<Row>(cells: string[][], columns: readonly Column<Row>[], from: number): Placed<Row> {
  const first = cells[0] ?? [];
  const named = first.map((t) => columns.find((c) => same(c.title) === same(t) && t !== "") ?? null);
  const numeric = (row: string[]) => row.some((t) => /\d/.test(t));
  if (named.some(Boolean) && named.filter(Boolean).length * 2 >= first.filter(Boolean).length) {
    const rest = cells.slice(1);
    return { columns: named, cells: rest[0]?.every((t) => UNITS.test(t)) ? rest.slice(1) : rest };
  }
  const bare = cells.length > 1 && !numeric(first) && numeric(cells[1]!) && columns.slice(from).some((c) => c.kind.right) ? cells.slice(1) : cells;
  return { columns: first.map((_, k) => columns[from + k] ?? null), cells: bare };
}

export interface Pasted<Row> {
  rows: Row[];
  wrong: string[];
}

/** Rows with a block laid over them from row `at` on; `fresh` makes rows where the block is longer than the table. All or nothing. */
export function lay<Row>(rows: readonly Row[], block: Placed<Row>, at: number, fresh?: (rows: readonly Row[], at: number) => Row): Pasted<Row> {
  const out = [...rows];
  const wrong: string[] = [];
  for (const [k, line] of block.cells.entries()) {
    const i = at + k;
    if (i >= out.length) {
      if (!fresh) {
        wrong.push(`The block has ${block.cells.length - k} row${block.cells.length - k === 1 ? "" : "s"} more than there is room for`);
        break;
      }
      out.push(fresh(out, out.length));
    }
    for (const [j, text] of line.entries()) {
      const column = block.columns[j];
      if (!column) {
        if (text !== "" && j >= block.columns.length - 1 && k === 0) wrong.push("The block has more columns than the table");
        continue;
      }
      if (!column.put || (column.off?.(out[i]!, i) ?? null) !== null) continue;
      const put = written(column, out[i]!, i, text);
      if (typeof put === "string") wrong.push(`Row ${k + 1}, ${column.title}: ${put}`);
      else out[i] = put.row;
    }
  }
  return { rows: out, wrong };
}

/**
 * Rows with a block put in by the value of a column: rows with the same value are replaced, the others are new where there can be new
 * ones. All or nothing.
 */
export function mergeBy<Row>(rows: readonly Row[], block: Placed<Row>, key: string, fresh?: (rows: readonly Row[], at: number) => Row): Pasted<Row> {
  const j = block.columns.findIndex((c) => c?.key === key);
  const column = block.columns[j]!;
  const wrong: string[] = [];
  let out = [...rows];
  for (const [k, line] of block.cells.entries()) {
    // What only shows is not read: it names its row by its words.
    const read = column.put ? column.kind.read(line[j] ?? "") : { value: line[j] ?? "", wrong: null };
    if (read.wrong !== null) {
      wrong.push(`Row ${k + 1}, ${column.title}: ${read.wrong}`);
      continue;
    }
    const same = out.findIndex((r, i) => column.kind.copy(column.of(r, i)) === column.kind.copy(read.value));
    if (same < 0 && !fresh) {
      wrong.push(`Row ${k + 1}, ${column.title}: there is no “${(line[j] ?? "").trim()}” in the table`);
      continue;
    }
    const laid = lay(same >= 0 ? out : [...out, fresh!(out, out.length)], { ...block, cells: [line] }, same >= 0 ? same : out.length);
    wrong.push(...laid.wrong.map((w) => w.replace(/^Row 1,/, `Row ${k + 1},`)));
    out = laid.rows;
  }
  return { rows: out, wrong };
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
    .join("\n");
}

export const headOf = <Row>(columns: readonly Column<Row>[]): string => columns.map((c) => c.title).join("\t");

const quote = (text: string) => (/[\t\n]|^"/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
