/**
 * A table that is worked in like a spreadsheet: cells are chosen with mouse, arrows and Shift, blocks copied and pasted, values filled
 * down, rows inserted and removed. Every such act is one change of the rows, so one step to undo. Columns are in `columns.ts`.
 */
import { App, Button } from "antd";
import { type ReactNode, type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Column as GridColumn, type DataSheetGridRef, DynamicDataSheetGrid } from "react-datasheet-grid";
import "react-datasheet-grid/dist/style.css";
import { useCopy } from "../CopyRows";
import { type Area, cellsOf, headOf, planPaste, textOf, written } from "./block";
import { Cell, type CellData } from "./Cell";
import { PastePlan } from "./PastePlan";
import "./cells.css";
import type { Column } from "./columns";

/** Heights, px, of a row and of the buttons below. */
const ROW = 26;
const TOOLS = 36;
/** So much of its width a column keeps; where that is too much for all of them the table is scrolled. */
const NARROWEST = 0.9;

interface Props<Row> {
  label: string;
  rows: readonly Row[];
  columns: readonly Column<Row>[];
  /** Takes the rows as one change. */
  change: (rows: Row[]) => void;
  disabled?: boolean;
  /** Puts rows in order, or says what is wrong with them all together. */
  tidy?: (rows: Row[]) => Row[] | string;
  /** A row to be inserted before row `at`; none where the rows are given. */
  fresh?: (rows: readonly Row[], at: number) => Row;
  /** Rows stand in an order of the person's own: they may be moved. */
  movable?: boolean;
  /** As many rows stay at least. */
  least?: number;
  /** Column by which pasted rows find their place: those with the same value are replaced, others are new or, without `fresh`, refused. */
  keyed?: string;
  /** The row to be marked, and what happens when another one is chosen. */
  current?: number;
  onRow?: (i: number) => void;
  /** Greatest height, px, or as much as there is room for. */
  height?: number | "fill";
  empty?: string;
  /** More buttons. */
  also?: ReactNode;
}

/** Height for the rows: what is given, or what the table's place leaves beside its buttons. */
function useRoom(whole: RefObject<HTMLDivElement | null>, height: number | "fill"): number {
  const [left, setLeft] = useState(320);
  useEffect(() => {
    if (height !== "fill" || !whole.current) return;
    const watch = new ResizeObserver(([entry]) => setLeft(Math.max(3 * ROW, Math.floor(entry!.contentRect.height) - TOOLS)));
    watch.observe(whole.current);
    return () => watch.disconnect();
  }, [whole, height]);
  return height === "fill" ? left : height;
}

