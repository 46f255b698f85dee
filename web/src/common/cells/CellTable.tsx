/**
 * A table that is worked in like a spreadsheet: cells are chosen with mouse, arrows and Shift, blocks copied and pasted, values filled
 * down, rows inserted and removed. Every such act is one change of the rows, so one step to undo. Columns are in `columns.ts`.
 */
import { type ReactNode, type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Column as GridColumn, type DataSheetGridRef, DynamicDataSheetGrid } from "react-datasheet-grid";
import "react-datasheet-grid/dist/style.css";
import { useActs, useTaking } from "./acts";
import { written } from "./block";
import { Cell, type CellData } from "./Cell";
import { CellTools } from "./CellTools";
import "./cells.css";
import type { Column } from "./columns";
import { useTableKeys } from "./keys";

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

/** The columns as the grid wants them; they stay the same while rows change. */
function useGridColumns<Row>(rows: readonly Row[], columns: readonly Column<Row>[], disabled: boolean, take: (next: Row[]) => string | null, back: () => void) {
  const now = useRef(rows);
  useEffect(() => {
    now.current = rows;
  });
  return useMemo(() => {
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
          const put = written(column, now.current[i]!, i, text);
          return typeof put === "string" ? put : null;
        },
        write: (i, text) => {
          const put = written(column, now.current[i]!, i, text);
          return typeof put === "string" ? put : take(now.current.map((r, k) => (k === i ? put.row : r)));
        },
      },
    }));
  }, [columns, disabled, take, back]);
}

export function CellTable<Row>(props: Props<Row>) {
  const { label, rows, columns, change, disabled = false, tidy, fresh, movable = false, least = 0, keyed, current, onRow, height = 320, empty, also } = props;
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
  const take = useTaking({ tidy, change });
  const back = useCallback(() => window.setTimeout(() => holder.current?.focus()), []);
  const gridColumns = useGridColumns(rows, columns, disabled, take, back);
  // While a cell is chosen the keys belong to the table.
  const chosen = active !== null;
  useEffect(() => {
    if (chosen) holder.current?.focus();
    else holder.current?.blur();
  }, [chosen]);
  const acts = useActs({ rows, columns, change, disabled, tidy, fresh, movable, least, keyed }, grid, take);
  useTableKeys(chosen, holder, acts);
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
          onPaste={(e) => acts.paste(e.clipboardData.getData("text/plain"))}
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
      <CellTools
        label={label}
        acts={acts}
        chosen={chosen}
        disabled={disabled}
        filled={rows.length > 0}
        growing={fresh !== undefined}
        shrinking={fresh !== undefined || least < rows.length}
        movable={movable}
        also={also}
      />
    </div>
  );
}
