/** A chainage typed as 1234.5 or 1+234.5; what cannot be read stays in the field with what is wrong. */
import { Input, Tooltip } from "antd";
import { useRef, useState } from "react";
import { chainageText, readChainage } from "../base/chainage";
import { backToWork } from "./focus";
import { useUntaken } from "./untaken";

interface Props {
  label: string;
  value: number;
  onChange: (chainage: number) => void;
  disabled?: boolean;
  width?: number;
}

export function ChainageField({ label, value, onChange, disabled, width }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const dropped = useRef(false);
  const { value: parsed, wrong } = typed === null ? { value, wrong: null } : readChainage(typed);
  useUntaken(label, typed, wrong);
  const commit = () => {
    if (dropped.current) return void (dropped.current = false);
    if (typed !== null && parsed !== null && parsed !== value) onChange(parsed);
    if (parsed !== null) setTyped(null);
  };
  return (
    <Tooltip open={wrong !== null} title={wrong} color="var(--fault)">
      <Input
        size="small"
        className="number"
        style={width ? { width } : undefined}
        aria-label={label}
        disabled={disabled}
        status={parsed === null ? "error" : undefined}
        value={typed ?? chainageText(value)}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={commit}
        onPressEnter={(e) => {
          if (parsed !== null) backToWork(e.currentTarget); // leaving takes it over
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
