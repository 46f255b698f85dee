/** A floor of the boxing, zone by zone. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Button, Segmented, Select } from "antd";
import { useDocumentsOf } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import type { Dimension, Floor, Half, Zone } from "./spec";
import { ValueField } from "./ValueField";

interface Props {
  of: Floor;
  half: Half;
  names: string[];
  dimensions: Dimension[];
  disabled: boolean;
  change: (f: Floor) => void;
}

export function FloorForm({ of: f, half, names, dimensions, disabled, change }: Props) {
  const makeUps = useDocumentsOf("make_up");
  const materials = useDocumentsOf("material").map((m) => ({ value: m.key, label: m.spec.name }));
  const points = names.map((n) => ({ value: n, label: n }));
  const set = (i: number, z: Zone) => change({ ...f, zones: f.zones.map((x, j) => (j === i ? z : x)) });
  const unders = half.strips.flatMap((s) =>
    (makeUps.find((m) => m.key === s.new)?.spec.courses ?? []).map((c, i) => ({ value: `${i + 1} ${s.name}`, label: `${c.name} of ${s.name}` })),
  );
  const end = f.end.kind;
  const setEnd = (kind: string) => {
    const last = f.zones.at(-1)!;
    const to = kind === "run" ? null : (last.to ?? { point: names.at(-1)!, plus: 0 });
    const zones = [...f.zones.slice(0, -1), { ...last, to }];
    change({ ...f, zones, end: kind === "rise" ? { kind, one_in: 1 } : { kind: kind as "wall" | "run" } });
  };
  const add = () => {
    const last = f.zones.at(-1)!;
    const inner: Zone = { ...last, to: last.to ?? { point: names.at(-1)!, plus: 0 }, vertex: null };
    change({ ...f, zones: [...f.zones.slice(0, -1), inner, { ...last, vertex: null }] });
  };
  return (
    <>
      <Row label="Name">
        <NameField
          label="Name of the floor"
          value={f.name}
          taken={half.floors.map((x) => x.name)}
          disabled={disabled}
          onChange={(name) => change({ ...f, name })}
        />
      </Row>
      <Row label="Filled with">
        <Select
          size="small"
          aria-label="Fill above the floor"
          disabled={disabled}
          value={f.fill}
          options={materials}
          onChange={(fill) => change({ ...f, fill })}
        />
      </Row>
      <Row label="Starts at">
        <Select
          size="small"
          aria-label="Floor starts at"
          disabled={disabled}
          value={f.start?.point ?? "hinge"}
          options={points}
          onChange={(point) => change({ ...f, start: point === "hinge" ? null : { point, plus: f.start?.plus ?? 0 } })}
        />
      </Row>
      {f.start && (
        <Row label="plus">
          <NumberField
            label="Outward from the start"
            unit="m"
            value={f.start.plus}
            disabled={disabled}
            onChange={(plus) => change({ ...f, start: { ...f.start!, plus } })}
          />
        </Row>
      )}
      {f.zones.map((z, i) => (
        <ZoneCard key={i} {...{ floor: f, zone: z, i, points, unders, dimensions, disabled }} set={(next) => set(i, next)} change={change} />
      ))}
      <Button size="small" icon={<PlusOutlined />} disabled={disabled} onClick={add}>
        Add zone
      </Button>
      <div style={{ height: 8 }} />
      <Row label="Ends">
        <Select
          size="small"
          aria-label="End of the floor"
          disabled={disabled}
          value={end}
          options={[
            { value: "wall", label: "upright" },
            { value: "rise", label: "climbing to the surface" },
            { value: "run", label: "running on to the slope" },
          ]}
          onChange={setEnd}
        />
      </Row>
      {f.end.kind === "rise" && (
        <Row label="Climb">
          <NumberField
            label="Climb of the floor"
            unit="1 in"
            least={0.05}
            most={20}
            value={f.end.one_in}
            disabled={disabled}
            onChange={(one_in) => change({ ...f, end: { kind: "rise", one_in } })}
          />
        </Row>
      )}
    </>
  );
}

interface ZoneProps {
  floor: Floor;
  zone: Zone;
  i: number;
  points: { value: string; label: string }[];
  /** What a zone can lie under beside the finished surface: courses of the strips. */
  unders: { value: string; label: string }[];
  dimensions: Dimension[];
  disabled: boolean;
  set: (z: Zone) => void;
  change: (f: Floor) => void;
}

