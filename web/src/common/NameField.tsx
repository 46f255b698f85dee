/** A name typed in place; taken over when it is a name. */
import { Input, Tooltip } from "antd";
import { useRef, useState } from "react";
import { backToWork } from "./focus";

interface Props {
  label: string;
  value: string;
  onChange: (v: string) => void;
  disabled: boolean;
  width?: number;
  /** Names that it must not have. */
  taken?: string[];
}

export function NameField({ label, value, onChange, disabled, width, taken }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const dropped = useRef(false);
  const name = typed?.trim() ?? value;
  const wrong = typed !== null && (name === "" || (name !== value && (taken?.includes(name) ?? false)));
  const why = !wrong ? null : name === "" ? "It needs a name" : `“${name}” is taken`;
  const commit = () => {
    if (!dropped.current && wrong) return; // it stays, with what is wrong, until it is right or left with Escape
    if (!dropped.current && typed !== null && name !== value) onChange(name);
    dropped.current = false;
    setTyped(null);
  };
  const field = (
    <Input
      size="small"
      style={{ width }}
      aria-label={label}
      aria-invalid={wrong}
      maxLength={40}
      disabled={disabled}
      status={wrong ? "error" : undefined}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onPressEnter={(e) => !wrong && backToWork(e.currentTarget)}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        dropped.current = true;
        setTyped(null);
        backToWork(e.currentTarget);
      }}
    />
  );
  return (
    <Tooltip open={wrong} title={why} color="var(--fault)">
      {field}
    </Tooltip>
  );
}
