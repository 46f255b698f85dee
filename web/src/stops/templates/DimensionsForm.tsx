/** Named dimensions: shared by ties, given other values by template ranges. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { type Dimension, freeName, type Template, type Unit } from "./spec";

interface Props {
  spec: Template;
  disabled: boolean;
  change: (spec: Template) => void;
}

export function DimensionsForm({ spec, disabled, change }: Props) {
  const all = spec.dimensions;
  const names = all.map((d) => d.name);
  const set = (i: number, fields: Partial<Dimension>) => change({ ...spec, dimensions: all.map((d, j) => (j === i ? { ...d, ...fields } : d)) });
  const rename = (i: number, name: string) => {
    const old = all[i]!.name;
    const swapped = JSON.parse(JSON.stringify({ right: spec.right, left: spec.left }), (key, v: unknown) =>
      ["width", "along", "out", "crossfall_pct", "rise", "plus", "depth_mm"].includes(key) && v === old ? name : v,
    ) as Pick<Template, "right" | "left">;
    change({ ...spec, ...swapped, dimensions: all.map((d, j) => (j === i ? { ...d, name } : d)) });
  };
  return (
    <>
      <p className="quiet">A dimension gives one value to several ties. A template range may give it another value, and run to it over a transition.</p>
      {all.map((d, i) => (
        <div key={i} style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) 92px 62px auto", gap: 4, marginBottom: 6 }}>
          <NameField label={`Name of dimension ${i + 1}`} value={d.name} taken={names} disabled={disabled} onChange={(name) => rename(i, name)} />
          <NumberField label={`Value of ${d.name}`} unit={d.unit} value={d.value} disabled={disabled} onChange={(value) => set(i, { value })} />
          <Select
            size="small"
            aria-label={`Unit of ${d.name}`}
            disabled={disabled}
            value={d.unit}
            options={["m", "mm", "%"].map((u) => ({ value: u as Unit, label: u }))}
            onChange={(unit) => set(i, { unit })}
          />
          <Button
            type="text"
            size="small"
            aria-label={`Remove dimension ${d.name}`}
            icon={<DeleteOutlined />}
            disabled={disabled}
            onClick={() => change({ ...spec, dimensions: all.filter((_, j) => j !== i) })}
          />
        </div>
      ))}
      <Button
        size="small"
        icon={<PlusOutlined />}
        disabled={disabled}
        onClick={() => change({ ...spec, dimensions: [...all, { name: freeName("lane width", names), unit: "m", value: 3.5 }] })}
      >
        Add dimension
      </Button>
    </>
  );
}
