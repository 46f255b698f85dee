/** The template as a whole: name, halves, boundary, fill. */
import { Button, Select, Switch } from "antd";
import { useDocumentsOf } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { SourceRow, useBoundaryLine } from "../../common/SourceRow";
import { halfOf, type Side, type Template, withHalf } from "./spec";

interface Props {
  spec: Template;
  side: Side;
  disabled: boolean;
  change: (spec: Template) => void;
}

export function TemplateForm({ spec, side, disabled, change }: Props) {
  const materials = useDocumentsOf("material").map((m) => ({ value: m.key, label: m.spec.name }));
  const half = halfOf(spec, side);
  const set = (fields: Partial<typeof half>) => change(withHalf(spec, side, { ...half, ...fields }));
  const inside = useBoundaryLine();
  const which = spec.left ? `the ${side} half` : "both halves";
  return (
    <>
      <Row label="Name">
        <NameField label="Name of the template" value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <Row label="Left mirrors right">
        <span>
          <Switch
            size="small"
            aria-label="Left mirrors right"
            disabled={disabled}
            checked={!spec.left}
            onChange={(on) => change({ ...spec, left: on ? null : structuredClone(spec.right) })}
          />
        </span>
      </Row>
      {spec.left && (
        <Button
          size="small"
          disabled={disabled}
          style={{ marginBottom: 8 }}
          onClick={() => change(side === "right" ? { ...spec, left: structuredClone(spec.right) } : { ...spec, right: structuredClone(spec.left!) })}
        >
          Draw the {side === "right" ? "left" : "right"} half like this one
        </Button>
      )}
      <Row label="Fill">
        <Select size="small" aria-label="Fill between courses" disabled={disabled} value={half.fill} options={materials} onChange={(fill) => set({ fill })} />
      </Row>
      <p className="quiet">The fill takes what is left between courses that do not meet, on {which}.</p>
      <Row label="Boundary">
        <span>
          <Switch
            size="small"
            aria-label="Has a boundary"
            disabled={disabled}
            checked={half.boundary != null}
            onChange={(on) => set({ boundary: on ? inside : null })}
          />
        </span>
      </Row>
      {half.boundary && <SourceRow label="Stay inside" value={half.boundary} disabled={disabled} onChange={(boundary) => set({ boundary })} />}
    </>
  );
}
