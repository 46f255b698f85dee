/** Make-ups, kerbs and materials as forms. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, ColorPicker, Select } from "antd";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { NumberField } from "../../common/NumberField";
import { Row } from "../../common/Inspector";
import { NameField } from "./TemplateEditor";

interface Props<T> {
  spec: T;
  change: (spec: T) => void;
  disabled: boolean;
}

export function MakeUpEditor({ spec, change, disabled }: Props<SpecOf<"make_up">>) {
  const materials = useDocumentsOf("material");
  const set = (i: number, fields: Partial<(typeof spec.courses)[number]>) => change({ ...spec, courses: spec.courses.map((c, j) => (j === i ? { ...c, ...fields } : c)) });
  return (
    <div style={{ padding: 12 }}>
      <Row label="Name">
        <NameField label="Name of the make-up" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <table className="grid-table" aria-label="Courses">
        <thead>
          <tr>
            <th>Course, from the top</th>
            <th>Material</th>
            <th>Thickness</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {spec.courses.map((c, i) => (
            <tr key={i}>
              <td>
                <NameField label={`Name of course ${i + 1}`} width={190} value={c.name} disabled={disabled} onChange={(name) => set(i, { name })} />
              </td>
              <td>
                <Select size="small" style={{ width: 190 }} aria-label={`Material of course ${i + 1}`} disabled={disabled} value={c.material} options={materials.map((m) => ({ value: m.key, label: m.spec.name }))} onChange={(material) => set(i, { material })} />
              </td>
              <td>
                <NumberField label={`Thickness of course ${i + 1}`} width={110} unit="mm" least={1} most={5000} value={c.thickness_mm} disabled={disabled} onChange={(thickness_mm) => set(i, { thickness_mm })} />
              </td>
              <td>
                <Button type="text" size="small" aria-label={`Remove course ${i + 1}`} icon={<DeleteOutlined />} disabled={disabled || spec.courses.length === 1} onClick={() => change({ ...spec, courses: spec.courses.filter((_, j) => j !== i) })} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        <Button size="small" disabled={disabled} onClick={() => change({ ...spec, courses: [...spec.courses, { name: "Course", material: spec.courses.at(-1)!.material, thickness_mm: 100 }] })}>
          Add course below
        </Button>
      </p>
      <p className="quiet">Thickness is measured vertically. Over an existing pavement the last course is the regulating one: it runs down to the old surface, whatever its thickness here.</p>
    </div>
  );
}

export function KerbEditor({ spec, change, disabled }: Props<SpecOf<"kerb">>) {
  const materials = useDocumentsOf("material").map((m) => ({ value: m.key, label: m.spec.name }));
  const set = (i: number, fields: Partial<(typeof spec.top)[number]>) => change({ ...spec, top: spec.top.map((v, j) => (j === i ? { ...v, ...fields } : v)) });
  return (
    <div style={{ padding: 12, maxWidth: 620 }}>
      <Row label="Name">
        <NameField label="Name of the kerb" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <Row label="Material">
        <Select size="small" style={{ width: 260 }} aria-label="Material of the kerb" disabled={disabled} value={spec.material} options={materials} onChange={(material) => change({ ...spec, material })} />
      </Row>
      <Row label="Base below lip">
        <NumberField label="Base below lip" width={110} unit="mm" least={1} value={spec.base_mm} disabled={disabled} onChange={(base_mm) => change({ ...spec, base_mm })} />
      </Row>
      <Row label="Bed below base">
        <NumberField label="Bed below base" width={110} unit="mm" least={0} value={spec.bed_mm} disabled={disabled} onChange={(bed_mm) => change({ ...spec, bed_mm, bed_material: spec.bed_material ?? spec.material })} />
      </Row>
      <table className="grid-table" aria-label="Vertices of the kerb">
        <thead>
          <tr>
            <th>Vertex, lip to back</th>
            <th>Out from lip</th>
            <th>Up from lip</th>
          </tr>
        </thead>
        <tbody>
          {spec.top.map((v, i) => (
            <tr key={i}>
              <td>{v.name}</td>
              <td>
                <NumberField label={`${v.name} out`} width={110} unit="mm" value={v.out_mm} disabled={disabled || i === 0} onChange={(out_mm) => set(i, { out_mm })} />
              </td>
              <td>
                <NumberField label={`${v.name} up`} width={110} unit="mm" value={v.up_mm} disabled={disabled || i === 0} onChange={(up_mm) => set(i, { up_mm })} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

export function MaterialEditor({ spec, change, disabled }: Props<SpecOf<"material">>) {
  const patterns: (typeof spec.pattern)[] = ["plain", "rising", "falling", "crossed", "dotted", "level"];
  return (
    <div style={{ padding: 12, maxWidth: 460 }}>
      <Row label="Name">
        <NameField label="Name of the material" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <Row label="Density">
        <NumberField label="Density" width={140} unit="t/m³" least={0.01} most={10} value={spec.density} disabled={disabled} onChange={(density) => change({ ...spec, density })} />
      </Row>
      <Row label="Colour">
        <ColorPicker size="small" disabled={disabled} disabledAlpha value={spec.colour} showText onChangeComplete={(c) => change({ ...spec, colour: c.toHexString().slice(0, 7) })} />
      </Row>
      <Row label="Pattern">
        <Select size="small" style={{ width: 140 }} aria-label="Pattern" disabled={disabled} value={spec.pattern} options={patterns.map((p) => ({ value: p, label: p }))} onChange={(pattern) => change({ ...spec, pattern })} />
      </Row>
    </div>
  );
}
