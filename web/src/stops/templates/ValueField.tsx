/** A number with its unit, or one of the template's dimensions. */
import { LinkOutlined, DisconnectOutlined } from "@ant-design/icons";
import { Button, Dropdown, Select } from "antd";
import { NumberField } from "../../common/NumberField";
import { type Dimension, numberOf, type Unit, type Value } from "./spec";

interface Props {
  label: string;
  value: Value;
  unit: Unit;
  dimensions: Dimension[];
  disabled: boolean;
  least?: number;
  most?: number;
  onChange: (value: Value) => void;
}

export function ValueField({ label, value, unit, dimensions, disabled, least, most, onChange }: Props) {
  const fitting = dimensions.filter((d) => d.unit === unit);
  if (typeof value === "string") {
    return (
      <span style={{ display: "flex", gap: 4 }}>
        <Select
          size="small"
          style={{ flex: 1, minWidth: 0 }}
          aria-label={label}
          disabled={disabled}
          value={value}
          options={fitting.map((d) => ({ value: d.name, label: `${d.name} (${d.value} ${d.unit})` }))}
          onChange={onChange}
        />
        <Button
          size="small"
          type="text"
          aria-label={`Type a number for ${label}`}
          title="Type a number instead"
          icon={<DisconnectOutlined />}
          disabled={disabled}
          onClick={() => onChange(numberOf(value, dimensions))}
        />
      </span>
    );
  }
  return (
    <span style={{ display: "flex", gap: 4 }}>
      <NumberField label={label} unit={unit} least={least} most={most} value={value} disabled={disabled} onChange={onChange} />
      {fitting.length > 0 && (
        <Dropdown
          trigger={["click"]}
          autoFocus
          disabled={disabled}
          menu={{ items: fitting.map((d) => ({ key: d.name, label: `${d.name} (${d.value} ${d.unit})` })), onClick: ({ key }) => onChange(key) }}
        >
          <Button size="small" type="text" aria-label={`Dimension for ${label}`} title="Take a dimension instead" icon={<LinkOutlined />} />
        </Dropdown>
      )}
    </span>
  );
}
