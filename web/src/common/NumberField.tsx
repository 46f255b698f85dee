/** A number with its unit. What is typed stays in the field until it can be read, with what is wrong beside it. */
import { App, Input, Tooltip } from "antd";
import { useRef, useState } from "react";
import { useTyping } from "../api/pulse";
import { backToWork } from "./focus";
import { halfTyped, useUntaken } from "./untaken";
import { type Read, readWithin, type Unit } from "./numbers";

interface Props {
  label: string;
  value: number;
  unit: Unit;
  onChange: (value: number) => void;
  disabled?: boolean;
  least?: number;
  most?: number;
  width?: number;
}

export function NumberField({ label, value, unit, onChange, disabled, least, most, width }: Props) {
  const [typed, setTyped] = useState<string | null>(() => halfTyped(label));
  /** What was there when typing began: in another window, or by somebody else, it may become another one meanwhile. */
  const [from, setFrom] = useState(value);
  if (typed === null && !Object.is(from, value)) setFrom(value);
  const meanwhile = typed !== null && from !== value;
  const { message } = App.useApp();
  /** Escape leaves the field with its old value: what was typed is not taken over on the way out. */
  const dropped = useRef(false);
  const other = useTyping(label);
  const read: Read = typed === null ? { value, wrong: null } : readWithin(typed, unit, { least, most });
  const { value: parsed, wrong } = read;
  useUntaken(label, typed, wrong);
  const commit = () => {
    if (dropped.current) return void (dropped.current = false);
    if (typed !== null && wrong === null && parsed !== null && parsed !== value) {
      if (meanwhile) void message.warning(`${label} became ${value} while you were typing; ${parsed} took its place. Undo brings it back.`, 8);
      onChange(parsed);
    }
    if (wrong === null) setTyped(null);
  };
  return (
    <Tooltip
      open={typed !== null && (wrong !== null || meanwhile)}
      title={
        <>
          {wrong ?? (meanwhile && `It became ${value} while you were typing.`)}
          {meanwhile && wrong === null && (
            <button type="button" className="either" onPointerDown={(e) => (e.preventDefault(), setTyped(null))}>
              Leave it so
            </button>
          )}
          {read.choices?.map((v) => (
            // Pressed, not clicked: leaving the field must not come first.
            <button key={v} type="button" className="either" onPointerDown={(e) => (e.preventDefault(), setTyped(String(v)))}>
              {v}
            </button>
          ))}
        </>
      }
      color="var(--fault)"
    >
      <Input
        size="small"
        className={other ? "number theirs" : "number"}
        title={other ? `${other} is typing here` : undefined}
        style={width ? { width } : undefined}
        aria-label={label}
        value={typed ?? String(Number(value.toFixed(6)))}
        prefix={unit === "1 in" ? <span className="quiet">1 in</span> : undefined}
        suffix={unit === "1 in" ? undefined : <span className="quiet">{unit === "m right +" ? "m" : unit}</span>}
        status={typed !== null && wrong ? "error" : undefined}
        disabled={disabled}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={commit}
        onPressEnter={(e) => {
          e.preventDefault(); // else the key goes on to a button that a question about the number puts in front, and presses it
          if (wrong === null) backToWork(e.currentTarget); // leaving takes it over
        }}
        onKeyDown={(e) => {
          if (e.key !== "Escape") return;
          setTyped(null);
          dropped.current = true;
          backToWork(e.currentTarget);
        }}
      />
    </Tooltip>
  );
}
