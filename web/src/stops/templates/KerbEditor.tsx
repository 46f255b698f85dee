/** A kerb profile: drawn to scale with vertices to drag, and as figures. */
import { Input, Select } from "antd";
import { useRef } from "react";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { colour } from "../../base/theme";
import { CellTable } from "../../common/cells/CellTable";
import { numbers, words } from "../../common/cells/columns";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { nudged } from "../../common/nudge";
import { NumberField } from "../../common/NumberField";
import { MaterialPatterns, patternId } from "../../drawing/patterns";
import type { PartProps } from "./PartEditors";
import { freeName } from "./spec";

type Kerb = SpecOf<"kerb">;
type Vertex = Kerb["top"][number];
const WIDTH = 460;
const HEIGHT = 330;

export function KerbEditor({ spec, change, disabled }: PartProps<Kerb>) {
  const materials = useDocumentsOf("material");
  const options = materials.map((m) => ({ value: m.key, label: m.spec.name }));
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
        <CellTable<Vertex>
          label="Vertices of the kerb"
          rows={spec.top}
          columns={VERTEX}
          disabled={disabled}
          change={(top) => change({ ...spec, top })}
          tidy={inOrder}
          least={2}
          fresh={between}
        />
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
        <Row label="Length of a piece">
          <NumberField
            label="Length of a piece"
            width={110}
            unit="mm"
            least={0}
            value={spec.piece_mm ?? 0}
            disabled={disabled}
            onChange={(v) => change({ ...spec, piece_mm: v > 0 ? v : null })}
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

/** The first one is the lip, where the others are measured from. */
const atLip = (_: Vertex, i: number) => (i === 0 ? "0" : null);
const VERTEX = [
  words<Vertex>({
    title: "Vertex, lip to back",
    width: 130,
    of: (v) => v.name,
    put: (v, name) => ({ ...v, name }),
    label: (_, i) => `Name of vertex ${i + 1}`,
  }),
  numbers<Vertex>({
    title: "Out from lip mm",
    unit: "mm",
    width: 104,
    of: (v) => v.out_mm,
    put: (v, out_mm) => ({ ...v, out_mm }),
    off: atLip,
    label: (v) => `${v.name} out`,
  }),
  numbers<Vertex>({
    title: "Up from lip mm",
    unit: "mm",
    width: 104,
    of: (v) => v.up_mm,
    put: (v, up_mm) => ({ ...v, up_mm }),
    off: atLip,
    label: (v) => `${v.name} up`,
  }),
];

function inOrder(top: Vertex[]): Vertex[] | string {
  const names = top.map((v) => v.name);
  const [lip] = top;
  if (lip && (lip.out_mm !== 0 || lip.up_mm !== 0)) return "The first vertex is the lip, and stays";
  for (const [i, v] of top.entries()) {
    if (v.name === "" || names.indexOf(v.name) !== i) return `Vertex ${i + 1} needs a name of its own`;
    if (i > 0 && v.out_mm < top[i - 1]!.out_mm) return `Vertex ${i + 1} lies nearer the lip than the one before it`;
  }
  return top;
}

/** A vertex halfway between two, or behind the last one. */
function between(top: readonly Vertex[], i: number): Vertex {
  const [a, b] = i >= top.length ? [top.at(-1)!, { ...top.at(-1)!, out_mm: top.at(-1)!.out_mm + 100 }] : [top[Math.max(0, i - 1)]!, top[i]!];
  const name = freeName(
    "bend",
    top.map((v) => v.name),
  );
  return { name, out_mm: (a.out_mm + b.out_mm) / 2, up_mm: (a.up_mm + b.up_mm) / 2 };
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
    if (grabbed.current === null) return;
    const box = svg.current!.getBoundingClientRect();
    put(grabbed.current, Math.round((e.clientX - box.left) / scale + left), Math.round(top - (e.clientY - box.top) / scale));
  };
  const put = (i: number, out: number, up: number) => {
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
      role={disabled ? "img" : "group"}
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
          role={i > 0 && !disabled ? "button" : undefined}
          aria-label={i > 0 && !disabled ? `Vertex ${v.name}` : undefined}
          {...(i > 0 && !disabled && nudged((right, up) => put(i, v.out_mm + right, v.up_mm + up)))}
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
