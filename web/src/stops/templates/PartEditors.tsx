/** Make-ups and materials as forms. */
import { Segmented, Select } from "antd";
import { useMemo } from "react";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { CellTable } from "../../common/cells/CellTable";
import { namedChoices } from "../../common/cells/columns";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { type Course, courseColumns } from "./courses";
import { ColourField } from "../../common/ColourField";

export interface PartProps<T> {
  spec: T;
  change: (spec: T) => void;
  disabled: boolean;
}

type MakeUp = SpecOf<"make_up">;

export function MakeUpEditor({ spec, change, disabled }: PartProps<MakeUp>) {
  const materials = useDocumentsOf("material");
  const surfaces = useDocumentsOf("surface");
  const columns = useMemo(() => courseColumns(namedChoices(materials)), [materials]);
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
      <div style={{ maxWidth: 900, margin: "8px 0" }}>
        <CellTable<Course>
          label="Courses"
          rows={spec.courses}
          columns={columns}
          disabled={disabled}
          change={(courses) => change({ ...spec, courses })}
          least={1}
          movable
          fresh={(all, i) => ({ ...all[Math.max(0, i - 1)]!, name: "Course" })}
          also={<span className="quiet mono">{total} mm in all</span>}
        />
      </div>
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
        <ColourField disabled={disabled} value={spec.colour} showText onChange={(colour) => change({ ...spec, colour })} />
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
