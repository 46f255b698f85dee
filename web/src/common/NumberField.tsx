/** A number with its unit. What is typed stays in the field until it can be read, with what is wrong beside it. */
import { Input, Tooltip } from "antd";
import { useRef, useState } from "react";
import { useTyping } from "../api/pulse";
import { backToWork } from "./focus";

export type Unit = "m" | "mm" | "%" | "1 in" | "t/m³" | "°" | "m right +" | "km/h" | "per t" | "m/%" | "";

const PER: Record<string, number> = { m: 1, mm: 0.001, cm: 0.01, km: 1000 };

export interface Read {
  /** The value in the field's unit; null when the text is not one. */
  value: number | null;
  /** What is wrong, or how it could be read in two ways. */
  wrong: string | null;
}

const number = (text: string) => (/^[-+]?(?:\d+\.?\d*|\.\d+)$/.test(text) ? Number(text) : null);

/**
 * What a text means in a unit. Numbers may carry a unit ("350mm", "-2.5%") or be a ratio ("1 in 3"). A ratio of a crossfall needs
 * its sign: without one it could rise or fall. A comma before three digits could part thousands or decimals: it is not guessed.
 */
export function readNumber(text: string, unit: Unit): Read {
  const plain = text.trim().replace("−", "-");
  const bad = (wrong: string): Read => ({ value: null, wrong });
  if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?\b/.test(plain) || /^[-+]?\d+,\d{3}(?!\d)/.test(plain)) {
    const [whole, point] = [plain.replaceAll(",", ""), plain.replace(",", ".")];
    return bad(`${plain} can be read as ${whole} or ${point}: write it without the comma`);
  }
  const dotted = plain.replace(",", ".");
  const ratio = /^([-+]?)1\s*(?:in|:)\s*(\d+(?:\.\d+)?)$/.exec(dotted);
  if (ratio) {
    const n = Number(ratio[2]);
    if (n <= 0) return bad("1 in nothing is no slope");
    if (unit === "1 in") return ratio[1] === "-" ? bad("a side slope has no sign here: cut or fill says which way") : { value: n, wrong: null };
    if (unit !== "%") return bad(`A slope is no length in ${unit}`);
    const pct = Number((100 / n).toPrecision(12));
    if (ratio[1] === "") return bad(`Falling or rising? -1 in ${n} falls by ${Number(pct.toFixed(3))} %, +1 in ${n} rises`);
    return { value: ratio[1] === "-" ? -pct : pct, wrong: null };
  }
  const match = /^([-+]?[\d.]+)\s*(mm|cm|m|km|km\/h|%|°|t\/m³)?$/.exec(dotted);
  const value = match && number(match[1]!);
  if (!match || value === null) return bad(`Not a number in ${unit || "this field"}`);
  const given = match[2];
  const own = unit.split(" ")[0]!;
  if (!given || given === own) return { value, wrong: null };
  if (given in PER && own in PER) return { value: Number(((value * PER[given]!) / PER[own]!).toPrecision(12)), wrong: null };
  if (given === "%" && unit === "1 in" && value !== 0) return { value: Math.abs(100 / value), wrong: null };
  return bad(`${given} does not go with ${unit || "this field"}`);
}

/** Beyond these no field of a unit means anything; a field may ask for less. */
const SENSE: Partial<Record<Unit, [number, number, string]>> = {
  m: [-1e7, 1e7, "a length or coordinate"],
  mm: [-20_000, 20_000, "a thickness or depth"],
  "%": [-1000, 1000, "a slope"],
  "1 in": [0.001, 10_000, "a slope"],
  "t/m³": [0, 30, "a density"],
  "km/h": [0, 300, "a speed"],
};

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
  const [typed, setTyped] = useState<string | null>(null);
  /** Escape leaves the field with its old value: what was typed is not taken over on the way out. */
  const dropped = useRef(false);
  const other = useTyping(label);
  const read: Read = typed === null ? { value, wrong: null } : readNumber(typed, unit);
  const parsed = read.value;
  const [low, high, what] = SENSE[unit] ?? [-Infinity, Infinity, ""];
  const wrong =
    parsed === null
      ? read.wrong
      : least !== undefined && parsed < least
        ? `At least ${least} ${unit}`
        : most !== undefined && parsed > most
          ? `At most ${most} ${unit}`
          : parsed < low || parsed > high
            ? `No ${what.replace(/^a /, "")}: between ${low} and ${high} ${unit}`
            : null;
  const commit = () => {
    if (dropped.current) return void (dropped.current = false);
    if (typed !== null && wrong === null && parsed !== null && parsed !== value) onChange(parsed);
    if (wrong === null) setTyped(null);
  };
  return (
    <Tooltip open={typed !== null && wrong !== null} title={wrong} color="var(--fault)">
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
