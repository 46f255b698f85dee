/** A kerb profile: drawn to scale with vertices to drag, and as figures. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Input, Select } from "antd";
import { useRef } from "react";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { colour } from "../../app/theme";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { MaterialPatterns, patternId } from "../../drawing/patterns";
import type { PartProps } from "./PartEditors";
import { freeName } from "./spec";

type Kerb = SpecOf<"kerb">;
const WIDTH = 460;
const HEIGHT = 330;

export function KerbEditor({ spec, change, disabled }: PartProps<Kerb>) {
  const materials = useDocumentsOf("material");
  const options = materials.map((m) => ({ value: m.key, label: m.spec.name }));
  const set = (i: number, fields: Partial<Kerb["top"][number]>) => change({ ...spec, top: spec.top.map((v, j) => (j === i ? { ...v, ...fields } : v)) });
  const figure = (label: string, name: "base_mm" | "bed_mm" | "bed_behind_mm" | "backing_height_mm" | "backing_width_mm", least = 0) => (
    <Row label={label}>
      <NumberField
        label={label}
        width={110}
        unit="mm"
        least={least}
        value={spec[name]}
        disabled={disabled}
        onChange={(v) => change(sound({ ...spec, [name]: v, bed_material: spec.bed_material ?? spec.material }))}
      />
    </Row>
  );
  const split = (i: number) => {
    const [a, b] = [spec.top[i]!, spec.top[i + 1]!];
    const name = freeName(
      "bend",
      spec.top.map((v) => v.name),
    );
    change({
      ...spec,
      top: [...spec.top.slice(0, i + 1), { name, out_mm: (a.out_mm + b.out_mm) / 2, up_mm: (a.up_mm + b.up_mm) / 2 }, ...spec.top.slice(i + 1)],
    });
  };
  return (
    <div style={{ padding: 12, display: "grid", gridTemplateColumns: `minmax(340px, 1fr) ${WIDTH}px`, gap: 16 }}>
      <div>
        <Row label="Name">
          <NameField label="Name of the kerb" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
        </Row>
        <Row label="Material">
          <Select
            size="small"
            aria-label="Material of the kerb"
            disabled={disabled}
            value={spec.material}
            options={options}
            onChange={(material) => change({ ...spec, material })}
          />
        </Row>
        <table className="grid-table edit-table" aria-label="Vertices of the kerb">
          <thead>
            <tr>
              <th>Vertex, lip to back</th>
              <th>Out from lip</th>
              <th>Up from lip</th>
              <th aria-label="Actions" />
            </tr>
          </thead>
          <tbody>
            {spec.top.map((v, i) => (
              <tr key={i}>
                <td>
                  <NameField
                    label={`Name of vertex ${i + 1}`}
                    width={110}
                    value={v.name}
                    taken={spec.top.map((x) => x.name)}
                    disabled={disabled}
                    onChange={(name) => set(i, { name })}
                  />
                </td>
                <td>
                  <NumberField
                    label={`${v.name} out`}
                    width={100}
                    unit="mm"
                    least={spec.top[i - 1]?.out_mm}
                    most={spec.top[i + 1]?.out_mm}
                    value={v.out_mm}
                    disabled={disabled || i === 0}
                    onChange={(out_mm) => set(i, { out_mm })}
                  />
                </td>
                <td>
                  <NumberField
                    label={`${v.name} up`}
                    width={100}
                    unit="mm"
                    value={v.up_mm}
                    disabled={disabled || i === 0}
                    onChange={(up_mm) => set(i, { up_mm })}
                  />
                </td>
                <td style={{ whiteSpace: "nowrap" }}>
                  {i < spec.top.length - 1 && (
                    <Button size="small" type="text" disabled={disabled} onClick={() => split(i)} title="A vertex between this and the next">
                      +
                    </Button>
                  )}
                  {i > 0 && spec.top.length > 2 && (
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Remove vertex ${v.name}`}
                      icon={<DeleteOutlined />}
                      disabled={disabled}
                      onClick={() => change({ ...spec, top: spec.top.filter((_, j) => j !== i) })}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div style={{ height: 8 }} />
        {figure("Base below lip", "base_mm", 1)}
        {figure("Bed thickness", "bed_mm")}
        {figure("Bed past back", "bed_behind_mm")}
        {figure("Backing height", "backing_height_mm")}
        {figure("Backing width", "backing_width_mm")}
        <Row label="Bed material">
          <Select
            size="small"
            aria-label="Material of bed and backing"
            disabled={disabled}
            value={spec.bed_material ?? spec.material}
            options={options}
            onChange={(bed_material) => change({ ...spec, bed_material })}
          />
        </Row>
        <Row label="Source">
          <Input
            size="small"
            aria-label="Where its dimensions are from"
            disabled={disabled}
            maxLength={200}
            defaultValue={spec.source}
            onBlur={(e) => e.target.value !== spec.source && change({ ...spec, source: e.target.value })}
          />
        </Row>
      </div>
      <Profile spec={spec} change={change} disabled={disabled} materials={materials} />
    </div>
  );
}

/** A backing has both a height and a width, or neither. */
function sound(spec: Kerb): Kerb {
  const [height, width] = [spec.backing_height_mm, spec.backing_width_mm];
  if (height > 0 && width === 0) return { ...spec, backing_width_mm: 100 };
  if (width > 0 && height === 0) return { ...spec, backing_height_mm: 100 };
  return spec;
}

