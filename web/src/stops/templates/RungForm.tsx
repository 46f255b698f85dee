/** A rung of the slope ladder: when it is taken, and its chain of links. A new kind of link is one entry of LINKS. */
import { DEFAULTS } from "../../api/defaults";
import { ArrowDownOutlined, ArrowUpOutlined, DeleteOutlined } from "@ant-design/icons";
import { Button, Dropdown, Segmented, Select, Switch } from "antd";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import type { Unit } from "../../common/numbers";
import type { Half, Link, Rung } from "./spec";

interface Field {
  name: string;
  label: string;
  unit: Unit;
  least?: number;
}

const most: Field = { name: "most_width", label: "At most", unit: "m", least: 0.1 };
const LINKS: Record<Link["kind"], { label: string; last: boolean; fields: Field[]; fresh: Link }> = {
  run: {
    label: "run",
    last: false,
    fields: [
      { name: "width", label: "Width", unit: "m", least: 0.01 },
      { name: "fall_pct", label: "Fall", unit: "%" },
    ],
    fresh: { ...DEFAULTS.Run, width: 1 },
  },
  step: {
    label: "step",
    last: false,
    fields: [
      { name: "width", label: "Width", unit: "m", least: 0 },
      { name: "rise", label: "Rise", unit: "m" },
    ],
    fresh: { ...DEFAULTS.Step, width: 0.5, rise: -0.5 },
  },
  v_drain: {
    label: "V drain",
    last: false,
    fields: [
      { name: "depth", label: "Depth", unit: "m", least: 0.01 },
      { name: "inner_one_in", label: "Inner side", unit: "1 in", least: 0.01 },
      { name: "outer_one_in", label: "Outer side", unit: "1 in", least: 0.01 },
    ],
    fresh: DEFAULTS.VDrain,
  },
  flat_drain: {
    label: "flat drain",
    last: false,
    fields: [
      { name: "depth", label: "Depth", unit: "m", least: 0.01 },
      { name: "inner_one_in", label: "Inner side", unit: "1 in", least: 0.01 },
      { name: "bottom", label: "Bottom", unit: "m", least: 0.01 },
      { name: "outer_one_in", label: "Outer side", unit: "1 in", least: 0.01 },
    ],
    fresh: DEFAULTS.FlatDrain,
  },
  toe_drain: {
    label: "toe drain",
    last: false,
    fields: [
      { name: "one_in", label: "Down at", unit: "1 in", least: 0.01 },
      { name: "depth", label: "Below ground", unit: "m", least: 0.01 },
      { name: "bottom", label: "Bottom", unit: "m", least: 0.01 },
      most,
    ],
    fresh: DEFAULTS.ToeDrain,
  },
  to_ground: {
    label: "slope to the ground",
    last: true,
    fields: [{ name: "one_in", label: "Slope", unit: "1 in", least: 0.01 }, most],
    fresh: { ...DEFAULTS.ToGround, one_in: 2, direction: "down" },
  },
  benched: {
    label: "benched slope",
    last: true,
    fields: [
      { name: "one_in", label: "Slope", unit: "1 in", least: 0.01 },
      { name: "height", label: "Bench every", unit: "m", least: 0.5 },
      { name: "bench_width", label: "Bench width", unit: "m", least: 0.1 },
      { name: "bench_fall_pct", label: "Bench fall", unit: "%" },
      most,
    ],
    fresh: { ...DEFAULTS.Benched, one_in: 1.5, direction: "up" },
  },
};

interface Props {
  of: Rung;
  half: Half;
  number: number;
  disabled: boolean;
  change: (r: Rung) => void;
  move: (by: -1 | 1) => void;
}

