/** A number with its unit. Typed values may carry a unit: "350mm", "1 in 3", "-2.5%". */
import { Input, Tooltip } from "antd";
import { useState } from "react";

export type Unit = "m" | "mm" | "%" | "1 in" | "t/m³" | "°" | "m right +" | "km/h" | "per t" | "m/%" | "";

const PER: Record<string, number> = { m: 1, mm: 0.001, cm: 0.01, km: 1000 };

/** The value in the field's unit, or null when the text is not one. */
export function parseNumber(text: string, unit: Unit): number | null {
  const plain = text.trim().replace("−", "-").replace(",", ".");
  const ratio = /^1\s*(?:in|:)\s*(\d+(?:\.\d+)?)$/.exec(plain);
  if (ratio) {
    const n = Number(ratio[1]);
    if (unit === "1 in") return n;
    return unit === "%" && n > 0 ? 100 / n : null;
  }
  const match = /^([-+]?(?:\d+\.?\d*|\.\d+))\s*(mm|cm|m|km|km\/h|%|°|t\/m³)?$/.exec(plain);
  if (!match) return null;
  const value = Number(match[1]);
  const given = match[2];
  const own = unit.split(" ")[0]!;
  if (!given || given === own) return value;
  if (given in PER && own in PER) return Number(((value * PER[given]!) / PER[own]!).toPrecision(12));
  if (given === "%" && unit === "1 in") return value !== 0 ? Math.abs(100 / value) : null;
  return null;
}

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
  const parsed = typed === null ? value : parseNumber(typed, unit);
  const wrong =
    parsed === null
      ? `Not a number in ${unit}`
      : least !== undefined && parsed < least
        ? `At least ${least} ${unit}`
        : most !== undefined && parsed > most
          ? `At most ${most} ${unit}`
          : null;
  const commit = () => {
    if (typed !== null && wrong === null && parsed !== null && parsed !== value) onChange(parsed);
    if (wrong === null) setTyped(null);
  };
  return (
    <Tooltip open={typed !== null && wrong !== null} title={wrong} color="var(--fault)">
      <Input
        size="small"
        className="number"
        style={width ? { width } : undefined}
        aria-label={label}
        value={typed ?? String(Number(value.toFixed(6)))}
        prefix={unit === "1 in" ? <span className="quiet">1 in</span> : undefined}
        suffix={unit === "1 in" ? undefined : <span className="quiet">{unit === "m right +" ? "m" : unit}</span>}
        status={typed !== null && wrong ? "error" : undefined}
        disabled={disabled}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={commit}
        onPressEnter={commit}
        onKeyDown={(e) => {
          if (e.key === "Escape") setTyped(null);
        }}
      />
    </Tooltip>
  );
}