function Profile({ spec, change, disabled, materials }: PartProps<Kerb> & { materials: { key: string; spec: SpecOf<"material"> }[] }) {
  const svg = useRef<SVGSVGElement>(null);
  const grabbed = useRef<number | null>(null);
  const back = spec.top.at(-1)!;
  const [bed, behind, high, wide] = [spec.bed_mm, spec.bed_behind_mm, spec.backing_height_mm, spec.backing_width_mm];
  const left = -60;
  const right = back.out_mm + Math.max(behind, wide) + 60;
  const top = Math.max(...spec.top.map((v) => v.up_mm)) + 60;
  const bottom = -spec.base_mm - bed - 40;
  const scale = Math.min(WIDTH / (right - left), HEIGHT / (top - bottom));
  const x = (out: number) => (out - left) * scale;
  const y = (up: number) => (top - up) * scale;
  const points = (list: [number, number][]) => list.map(([o, u]) => `${x(o)},${y(u)}`).join(" ");
  const body: [number, number][] = [...spec.top.map((v): [number, number] => [v.out_mm, v.up_mm]), [back.out_mm, -spec.base_mm], [0, -spec.base_mm]];
  const move = (e: React.PointerEvent) => {
    const i = grabbed.current;
    if (i === null) return;
    const box = svg.current!.getBoundingClientRect();
    const out = Math.round((e.clientX - box.left) / scale + left);
    const up = Math.round(top - (e.clientY - box.top) / scale);
    const low = spec.top[i - 1]!.out_mm;
    const most = spec.top[i + 1]?.out_mm ?? Infinity;
    change({
      ...spec,
      top: spec.top.map((v, j) => (j === i ? { ...v, out_mm: Math.min(most, Math.max(low, out)), up_mm: Math.max(up, 1 - spec.base_mm) } : v)),
    });
  };
  return (
    <svg
      ref={svg}
      role="img"
      aria-label="Profile of the kerb"
      className="kerb-profile"
      width={WIDTH}
      height={HEIGHT}
      onPointerMove={move}
      onPointerUp={() => (grabbed.current = null)}
      onPointerLeave={() => (grabbed.current = null)}
    >
      <MaterialPatterns materials={materials} />
      {bed > 0 && (
        <polygon
          points={points([
            [0, -spec.base_mm],
            [back.out_mm + behind, -spec.base_mm],
            [back.out_mm + behind, -spec.base_mm - bed],
            [0, -spec.base_mm - bed],
          ])}
          fill={`url(#${patternId(spec.bed_material ?? spec.material)})`}
          stroke={colour.tin600}
        />
      )}
      {high > 0 && (
        <polygon
          points={points([
            [back.out_mm, -spec.base_mm + high],
            [back.out_mm + wide, -spec.base_mm],
            [back.out_mm, -spec.base_mm],
          ])}
          fill={`url(#${patternId(spec.bed_material ?? spec.material)})`}
          stroke={colour.tin600}
        />
      )}
      <polygon points={points(body)} fill={`url(#${patternId(spec.material)})`} stroke={colour.tin950} strokeWidth={1.4} />
      <path d={`M0 ${y(0)}H${x(0)}`} stroke={colour.tin950} strokeWidth={1.8} />
      {spec.top.map((v, i) => (
        <g
          key={i}
          style={{ cursor: i > 0 && !disabled ? "move" : "default" }}
          onPointerDown={() => {
            if (i > 0 && !disabled) grabbed.current = i;
          }}
        >
          <circle cx={x(v.out_mm)} cy={y(v.up_mm)} r={11} fill="transparent" />
          <rect
            x={x(v.out_mm) - 4}
            y={y(v.up_mm) - 4}
            width={8}
            height={8}
            fill={colour.white}
            stroke={i > 0 ? colour.saddle500 : colour.tin950}
            strokeWidth={1.6}
          />
          <text x={x(v.out_mm)} y={y(v.up_mm) - 9} textAnchor="middle">
            {v.name}
          </text>
        </g>
      ))}
    </svg>
  );
}
