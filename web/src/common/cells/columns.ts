/** Columns of a table: what stands in a cell, how it is written, and how a text becomes it. A new kind of cell is one more function. */
import type { ReactNode } from "react";
import { chainageText, readChainage } from "../../base/chainage";
import { type Limits, readWithin, type Unit } from "../numbers";

export type Told<V> = { value: V; wrong: null } | { value: null; wrong: string };

/** A kind of value: as it is shown, as it goes to a spreadsheet, and out of a text. */
export interface Kind<V> {
  show: (value: V) => string;
  copy: (value: V) => string;
  read: (text: string, row?: unknown) => { value: V | null; wrong: string | null };
  /** May be left empty: what that means. */
  empty?: { value: V; words: string };
  choices?: readonly { value: V; label: string }[];
  /** Offered while it is typed. */
  suggestions?: readonly string[];
  /** Shown as a box to be ticked. */
  tick?: boolean;
  right: boolean;
}

export interface Column<Row> {
  key: string;
  title: string;
  /** What the column is, where its title is short. */
  help?: string;
  width: number;
  kind: Kind<unknown>;
  of: (row: Row, i: number) => unknown;
  /** The row with another value; none in a column that only shows. */
  put?: (row: Row, value: unknown, i: number) => Row;
  /** Cells that hold nothing: what is written there instead. */
  off?: (row: Row, i: number) => string | null;
  /** Name of a cell for those who cannot see the table. */
  label: (row: Row, i: number) => string;
  className?: (row: Row, i: number) => string | undefined;
  /** What stands in the cell instead of its words. */
  render?: (row: Row, i: number) => ReactNode;
}

interface Given<Row, V> {
  key?: string;
  title: string;
  help?: string;
  width?: number;
  of: (row: Row, i: number) => V;
  put?: (row: Row, value: V, i: number) => Row;
  off?: (row: Row, i: number) => string | null;
  label: (row: Row, i: number) => string;
  className?: (row: Row, i: number) => string | undefined;
}

function column<Row, V>(given: Given<Row, V>, kind: Kind<V>, width: number): Column<Row> {
  return { width, ...given, key: given.key ?? given.title, kind, put: given.put } as unknown as Column<Row>;
}

const trimmed = (value: number) => String(Number(value.toFixed(6)));
/** All digits that mean something: what binary fractions add goes to no spreadsheet. What is pasted back as it was copied changes nothing. */
const whole = (value: number) => String(Number(value.toPrecision(12)));

/** Numbers in a unit. decimals: shown so many, else as many as there are; a spreadsheet gets all. */
export function numbers<Row>(given: Given<Row, number> & { unit: Unit | ((row: Row) => Unit); decimals?: number } & Limits): Column<Row> {
  const { decimals, unit } = given;
  const read = (text: string, row?: unknown) => readWithin(text, typeof unit === "function" ? unit(row as Row) : unit, given);
  return column(given, { show: (v) => (decimals === undefined ? trimmed(v) : v.toFixed(decimals)), copy: whole, read, right: true }, 78);
}

/** Numbers that may be left out; `none` is what that means. */
export function numbersOrNone<Row>(given: Given<Row, number | null> & { unit: Unit; none: string } & Limits): Column<Row> {
  const write = (v: number | null) => (v === null ? "" : trimmed(v));
  const read = (text: string) => (text.trim().toLowerCase() === given.none ? { value: null, wrong: null } : readWithin(text, given.unit, given));
  return column(given, { show: write, copy: (v) => (v === null ? "" : whole(v)), read, empty: { value: null, words: given.none }, right: true }, 78);
}

/** Chainages; to a spreadsheet they go as plain metres. */
export function chainages<Row>(given: Omit<Given<Row, number>, "title"> & { title?: string }): Column<Row> {
  return column({ title: "Chainage", ...given }, { show: (v) => chainageText(v), copy: trimmed, read: readChainage, right: true }, 92);
}

/** Words; `taken` tells what is wrong with some. */
export function words<Row>(given: Given<Row, string> & { most?: number; wrong?: (text: string) => string | null }): Column<Row> {
  const read = (text: string): Told<string> => {
    const t = text.trim();
    const wrong = t.length > (given.most ?? 40) ? `At most ${given.most ?? 40} letters` : (given.wrong?.(t) ?? null);
    return wrong === null ? { value: t, wrong } : { value: null, wrong };
  };
  return column(given, { show: (v) => v, copy: (v) => v, read, right: false }, 120);
}

/** Words with a meaning of their own: `write` says a value, `read` understands what is typed. */
export function phrases<Row, V>(
  given: Given<Row, V> & { write: (value: V) => string; read: (text: string) => Told<V>; suggestions?: readonly string[]; empty?: Kind<V>["empty"] },
): Column<Row> {
  const { write, read, suggestions, empty } = given;
  return column(given, { show: write, copy: write, read, suggestions, empty, right: false }, 120);
}

/** Choices by name; where two have the same name their keys tell them apart. */
export function namedChoices(documents: readonly { key: string; spec: { name: string } }[]): { value: string; label: string }[] {
  const twice = (name: string) => documents.filter((d) => d.spec.name === name).length > 1;
  return documents.map((d) => ({ value: d.key, label: twice(d.spec.name) ? `${d.spec.name} (${d.key})` : d.spec.name }));
}

/** One of a few. */
export function choices<Row, V extends string>(given: Given<Row, V> & { options: readonly { value: V; label: string }[] }): Column<Row> {
  const show = (v: V) => given.options.find((o) => o.value === v)?.label ?? v;
  const read = (text: string) => {
    const t = text.trim().toLowerCase();
    const found = given.options.find((o) => o.label.toLowerCase() === t || o.value.toLowerCase() === t);
    return found ? { value: found.value, wrong: null } : { value: null, wrong: `“${text.trim()}” is none of ${given.options.map((o) => o.label).join(", ")}` };
  };
  return column(given, { show, copy: show, read, choices: given.options, right: false }, 100);
}

/** Buttons and boxes of its own, beside what a spreadsheet knows. */
export function drawn<Row>(given: { title: string; key?: string; help?: string; width: number; render: (row: Row, i: number) => ReactNode }): Column<Row> {
  return { ...shown<Row>({ ...given, of: () => "" }), render: given.render };
}

/** Yes or no. */
export function ticks<Row>(given: Given<Row, boolean>): Column<Row> {
  const read = (text: string) => {
    const t = text.trim().toLowerCase();
    if (["yes", "x", "1", "true"].includes(t)) return { value: true, wrong: null };
    return ["no", "0", "false"].includes(t) ? { value: false, wrong: null } : { value: null, wrong: "write yes or no" };
  };
  const show = (v: boolean) => (v ? "yes" : "no");
  return column(given, { show, copy: show, read, empty: { value: false, words: "no" }, tick: true, right: false }, 44);
}

/** What follows from the others. */
export function shown<Row>(given: Omit<Given<Row, string>, "put" | "label"> & { right?: boolean }): Column<Row> {
  const { right = true, ...rest } = given;
  const read = () => ({ value: null, wrong: "this follows from the others" });
  return column({ ...rest, label: () => given.title }, { show: (v: string) => v, copy: (v) => v, read, right }, 70);
}