function ZoneCard({ floor: f, zone: z, i, points, unders, dimensions, disabled, set, change }: ZoneProps) {
  return (
    <div className="card" style={{ padding: 8, margin: "8px 0" }}>
      <h3 style={{ display: "flex", justifyContent: "space-between" }}>
        Zone {i + 1}
        <Button
          type="text"
          size="small"
          aria-label={`Remove zone ${i + 1}`}
          icon={<DeleteOutlined />}
          disabled={disabled || f.zones.length === 1}
          onClick={() => change({ ...f, zones: f.zones.filter((_, j) => j !== i) })}
        />
      </h3>
      {z.to ? (
        <>
          <Row label="Out to">
            <Select
              size="small"
              aria-label={`Zone ${i + 1} to`}
              disabled={disabled}
              value={z.to.point}
              options={points}
              onChange={(point) => set({ ...z, to: { ...z.to!, point } })}
            />
          </Row>
          <Row label="plus">
            <NumberField
              label={`Zone ${i + 1} beyond that`}
              unit="m"
              value={z.to.plus}
              disabled={disabled}
              onChange={(plus) => set({ ...z, to: { ...z.to!, plus } })}
            />
          </Row>
        </>
      ) : (
        <p className="quiet">Out to the side slope.</p>
      )}
      <Row label="Depth">
        <ValueField
          label={`Depth of zone ${i + 1}`}
          unit="mm"
          least={0}
          value={z.depth_mm}
          dimensions={dimensions}
          disabled={disabled}
          onChange={(depth_mm) => set({ ...z, depth_mm })}
        />
      </Row>
      <Row label="under">
        <Select
          size="small"
          popupMatchSelectWidth={false}
          aria-label={`Zone ${i + 1} lies under`}
          disabled={disabled}
          value={z.under ? `${z.under.course} ${z.under.strip}` : ""}
          options={[{ value: "", label: "the finished surface" }, ...unders]}
          onChange={(v) => set({ ...z, under: v === "" ? null : { course: Number(v.split(" ")[0]), strip: v.slice(v.indexOf(" ") + 1) } })}
        />
      </Row>
      <Row label="Lies">
        <Select
          size="small"
          aria-label={`Lie of zone ${i + 1}`}
          disabled={disabled}
          value={z.lie.kind}
          options={[
            { value: "parallel", label: "parallel" },
            { value: "level", label: "level" },
            { value: "fall", label: "at its own fall" },
          ]}
          onChange={(kind) => set({ ...z, lie: kind === "fall" ? { kind, crossfall_pct: -3 } : { kind } })}
        />
      </Row>
      {z.lie.kind === "fall" && (
        <Row label="Fall">
          <ValueField
            label={`Fall of zone ${i + 1}`}
            unit="%"
            value={z.lie.crossfall_pct}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(crossfall_pct) => set({ ...z, lie: { kind: "fall", crossfall_pct } })}
          />
        </Row>
      )}
      {i < f.zones.length - 1 && (
        <Row label="Meets the next">
          <Segmented<"cross" | "step">
            size="small"
            aria-label={`Zone ${i + 1} meets the next`}
            disabled={disabled}
            value={z.joins}
            options={[
              { value: "cross", label: "where they cross" },
              { value: "step", label: "at a step" },
            ]}
            onChange={(joins) => set({ ...z, joins })}
          />
        </Row>
      )}
      <Row label="Outer vertex">
        <NameField label={`Vertex of zone ${i + 1}`} value={z.vertex ?? ""} disabled={disabled} onChange={(vertex) => set({ ...z, vertex: vertex || null })} />
      </Row>
    </div>
  );
}
