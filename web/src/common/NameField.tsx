/** A name typed in place; taken over when it is a name. */
import { Input } from "antd";
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
  const commit = () => {
    if (!dropped.current && typed !== null && !wrong && name !== value) onChange(name);
    dropped.current = false;
    setTyped(null);
  };
  return (
    <Input
      size="small"
      style={{ width }}
      aria-label={label}
      title={wrong && name !== "" ? "this name is taken" : undefined}
      maxLength={40}
      disabled={disabled}
      status={wrong ? "error" : undefined}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onPressEnter={(e) => backToWork(e.currentTarget)}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        dropped.current = true;
        backToWork(e.currentTarget);
      }}
    />
  );
}
