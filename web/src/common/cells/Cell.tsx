/** One cell of a table: it shows its value, and takes what is typed; what cannot be read stays, with what is wrong. */
import { Tooltip } from "antd";
import { useEffect, useId, useLayoutEffect, useRef, useState } from "react";
import type { CellProps } from "react-datasheet-grid";
import type { Column } from "./columns";

export interface CellData {
  column: Column<unknown>;
  disabled: boolean;
  /** Puts a text into a row's cell; what is wrong with it, or null when it was taken. */
  write: (i: number, text: string) => string | null;
  /** Whether a text would do. */
  judge: (i: number, text: string) => string | null;
  back: () => void;
}

export function Cell({ rowData, rowIndex: i, columnData, focus, stopEditing }: CellProps<unknown, CellData>) {
  const { column, disabled, write, judge, back } = columnData;
  if (column.render) return <span className="cells-drawn">{column.render(rowData, i)}</span>;
  const off = column.off?.(rowData, i) ?? null;
  if (off !== null) return <span className="cells-off">{off}</span>;
  if (!column.put) {
    const className = `cells-shown${column.kind.right ? " right" : ""} ${column.className?.(rowData, i) ?? ""}`;
    return <span className={className}>{column.kind.show(column.of(rowData, i))}</span>;
  }
  const label = column.label(rowData, i);
  const value = column.kind.show(column.of(rowData, i));
  if (column.kind.tick)
    return (
      <Ticked
        label={label}
        on={column.of(rowData, i) === true}
        disabled={disabled}
        focus={focus}
        take={(t) => write(i, t)}
        stop={() => stopEditing({ nextRow: false })}
      />
    );
  if (column.kind.choices)
    return (
      <Chosen
        label={label}
        value={value}
        column={column}
        disabled={disabled}
        focus={focus}
        take={(t) => write(i, t)}
        stop={() => stopEditing({ nextRow: false })}
        back={back}
      />
    );
  return (
    <Typed
      key={i}
      label={label}
      value={value}
      right={column.kind.right}
      suggestions={column.kind.suggestions}
      placeholder={column.kind.empty?.words}
      disabled={disabled}
      focus={focus}
      judge={(t) => judge(i, t)}
      take={(t) => write(i, t)}
      back={back}
    />
  );
}

interface TypedProps {
  label: string;
  value: string;
  right: boolean;
  suggestions?: readonly string[];
  placeholder?: string;
  disabled: boolean;
  focus: boolean;
  judge: (text: string) => string | null;
  take: (text: string) => string | null;
  back: () => void;
}

function Typed({ label, value, right, suggestions, placeholder, disabled, focus, judge, take, back }: TypedProps) {
  const list = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const dropped = useRef(false);
  const wrong = typed === null || typed === value ? null : (judge(typed) ?? refused);
  // Leaving it is no clean-up: what is blurred in one gets its focus back from React.
  useLayoutEffect(() => {
    const at = field.current;
    if (focus) {
      at?.focus();
      at?.select();
    } else if (document.activeElement === at) {
      at?.blur();
      back();
    }
  }, [focus, back]);
  const commit = () => {
    if (dropped.current) {
      dropped.current = false;
      setTyped(null);
      return;
    }
    if (typed === null) return;
    const why = typed === value ? null : take(typed);
    setRefused(why);
    if (why === null) setTyped(null);
  };
  return (
    <>
      <Tooltip open={wrong !== null} title={wrong} color="var(--fault)">
        <input
          ref={field}
          className={`cells-cell${right ? " right" : ""}${wrong === null ? "" : " wrong"}`}
          aria-label={label}
          aria-invalid={wrong !== null}
          tabIndex={-1}
          // A click chooses the cell; only what is being edited takes the pointer.
          style={{ pointerEvents: focus ? undefined : "none" }}
          readOnly={disabled}
          placeholder={placeholder}
          list={focus && suggestions ? list : undefined}
          value={typed ?? value}
          onChange={(e) => {
            setRefused(null);
            setTyped(e.target.value);
          }}
          onBlur={commit}
          onKeyDown={(e) => {
            if (e.key === "Escape") {
              dropped.current = true;
              if (!focus) e.currentTarget.blur();
            } else if (e.key === "Enter" && wrong !== null) {
              // It stays here until it is right, or left with Escape.
              e.stopPropagation();
              e.preventDefault();
            } else if (e.key === "Enter" && !focus) e.currentTarget.blur();
          }}
        />
      </Tooltip>
      {focus && suggestions && (
        <datalist id={list}>
          {suggestions.map((s) => (
            <option key={s} value={s} />
          ))}
        </datalist>
      )}
    </>
  );
}

interface ChosenProps {
  label: string;
  value: string;
  column: Column<unknown>;
  disabled: boolean;
  focus: boolean;
  take: (text: string) => void;
  stop: () => void;
  back: () => void;
}

function Chosen({ label, value, column, disabled, focus, take, stop, back }: ChosenProps) {
  const field = useRef<HTMLSelectElement>(null);
  useEffect(() => {
    if (!focus || !field.current) return;
    field.current.focus();
    try {
      field.current.showPicker();
    } catch {
      // Only a press of the person may open it; the arrows choose as well.
    }
  }, [focus]);
  return (
    <select
      ref={field}
      className="cells-cell"
      aria-label={label}
      tabIndex={-1}
      style={{ pointerEvents: focus ? undefined : "none" }}
      disabled={disabled}
      value={value}
      onChange={(e) => {
        take(e.target.value);
        stop();
        back();
      }}
    >
      {column.kind.choices!.map((c) => (
        <option key={String(c.value)}>{c.label}</option>
      ))}
    </select>
  );
}

function Ticked({
  label,
  on,
  disabled,
  focus,
  take,
  stop,
}: {
  label: string;
  on: boolean;
  disabled: boolean;
  focus: boolean;
  take: (text: string) => void;
  stop: () => void;
}) {
  const turn = useRef(() => {});
  useEffect(() => {
    turn.current = () => {
      stop();
      take(on ? "no" : "yes");
    };
  });
  // Begun to be edited, by Space or Enter: that turns it.
  useEffect(() => {
    if (focus) turn.current();
  }, [focus]);
  return (
    <span className="cells-tick">
      <input
        type="checkbox"
        aria-label={label}
        tabIndex={-1}
        disabled={disabled}
        checked={on}
        onChange={() => turn.current()}
        onMouseDown={(e) => e.stopPropagation()}
      />
    </span>
  );
}
