/** Rows of an inspector: a name, and the field that belongs to it under the same name. */
import { Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { backToWork } from "./focus";
import { Row } from "./Inspector";
import { NumberField } from "./NumberField";
import type { Unit } from "./numbers";

interface Common<T> {
  label: string;
  value: T;
  onChange: (v: T) => void;
  disabled: boolean;
}

export function SelectRow<T extends string | number>({ label, options, ...rest }: Common<T> & { options: { value: T; label: string }[] }) {
  return (
    <Row label={label}>
      <Select size="small" aria-label={label} options={options} {...rest} />
    </Row>
  );
}

export function NumberRow({ label, ...rest }: Common<number> & { unit: Unit; least: number; most: number }) {
  return (
    <Row label={label}>
      <NumberField label={label} {...rest} />
    </Row>
  );
}

export function CheckRow({ label, value, onChange, disabled }: Common<boolean>) {
  return (
    <div>
      <Checkbox disabled={disabled} checked={value} onChange={(e) => onChange(e.target.checked)}>
        {label}
      </Checkbox>
    </div>
  );
}

interface TextProps extends Common<string> {
  most: number;
  /** It may not be empty. */
  needed?: boolean;
  /** What is wrong with a text, or nothing. */
  wrong?: (text: string) => string | null;
  rows?: number;
}

/** Words, taken over when the field is left; Escape drops what was typed. */
export function TextRow({ label, value, onChange, disabled, most, needed, wrong, rows }: TextProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed?.trim() ?? value;
  const why = typed === null ? null : needed && text === "" ? "It needs some words" : (wrong?.(text) ?? null);
  const commit = () => {
    if (why) return;
    if (typed !== null && text !== value) onChange(text);
    setTyped(null);
  };
  const common = {
    size: "small",
    "aria-label": label,
    "aria-invalid": why !== null,
    title: why ?? undefined,
    status: why ? "error" : undefined,
    maxLength: most,
    disabled,
    value: typed ?? value,
    onChange: (e: { target: { value: string } }) => setTyped(e.target.value),
    onBlur: commit,
  } as const;
  return (
    <>
      <Row label={label}>
        {rows ? (
          <Input.TextArea {...common} rows={rows} />
        ) : (
          <Input
            {...common}
            onPressEnter={(e) => !why && backToWork(e.currentTarget)}
            onKeyDown={(e) => {
              if (e.key === "Escape") setTyped(null);
            }}
          />
        )}
      </Row>
      {why && (
        <p role="alert" style={{ color: "var(--fault)", margin: "0 0 6px" }}>
          {why}
        </p>
      )}
    </>
  );
}
