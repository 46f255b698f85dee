/** Which rows of figures stand beneath a drawing, and in which order: what is chosen can be moved up and down. */
import { ArrowDownOutlined, ArrowUpOutlined } from "@ant-design/icons";
import { Button, Checkbox } from "antd";

interface Props<K extends string> {
  of: { value: K; label: string }[];
  value: K[];
  onChange: (rows: K[]) => void;
  disabled: boolean;
}

export function RowChoice<K extends string>({ of, value, onChange, disabled }: Props<K>) {
  const others = of.filter((r) => !value.includes(r.value));
  const move = (i: number, by: number) => {
    const next = [...value];
    [next[i], next[i + by]] = [next[i + by]!, next[i]!];
    onChange(next);
  };
  return (
    <div role="group" aria-label="Rows of figures">
      <h3 style={{ margin: "12px 0 4px" }}>Rows of figures</h3>
      {value.map((row, i) => {
        const label = of.find((r) => r.value === row)?.label ?? row;
        return (
          <div key={row} style={{ display: "flex", alignItems: "center" }}>
            <Checkbox disabled={disabled || value.length === 1} checked onChange={() => onChange(value.filter((r) => r !== row))}>
              {label}
            </Checkbox>
            <span style={{ flex: 1 }} />
            <Button
              type="text"
              size="small"
              aria-label={`${label}: further up`}
              icon={<ArrowUpOutlined />}
              disabled={disabled || i === 0}
              onClick={() => move(i, -1)}
            />
            <Button
              type="text"
              size="small"
              aria-label={`${label}: further down`}
              icon={<ArrowDownOutlined />}
              disabled={disabled || i === value.length - 1}
              onClick={() => move(i, 1)}
            />
          </div>
        );
      })}
      {others.map((r) => (
        <div key={r.value}>
          <Checkbox disabled={disabled} checked={false} onChange={() => onChange([...value, r.value])}>
            {r.label}
          </Checkbox>
        </div>
      ))}
    </div>
  );
}
