/** The buttons below a table; a press on them leaves the chosen cells as they are. */
import { Button } from "antd";
import type { ReactNode } from "react";
import type { Acts } from "./acts";

interface Props {
  label: string;
  acts: Acts;
  /** Whether cells are chosen. */
  chosen: boolean;
  disabled: boolean;
  /** Whether there are rows, and what may be done with them. */
  filled: boolean;
  growing: boolean;
  shrinking: boolean;
  movable: boolean;
  also: ReactNode;
}

export function CellTools({ label, acts, chosen, disabled, filled, growing, shrinking, movable, also }: Props) {
  return (
    <div className="cells-tools" role="toolbar" aria-label={`Rows of ${label}`} onMouseDown={(e) => e.stopPropagation()}>
      {!disabled && growing && (
        <Button size="small" onClick={chosen ? acts.insert : acts.add}>
          {chosen ? "Insert row" : "Add row"}
        </Button>
      )}
      {!disabled && shrinking && (
        <Button size="small" disabled={!chosen} title={chosen ? "Ctrl+Delete" : "Choose cells of the rows first"} onClick={acts.remove}>
          Remove rows
        </Button>
      )}
      {!disabled && movable && (
        <>
          <Button size="small" disabled={!chosen} title="Alt+Up" onClick={acts.up}>
            Move up
          </Button>
          <Button size="small" disabled={!chosen} title="Alt+Down" onClick={acts.down}>
            Move down
          </Button>
        </>
      )}
      {!disabled && (
        <Button size="small" disabled={!chosen} title="Takes the first chosen row's values on to the rows below: Ctrl+D" onClick={acts.fill}>
          Fill down
        </Button>
      )}
      <Button size="small" disabled={!filled} title="All rows with their headings, for a spreadsheet" onClick={acts.copyAll}>
        Copy rows
      </Button>
      {also}
    </div>
  );
}