export function RungForm({ of: r, half, number, disabled, change, move }: Props) {
  const last = half.ladder.length;
  const set = (i: number, link: Link) => change({ ...r, links: r.links.map((x, j) => (j === i ? link : x)) });
  return (
    <>
      <Row label="Name">
        <NameField
          label="Name of the rung"
          value={r.name}
          taken={half.ladder.map((x) => x.name)}
          disabled={disabled}
          onChange={(name) => change({ ...r, name })}
        />
      </Row>
      <Row label={`Tried as ${number}`}>
        <span>
          <Button size="small" aria-label="Try earlier" icon={<ArrowUpOutlined />} disabled={disabled || number === 1} onClick={() => move(-1)} />{" "}
          <Button size="small" aria-label="Try later" icon={<ArrowDownOutlined />} disabled={disabled || number === last} onClick={() => move(1)} />
        </span>
      </Row>
      <Row label="When">
        <Segmented
          size="small"
          aria-label="When the rung is tried"
          disabled={disabled}
          value={r.when}
          options={["cut", "fill", "either"]}
          onChange={(when) => change({ ...r, when: when as Rung["when"] })}
        />
      </Row>
      <Row label="Least height">
        <NumberField
          label="Least height"
          unit="m"
          least={0}
          value={r.least_height}
          disabled={disabled}
          onChange={(least_height) => change({ ...r, least_height })}
        />
      </Row>
      <Optional label="Most height" name="most_height" fresh={r.least_height + 1} of={r} disabled={disabled} change={change} />
      <Row label="In boundary">
        <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
          <Switch
            size="small"
            aria-label="Must land inside the boundary"
            disabled={disabled}
            checked={r.inside_boundary}
            onChange={(inside_boundary) => change({ ...r, inside_boundary })}
          />
          {r.inside_boundary && (
            <NumberField
              label="Clearance from the boundary"
              unit="m"
              least={0}
              value={r.clearance}
              disabled={disabled}
              onChange={(clearance) => change({ ...r, clearance })}
            />
          )}
        </span>
      </Row>
      <Optional label="Within" name="within" fresh={10} of={r} disabled={disabled} change={change} />
      <Limit label="From chainage" name="from_chainage" of={r} disabled={disabled} change={change} />
      <Limit label="To chainage" name="to_chainage" of={r} disabled={disabled} change={change} />
      {r.links.map((link, i) => (
        <LinkCard
          key={i}
          link={link}
          i={i}
          disabled={disabled}
          set={(next) => set(i, next)}
          remove={() => change({ ...r, links: r.links.filter((_, j) => j !== i) })}
        />
      ))}
      <Dropdown
        trigger={["click"]}
        autoFocus
        disabled={disabled}
        menu={{
          items: Object.entries(LINKS)
            .filter(([, k]) => !k.last)
            .map(([key, k]) => ({ key, label: k.label })),
          onClick: ({ key }) => change({ ...r, links: [...r.links.slice(0, -1), LINKS[key as Link["kind"]].fresh, r.links.at(-1)!] }),
        }}
      >
        <Button size="small">Add link before the last</Button>
      </Dropdown>
    </>
  );
}

type LimitProps = Pick<Props, "of" | "disabled" | "change"> & { label: string };

/** A limit in metres that may be none. */
function Optional({ label, name, fresh, of: r, disabled, change }: LimitProps & { name: "most_height" | "within"; fresh: number }) {
  return (
    <Row label={label}>
      <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
        <Switch
          size="small"
          aria-label={`Limit ${label.toLowerCase()}`}
          disabled={disabled}
          checked={r[name] != null}
          onChange={(on) => change({ ...r, [name]: on ? fresh : null })}
        />
        {r[name] != null && (
          <NumberField label={label} unit="m" least={0.01} value={r[name]} disabled={disabled} onChange={(v) => change({ ...r, [name]: v })} />
        )}
      </span>
    </Row>
  );
}

/** A chainage from or to which a rung is tried, that may be none. */
function Limit({ label, name, of: r, disabled, change }: LimitProps & { name: "from_chainage" | "to_chainage" }) {
  return (
    <Row label={label}>
      <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
        <Switch
          size="small"
          aria-label={`Limit ${label.toLowerCase()}`}
          disabled={disabled}
          checked={r[name] != null}
          onChange={(on) => change({ ...r, [name]: on ? (name === "from_chainage" ? 0 : (r.from_chainage ?? 0) + 100) : null })}
        />
        {r[name] != null && <ChainageField label={label} value={r[name]} disabled={disabled} onChange={(v) => change({ ...r, [name]: v })} />}
      </span>
    </Row>
  );
}

interface LinkProps {
  link: Link;
  i: number;
  disabled: boolean;
  set: (link: Link) => void;
  remove: () => void;
}

function LinkCard({ link, i, disabled, set, remove }: LinkProps) {
  const known = LINKS[link.kind];
  const values = link as unknown as Record<string, number>;
  return (
    <div className="card" style={{ padding: 8, margin: "8px 0" }} role="group" aria-label={`Link ${i + 1}`}>
      <div style={{ display: "flex", gap: 6, marginBottom: 6 }}>
        <Select
          size="small"
          style={{ flex: 1 }}
          aria-label={`Kind of link ${i + 1}`}
          disabled={disabled}
          value={link.kind}
          options={Object.entries(LINKS)
            .filter(([, k]) => k.last === known.last)
            .map(([value, k]) => ({ value: value as Link["kind"], label: k.label }))}
          onChange={(kind) => set(LINKS[kind].fresh)}
        />
        {!known.last && (
          <Button type="text" size="small" aria-label={`Remove link ${i + 1}`} icon={<DeleteOutlined />} disabled={disabled} onClick={() => remove()} />
        )}
      </div>
      {"direction" in link && (
        <Row label="Goes">
          <Segmented
            size="small"
            aria-label={`Direction of link ${i + 1}`}
            disabled={disabled}
            value={link.direction}
            options={["up", "down"]}
            onChange={(direction) => set({ ...link, direction: direction as "up" | "down" })}
          />
        </Row>
      )}
      {known.fields.map((field) => (
        <Row key={field.name} label={field.label}>
          <NumberField
            label={`${field.label} of link ${i + 1}`}
            unit={field.unit}
            least={field.least}
            value={values[field.name] ?? 0}
            disabled={disabled}
            onChange={(v) => set({ ...link, [field.name]: v })}
          />
        </Row>
      ))}
    </div>
  );
}

export const FRESH_RUNG: Rung = {
  name: "Slope",
  when: "either",
  links: [LINKS.to_ground.fresh],
  ...DEFAULTS.Rung,
  most_height: null,
  within: null,
  from_chainage: null,
  to_chainage: null,
};
