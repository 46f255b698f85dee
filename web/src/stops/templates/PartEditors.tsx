/** Make-ups and materials as forms. */
import { DEFAULTS } from "../../api/defaults";
import { ArrowDownOutlined, ArrowUpOutlined, DeleteOutlined, DisconnectOutlined, LinkOutlined } from "@ant-design/icons";
import { Button, ColorPicker, Segmented, Select } from "antd";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { choicesOf } from "../../common/words";

export interface PartProps<T> {
  spec: T;
  change: (spec: T) => void;
  disabled: boolean;
}

type MakeUp = SpecOf<"make_up">;
type Course = MakeUp["courses"][number];
type End = NonNullable<Course["outer"]>;
const ENDS = choicesOf<End["kind"]>({
  flush: "upright",
  carry: "carried on",
  to_slope: "to the slope",
  under_kerb: "under the kerb",
  batter: "at a slope",
});

function freshEnd(kind: End["kind"]): End {
  if (kind === "carry") return { kind, distance: 0.2 };
  if (kind === "under_kerb") return { kind, behind: 0.15 };
  if (kind === "batter") return DEFAULTS.Batter;
  return { kind };
}

function EndCell({
  label,
  value,
  outer,
  disabled,
  change,
}: {
  label: string;
  value: End | undefined;
  outer: boolean;
  disabled: boolean;
  change: (e: End) => void;
}) {
  const end = value ?? { kind: "flush" as const };
  return (
    <span style={{ display: "flex", gap: 4 }}>
      <Select
        size="small"
        style={{ width: 116 }}
        aria-label={label}
        disabled={disabled}
        value={end.kind}
        options={ENDS.filter((e) => outer || e.value !== "to_slope")}
        onChange={(kind) => change(freshEnd(kind))}
      />
      {end.kind === "carry" && (
        <NumberField
          label={`${label}: how far`}
          width={84}
          unit="m"
          least={0.001}
          value={end.distance}
          disabled={disabled}
          onChange={(distance) => change({ kind: "carry", distance })}
        />
      )}
      {end.kind === "under_kerb" && (
        <NumberField
          label={`${label}: how far behind`}
          width={84}
          unit="m"
          least={0}
          value={end.behind}
          disabled={disabled}
          onChange={(behind) => change({ kind: "under_kerb", behind })}
        />
      )}
      {end.kind === "batter" && (
        <NumberField
          label={`${label}: slope`}
          width={92}
          unit="1 in"
          least={0.01}
          most={5}
          value={end.one_in}
          disabled={disabled}
          onChange={(one_in) => change({ kind: "batter", one_in })}
        />
      )}
    </span>
  );
}