export function CellTable<Row>(props: Props<Row>) {
  const { label, rows, columns, change, disabled = false, tidy, fresh, movable = false, least = 0, keyed, current, onRow, height = 320, empty, also } = props;
  const { message, modal } = App.useApp();
  const copy = useCopy();
  const grid = useRef<DataSheetGridRef>(null);
  const holder = useRef<HTMLInputElement>(null);
  const [active, setActive] = useState<{ col: number; row: number } | null>(null);
  const whole = useRef<HTMLDivElement>(null);
  const room = useRoom(whole, height);
  // The marked row is in sight, unless somebody is at work elsewhere in the table.
  const idle = active === null;
  useEffect(() => {
    const scrolled = whole.current?.querySelector(".dsg-container");
    if (!idle || current === undefined || current < 0 || !scrolled) return;
    const [top, low, high] = [current * ROW, scrolled.scrollTop, scrolled.scrollTop + scrolled.clientHeight - 2 * ROW];
    if (top < low || top > high) scrolled.scrollTop = Math.max(0, top - scrolled.clientHeight / 2);
  }, [current, idle, room]);
  const now = useRef({ rows, columns, disabled, tidy, change });
  useEffect(() => {
    now.current = { rows, columns, disabled, tidy, change };
  });
  /** Takes rows over; what is wrong with them, or null. */
  const take = useCallback((next: Row[]): string | null => {
    const done = now.current.tidy?.(next) ?? next;
    if (typeof done === "string") return done;
    now.current.change(done);
    return null;
  }, []);
  const back = useCallback(() => window.setTimeout(() => holder.current?.focus()), []);
  const gridColumns = useMemo(() => {
    return columns.map((column): Partial<GridColumn<Row, CellData, string>> => ({
      id: column.key,
      title: <span title={column.help}>{column.title}</span>,
      headerClassName: column.kind.right ? "right" : undefined,
      basis: column.width,
      minWidth: Math.round(column.width * NARROWEST),
      component: Cell as GridColumn<Row, CellData, string>["component"],
      disableKeys: column.kind.choices !== undefined,
      disabled: ({ rowData, rowIndex }) => disabled || !column.put || (column.off?.(rowData, rowIndex) ?? null) !== null,
      columnData: {
        column: column as Column<unknown>,
        disabled,
        back,
        judge: (i, text) => {
          const put = written(column, now.current.rows[i]!, i, text);
          return typeof put === "string" ? put : null;
        },
        write: (i, text) => {
          const put = written(column, now.current.rows[i]!, i, text);
          return typeof put === "string" ? put : take(now.current.rows.map((r, k) => (k === i ? put.row : r)));
        },
      },
    }));
  }, [columns, disabled, take, back]);
  // While a cell is chosen the keys belong to the table.
  const chosen = active !== null;
  useEffect(() => {
    if (chosen) holder.current?.focus();
    else holder.current?.blur();
  }, [chosen]);
  const area = (): Area | null => {
    const at = grid.current?.selection ?? (grid.current?.activeCell ? { min: grid.current.activeCell, max: grid.current.activeCell } : null);
    return at && { min: at.min, max: { row: at.max.row, col: Math.min(at.max.col, columns.length - 1) } };
  };
  const done = (next: Row[], what: string) => {
    const wrong = take(next);
    if (wrong === null) void message.success(what);
    else void message.error(`${wrong}. Nothing was changed.`, 8);
  };
  const count = (n: number, word: string) => `${n} ${word}${n === 1 ? "" : "s"}`;
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
  const add = () => fresh && done([...rows, fresh(rows, rows.length)], "1 row added");
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
  const acts = useRef({ paste, fill, clear, cut, insert, remove, copied, area, up: () => move(-1), down: () => move(1) });
  useEffect(() => {
    acts.current = { paste, fill, clear, cut, insert, remove, copied, area, up: () => move(-1), down: () => move(1) };
  });
  useEffect(() => {
    if (!chosen) return;
    /** Before the grid hears of it; while a cell is being typed in, it is the cell's. */
    const ours = (e: Event) => document.activeElement === holder.current && (e.preventDefault(), e.stopPropagation(), true);
    const onCopy = (e: ClipboardEvent) => ours(e) && e.clipboardData?.setData("text/plain", acts.current.copied(acts.current.area()));
    const onPaste = (e: ClipboardEvent) => {
      const text = e.clipboardData?.getData("text/plain") ?? "";
      if (ours(e)) acts.current.paste(text);
    };
    const onKey = (e: KeyboardEvent) => {
      const control = e.ctrlKey || e.metaKey;
      const act =
        control && e.key.toLowerCase() === "x"
          ? "cut" // a field that only shows gets no such event of its own
          : control && e.key.toLowerCase() === "d"
            ? "fill"
            : control && e.key === "Delete"
              ? "remove"
              : e.key === "Delete" || e.key === "Backspace"
                ? "clear"
                : e.key === "Insert" || (e.shiftKey && e.key === "Enter")
                  ? "insert"
                  : e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown")
                    ? e.key === "ArrowUp"
                      ? "up"
                      : "down"
                    : null;
      if (act && ours(e)) void acts.current[act]();
    };
    window.addEventListener("copy", onCopy, true);
    window.addEventListener("paste", onPaste, true);
    window.addEventListener("keydown", onKey, true);
    return () => {
      window.removeEventListener("copy", onCopy, true);
      window.removeEventListener("paste", onPaste, true);
      window.removeEventListener("keydown", onKey, true);
    };
  }, [chosen]);
  const at = active && columns[active.col];
  return (
    <div ref={whole} className={height === "fill" ? "cells fill-cells" : "cells"} role="group" aria-label={label}>
      <input
        ref={holder}
        className="cells-holder"
        data-cells
        tabIndex={-1}
        readOnly
        aria-label={`Cell of ${label}`}
        value={active && at && rows[active.row] ? `${at.label(rows[active.row]!, active.row)}: ${at.kind.show(at.of(rows[active.row]!, active.row))}` : ""}
      />
      {rows.length === 0 ? (
        // Nothing to choose yet: a block is pasted into the place itself.
        <div
          className="cells-empty quiet"
          role="group"
          aria-label={`No rows in ${label}`}
          tabIndex={0}
          onPaste={(e) => paste(e.clipboardData.getData("text/plain"))}
        >
          {empty ?? "No rows yet."}
          {fresh && !disabled && " A block of cells can be pasted here."}
        </div>
      ) : (
        <DynamicDataSheetGrid
          ref={grid}
          value={rows as Row[]}
          columns={gridColumns}
          gutterColumn={false}
          rowHeight={ROW}
          headerRowHeight={ROW}
          height={room}
          lockRows
          disableContextMenu
          disableSmartDelete
          disableExpandSelection
          rowClassName={({ rowIndex }) => (rowIndex === current ? "now" : undefined)}
          onActiveCellChange={({ cell }) => {
            setActive(cell && { col: cell.col, row: cell.row });
            if (cell && cell.row !== active?.row) onRow?.(cell.row);
          }}
        />
      )}
      {/* A press here leaves the chosen cells as they are. */}
      <div className="cells-tools" role="toolbar" aria-label={`Rows of ${label}`} onMouseDown={(e) => e.stopPropagation()}>
        {!disabled && fresh && (
          <Button size="small" onClick={chosen ? insert : add}>
            {chosen ? "Insert row" : "Add row"}
          </Button>
        )}
        {!disabled && (fresh || least < rows.length) && (
          <Button size="small" disabled={!chosen} title={chosen ? "Ctrl+Delete" : "Choose cells of the rows first"} onClick={remove}>
            Remove rows
          </Button>
        )}
        {!disabled && movable && (
          <>
            <Button size="small" disabled={!chosen} title="Alt+Up" onClick={() => move(-1)}>
              Move up
            </Button>
            <Button size="small" disabled={!chosen} title="Alt+Down" onClick={() => move(1)}>
              Move down
            </Button>
          </>
        )}
        {!disabled && (
          <Button size="small" disabled={!chosen} title="Takes the first chosen row's values on to the rows below: Ctrl+D" onClick={fill}>
            Fill down
          </Button>
        )}
        <Button
          size="small"
          disabled={rows.length === 0}
          title="All rows with their headings, for a spreadsheet"
          onClick={() => void copy(copied(null), rows.length)}
        >
          Copy rows
        </Button>
        {also}
      </div>
    </div>
  );
}
