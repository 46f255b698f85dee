/** What is done with the chosen cells of a table: every act is one change of its rows. */
import { App } from "antd";
import { type RefObject, useCallback, useEffect, useRef } from "react";
import type { DataSheetGridRef } from "react-datasheet-grid";
import { useCopy } from "../CopyRows";
import { type Area, cellsOf, headOf, planPaste, textOf } from "./block";
import type { Column } from "./columns";
import { PastePlan } from "./PastePlan";

export interface Work<Row> {
  rows: readonly Row[];
  columns: readonly Column<Row>[];
  change: (rows: Row[]) => void;
  disabled: boolean;
  tidy?: (rows: Row[]) => Row[] | string;
  fresh?: (rows: readonly Row[], at: number) => Row;
  movable: boolean;
  least: number;
  keyed?: string;
}

export interface Acts {
  paste: (text: string) => void;
  fill: () => void;
  clear: () => void;
  cut: () => Promise<void>;
  insert: () => void;
  add: () => void;
  remove: () => void;
  up: () => void;
  down: () => void;
  /** The chosen cells as text. */
  copied: () => string;
  /** All rows with their headings, on the clipboard. */
  copyAll: () => void;
}

const count = (n: number, word: string) => `${n} ${word}${n === 1 ? "" : "s"}`;

/** Takes rows over as one change; what is wrong with them, or null. It stays the same function. */
export function useTaking<Row>(work: Pick<Work<Row>, "tidy" | "change">): (next: Row[]) => string | null {
  const now = useRef(work);
  useEffect(() => {
    now.current = work;
  });
  return useCallback((next) => {
    const done = now.current.tidy?.(next) ?? next;
    if (typeof done === "string") return done;
    now.current.change(done);
    return null;
  }, []);
}

export function useActs<Row>(work: Work<Row>, grid: RefObject<DataSheetGridRef | null>, take: (next: Row[]) => string | null): Acts {
  const { rows, columns, disabled, fresh, movable, least, keyed } = work;
  const { message, modal } = App.useApp();
  const copy = useCopy();
  const area = (): Area | null => {
    const at = grid.current?.selection ?? (grid.current?.activeCell ? { min: grid.current.activeCell, max: grid.current.activeCell } : null);
    return at && { min: at.min, max: { row: at.max.row, col: Math.min(at.max.col, columns.length - 1) } };
  };
  const done = (next: Row[], what: string) => {
    const wrong = take(next);
    if (wrong === null) void message.success(what);
    else void message.error(`${wrong}. Nothing was changed.`, 8);
  };
  const copied = (at: Area | null): string => {
    if (!at) return `${headOf(columns)}\n${textOf(rows, columns)}`;
    const picked = columns.slice(at.min.col, at.max.col + 1);
    const text = textOf(rows.slice(at.min.row, at.max.row + 1), picked, at.min.row);
    const whole = at.min.row === 0 && at.max.row === rows.length - 1 && rows.length > 1 && picked.length > 1;
    return whole ? `${headOf(picked)}\n${text}` : text;
  };
  const paste = (text: string) => {
    const at = area() ?? (rows.length === 0 ? { min: { col: 0, row: 0 }, max: { col: 0, row: 0 } } : null);
    if (!at || disabled) return;
    const cells = cellsOf(text);
    if (cells.length === 0) return;
    const plan = planPaste({ rows, columns, keyed, fresh }, cells, at);
    if (plan.wrong.length > 0) {
      const more = plan.wrong.length > 3 ? ` (and ${plan.wrong.length - 3} more)` : "";
      return void message.error(`${plan.wrong.slice(0, 3).join("; ")}${more}. Nothing was changed.`, 10);
    }
    const lay = () => done(plan.rows, `${count(plan.fresh + plan.changed + plan.same, "row")} pasted`);
    if (plan.told.length === 0) return lay();
    void modal.confirm({ title: "Paste these rows?", width: 520, content: <PastePlan plan={plan} />, okText: "Paste", cancelText: "Cancel", onOk: lay });
  };
  const fill = () => {
    const at = area();
    if (!at || disabled) return;
    const to = at.max.row > at.min.row ? at.max.row : rows.length - 1;
    const next = [...rows];
    for (let i = at.min.row + 1; i <= to; i++)
      for (const column of columns.slice(at.min.col, at.max.col + 1))
        // Neither out of a cell that holds nothing nor into one.
        if (column.put && [at.min.row, i].every((k) => (column.off?.(next[k]!, k) ?? null) === null))
          next[i] = column.put(next[i]!, column.of(rows[at.min.row]!, at.min.row), i);
    done(next, `filled down over ${count(to - at.min.row, "row")}`);
  };
  const clear = () => {
    const at = area();
    if (!at || disabled) return;
    const next = [...rows];
    const firm = new Set<string>();
    for (let i = at.min.row; i <= at.max.row; i++)
      for (const column of columns.slice(at.min.col, at.max.col + 1)) {
        if (!column.put || (column.off?.(next[i]!, i) ?? null) !== null) continue;
        if (column.kind.empty) next[i] = column.put(next[i]!, column.kind.empty.value, i);
        else firm.add(column.title);
      }
    if (firm.size > 0) void message.warning(`${[...firm].join(", ")} may not be empty; rows are removed with “Remove rows”.`, 5);
    else done(next, "emptied");
  };
  /** Whole rows go, of others what may be empty; and nothing that is not on the clipboard. */
  const cut = async () => {
    const at = area();
    if (!at || disabled || !(await copy(copied(at), at.max.row - at.min.row + 1))) return;
    const all = columns.every((c, k) => !c.put || (k >= at.min.col && k <= at.max.col));
    if (fresh && all) remove();
    else clear();
  };
  const insert = () => {
    if (!fresh || disabled) return;
    const at = area()?.min.row ?? rows.length;
    done([...rows.slice(0, at), fresh(rows, at), ...rows.slice(at)], "1 row inserted");
  };
  const add = () => {
    if (fresh) done([...rows, fresh(rows, rows.length)], "1 row added");
  };
  const remove = () => {
    const at = area();
    if (!at || disabled) return;
    const n = at.max.row - at.min.row + 1;
    if (rows.length - n < least) void message.warning(`At least ${count(least, "row")} ${least === 1 ? "stays" : "stay"}.`, 5);
    else
      done(
        rows.filter((_, i) => i < at.min.row || i > at.max.row),
        `${count(n, "row")} removed`,
      );
  };
  const move = (by: -1 | 1) => {
    const at = area();
    if (!at || !movable || disabled || at.min.row + by < 0 || at.max.row + by >= rows.length) return;
    const taken = rows.slice(at.min.row, at.max.row + 1);
    const rest = rows.filter((_, i) => i < at.min.row || i > at.max.row);
    rest.splice(at.min.row + by, 0, ...taken);
    if (take(rest) !== null) return;
    const to = { min: { ...at.min, row: at.min.row + by }, max: { ...at.max, row: at.max.row + by } };
    grid.current?.setSelection(to);
  };
  return {
    paste,
    fill,
    clear,
    cut,
    insert,
    add,
    remove,
    up: () => move(-1),
    down: () => move(1),
    copied: () => copied(area()),
    copyAll: () => void copy(copied(null), rows.length),
  };
}