export function MakeUpEditor({ spec, change, disabled }: PartProps<MakeUp>) {
  const materials = useDocumentsOf("material");
  const surfaces = useDocumentsOf("surface");
  const set = (i: number, fields: Partial<Course>) => change({ ...spec, courses: spec.courses.map((c, j) => (j === i ? { ...c, ...fields } : c)) });
  const swap = (i: number, j: number) => {
    const next = [...spec.courses];
    [next[i], next[j]] = [next[j]!, next[i]!];
    change({ ...spec, courses: next });
  };
  const bottom = spec.bottom;
  const total = spec.courses.reduce((sum, c) => sum + (typeof c.thickness_mm === "number" ? c.thickness_mm : 0), 0);
  return (
    <div style={{ padding: 12 }}>
      <div style={{ maxWidth: 520 }}>
        <Row label="Name">
          <NameField label="Name of the make-up" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
        </Row>
        <Row label="Thickness">
          <Segmented<"vertical" | "square">
            size="small"
            aria-label="How thickness is measured"
            disabled={disabled}
            value={spec.measured}
            options={[
              { value: "vertical", label: "vertical" },
              { value: "square", label: "square to the surface" },
            ]}
            onChange={(measured) => change({ ...spec, measured })}
          />
        </Row>
        <Row label="Lowest course">
          <span style={{ display: "flex", gap: 4 }}>
            <Select
              size="small"
              style={{ width: 240 }}
              aria-label="Bottom of the lowest course"
              disabled={disabled}
              value={bottom.kind}
              options={[
                { value: "parallel", label: "keeps its thickness" },
                { value: "onto", label: "goes down to what lies beneath" },
                { value: "down_to", label: "goes down to a surface" },
              ]}
              onChange={(kind) => change({ ...spec, bottom: kind === "down_to" ? { kind, surface: "main" } : { kind } })}
            />
            {bottom.kind === "down_to" && (
              <Select
                size="small"
                style={{ width: 140 }}
                aria-label="Surface that it goes down to"
                disabled={disabled}
                value={bottom.surface}
                options={surfaces.map((s) => ({ value: s.key, label: s.spec.name }))}
                onChange={(surface) => change({ ...spec, bottom: { kind: "down_to", surface } })}
              />
            )}
          </span>
        </Row>
      </div>
      <table className="grid-table edit-table" aria-label="Courses">
        <thead>
          <tr>
            <th>Course, from the top</th>
            <th>Material</th>
            <th>Thickness</th>
            <th>At the outer side</th>
            <th>Inner end</th>
            <th>Outer end</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {spec.courses.map((c, i) => (
            <tr key={i}>
              <td>
                <NameField label={`Name of course ${i + 1}`} width={150} value={c.name} disabled={disabled} onChange={(name) => set(i, { name })} />
              </td>
              <td>
                <Select
                  size="small"
                  style={{ width: 150 }}
                  aria-label={`Material of course ${i + 1}`}
                  disabled={disabled}
                  value={c.material}
                  options={materials.map((m) => ({ value: m.key, label: m.spec.name }))}
                  onChange={(material) => set(i, { material })}
                />
              </td>
              <td>
                <span style={{ display: "flex" }}>
                  {typeof c.thickness_mm === "number" ? (
                    <NumberField
                      label={`Thickness of course ${i + 1}`}
                      width={92}
                      unit="mm"
                      least={1}
                      most={5000}
                      value={c.thickness_mm}
                      disabled={disabled}
                      onChange={(thickness_mm) => set(i, { thickness_mm })}
                    />
                  ) : (
                    <NameField
                      label={`Dimension for the thickness of course ${i + 1}`}
                      width={92}
                      value={c.thickness_mm}
                      disabled={disabled}
                      onChange={(thickness_mm) => set(i, { thickness_mm })}
                    />
                  )}
                  <Button
                    size="small"
                    type="text"
                    aria-label={`${typeof c.thickness_mm === "number" ? "Name a dimension" : "Type a number"} for the thickness of course ${i + 1}`}
                    title={typeof c.thickness_mm === "number" ? "Take a dimension of the template instead" : "Type a number instead"}
                    icon={typeof c.thickness_mm === "number" ? <LinkOutlined /> : <DisconnectOutlined />}
                    disabled={disabled}
                    onClick={() => set(i, { thickness_mm: typeof c.thickness_mm === "number" ? "thickness" : 100 })}
                  />
                </span>
              </td>
              <td>
                {c.outer_thickness_mm == null ? (
                  <Button size="small" type="text" disabled={disabled} onClick={() => set(i, { outer_thickness_mm: c.thickness_mm })}>
                    the same
                  </Button>
                ) : (
                  <span style={{ display: "flex" }}>
                    <NumberField
                      label={`Outer thickness of course ${i + 1}`}
                      width={92}
                      unit="mm"
                      least={1}
                      most={5000}
                      value={Number(c.outer_thickness_mm)}
                      disabled={disabled}
                      onChange={(outer_thickness_mm) => set(i, { outer_thickness_mm })}
                    />
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Same thickness on both sides of course ${i + 1}`}
                      icon={<DeleteOutlined />}
                      disabled={disabled}
                      onClick={() => set(i, { outer_thickness_mm: null })}
                    />
                  </span>
                )}
              </td>
              <td>
                <EndCell label={`Inner end of course ${i + 1}`} outer={false} value={c.inner} disabled={disabled} change={(inner) => set(i, { inner })} />
              </td>
              <td>
                <EndCell label={`Outer end of course ${i + 1}`} outer value={c.outer} disabled={disabled} change={(outer) => set(i, { outer })} />
              </td>
              <td style={{ whiteSpace: "nowrap" }}>
                <Button
                  type="text"
                  size="small"
                  aria-label={`Move course ${i + 1} up`}
                  icon={<ArrowUpOutlined />}
                  disabled={disabled || i === 0}
                  onClick={() => swap(i, i - 1)}
                />
                <Button
                  type="text"
                  size="small"
                  aria-label={`Move course ${i + 1} down`}
                  icon={<ArrowDownOutlined />}
                  disabled={disabled || i === spec.courses.length - 1}
                  onClick={() => swap(i, i + 1)}
                />
                <Button
                  type="text"
                  size="small"
                  aria-label={`Remove course ${i + 1}`}
                  icon={<DeleteOutlined />}
                  disabled={disabled || spec.courses.length === 1}
                  onClick={() => change({ ...spec, courses: spec.courses.filter((_, j) => j !== i) })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p style={{ display: "flex", gap: 12, alignItems: "center" }}>
        <Button
          size="small"
          disabled={disabled}
          onClick={() =>
            change({
              ...spec,
              courses: [
                ...spec.courses,
                {
                  name: "Course",
                  material: spec.courses.at(-1)!.material,
                  thickness_mm: 100,
                  outer_thickness_mm: null,
                  inner: { kind: "flush" },
                  outer: { kind: "flush" },
                },
              ],
            })
          }
        >
          Add course below
        </Button>
        <span className="quiet mono">{total} mm in all</span>
      </p>
      <p className="quiet">Over an existing pavement the last course is the regulating one: it runs down to the old surface, whatever its thickness here.</p>
    </div>
  );
}

export function MaterialEditor({ spec, change, disabled }: PartProps<SpecOf<"material">>) {
  const patterns: NonNullable<typeof spec.pattern>[] = ["plain", "rising", "falling", "crossed", "dotted", "level"];
  return (
    <div style={{ padding: 12, maxWidth: 460 }}>
      <Row label="Name">
        <NameField label="Name of the material" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <Row label="Density">
        <NumberField
          label="Density"
          width={140}
          unit="t/m³"
          least={0.01}
          most={10}
          value={spec.density}
          disabled={disabled}
          onChange={(density) => change({ ...spec, density })}
        />
      </Row>
      <Row label="Colour">
        <ColorPicker
          size="small"
          disabled={disabled}
          disabledAlpha
          value={spec.colour}
          showText
          onChangeComplete={(c) => change({ ...spec, colour: c.toHexString().slice(0, 7) })}
        />
      </Row>
      <Row label="Pattern">
        <Select
          size="small"
          style={{ width: 140 }}
          aria-label="Pattern"
          disabled={disabled}
          value={spec.pattern}
          options={patterns.map((p) => ({ value: p, label: p }))}
          onChange={(pattern) => change({ ...spec, pattern })}
        />
      </Row>
    </div>
  );
}
