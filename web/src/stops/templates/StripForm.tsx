/** A strip: what it is and what it is built of, with the ends of its courses; a kerb where it stands. */
import { Select, Switch } from "antd";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import type { Dimension, Half, Placement, Point, Strip } from "./spec";
import { ValueField } from "./ValueField";
import { choicesOf } from "../../common/words";

export const STRIP_KINDS = choicesOf<Strip["kind"]>({
  lane: "lane",
  shoulder: "shoulder",
  path: "footpath",
  cycle_path: "cycle path",
  verge: "verge",
  edging: "edging",
  median: "median",
  side_road: "side road",
});

interface Props<T> {
  of: T;
  half: Half;
  names: string[];
  disabled: boolean;
  change: (next: T) => void;
  open: (kind: "make_up" | "kerb", key: string) => void;
}

type Course = SpecOf<"make_up">["courses"][number];
export function endText(end: Course["outer"]): string {
  if (end.kind === "flush") return "upright";
  if (end.kind === "carry") return `${end.distance} m on`;
  if (end.kind === "to_slope") return "to the slope";
  if (end.kind === "under_kerb") return `${end.behind} m behind kerb`;
  return `1 in ${end.one_in}`;
}

export function CourseList({ makeUp, title }: { makeUp: SpecOf<"make_up"> | undefined; title: string }) {
  const materials = useDocumentsOf("material");
  if (!makeUp) return null;
  return (
    <div className="card" style={{ padding: 8, margin: "8px 0" }}>
      <h3>{title}</h3>
      <table className="course-list">
        <tbody>
          {makeUp.courses.map((c, i) => {
            const material = materials.find((m) => m.key === c.material)?.spec;
            return (
              <tr key={i}>
                <td>
                  <span className="swatch" style={{ background: material?.colour }} />
                </td>
                <td>{c.name}</td>
                <td className="mono num">{typeof c.thickness_mm === "number" ? `${c.thickness_mm} mm` : c.thickness_mm}</td>
                <td className="quiet num">{endText(c.outer)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** dimensions: of the template; widen: gives its outer point another width, where it is tied by one. */
interface StripProps extends Props<Strip> {
  dimensions: Dimension[];
  widen: (point: Point) => void;
}

export function StripForm({ of: s, half, names, disabled, change, open, dimensions, widen }: StripProps) {
  const far = half.points.find((p) => p.name === s.to_point);
  const tie = far?.offset;
  const makeUps = useDocumentsOf("make_up");
  const options = makeUps.map((m) => ({ value: m.key, label: m.spec.name }));
  const points = names.map((n) => ({ value: n, label: n }));
  const made = (key: string | null | undefined) => makeUps.find((m) => m.key === key)?.spec;
  return (
    <>
      <Row label="Name">
        <NameField
          label="Name of the strip"
          value={s.name}
          taken={half.strips.map((x) => x.name)}
          disabled={disabled}
          onChange={(name) => change({ ...s, name })}
        />
      </Row>
      <Row label="Kind">
        <Select size="small" aria-label="Kind of strip" disabled={disabled} value={s.kind} options={STRIP_KINDS} onChange={(kind) => change({ ...s, kind })} />
      </Row>
      {far && (tie?.kind === "width" || tie?.kind === "follow") && tie.parent === s.from_point && (
        <Row label="Width">
          <ValueField
            label="Width of the strip"
            unit="m"
            least={0}
            value={tie.width}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(width) => widen({ ...far, offset: { ...tie, width } })}
          />
        </Row>
      )}
      <Row label="From">
        <Select
          size="small"
          aria-label="Strip from"
          disabled={disabled}
          value={s.from_point}
          options={points}
          onChange={(from_point) => change({ ...s, from_point })}
        />
      </Row>
      <Row label="To">
        <Select
          size="small"
          aria-label="Strip to"
          disabled={disabled}
          value={s.to_point}
          options={points}
          onChange={(to_point) => change({ ...s, to_point })}
        />
      </Row>
      <Row label="Built new">
        <Select
          size="small"
          popupMatchSelectWidth={false}
          aria-label="Make-up when built new"
          disabled={disabled}
          value={s.new}
          options={options}
          onChange={(v) => change({ ...s, new: v })}
        />
      </Row>
      <Row label="Over existing">
        <Select
          size="small"
          popupMatchSelectWidth={false}
          aria-label="Make-up over the existing pavement"
          disabled={disabled}
          value={s.over_existing ?? ""}
          options={[{ value: "", label: "built new there too" }, ...options]}
          onChange={(v) => change({ ...s, over_existing: v || null })}
        />
      </Row>
      <CourseList makeUp={made(s.new)} title="Built new" />
      {s.over_existing && <CourseList makeUp={made(s.over_existing)} title="Over the existing pavement" />}
      <button type="button" className="link" onClick={() => open("make_up", s.new)}>
        Open make-up “{made(s.new)?.name ?? s.new}”
      </button>
    </>
  );
}

export function KerbPlacementForm({ of: k, half, names, disabled, change, open }: Props<Placement>) {
  const kerbs = useDocumentsOf("kerb");
  const own = names.filter((n) => !n.startsWith(`${k.name}.`));
  return (
    <>
      <Row label="Name">
        <NameField
          label="Name of the kerb"
          value={k.name}
          taken={half.kerbs.map((x) => x.name)}
          disabled={disabled}
          onChange={(name) => change({ ...k, name })}
        />
      </Row>
      <Row label="Profile">
        <Select
          size="small"
          popupMatchSelectWidth={false}
          aria-label="Profile of the kerb"
          disabled={disabled}
          value={k.profile}
          options={kerbs.map((d) => ({ value: d.key, label: d.spec.name }))}
          onChange={(profile) => change({ ...k, profile })}
        />
      </Row>
      <Row label={k.turned ? "Back at" : "Lip at"}>
        <Select
          size="small"
          aria-label="Where the kerb stands"
          disabled={disabled}
          value={k.at}
          options={own.map((n) => ({ value: n, label: n }))}
          onChange={(at) => change({ ...k, at })}
        />
      </Row>
      <Row label="Face outward">
        <Switch size="small" aria-label="Face outward" disabled={disabled} checked={k.turned} onChange={(turned) => change({ ...k, turned })} />
      </Row>
      <button type="button" className="link" onClick={() => open("kerb", k.profile)}>
        Open profile “{kerbs.find((d) => d.key === k.profile)?.spec.name ?? k.profile}”
      </button>
    </>
  );
}
