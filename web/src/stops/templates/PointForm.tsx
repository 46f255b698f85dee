/** A point's two ties. A new kind of tie is one line in the lists and one case in the fields. */
import { Select } from "antd";
import { SelectRow } from "../../common/fields";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { SourceRow, useEdgeLine } from "../../common/SourceRow";
import { useDocumentsOf } from "../../api/hooks";
import { type Dimension, type LevelTie, numberOf, type OffsetTie, type Point } from "./spec";
import { ValueField } from "./ValueField";
import { choicesOf } from "../../common/words";

const OFFSETS = choicesOf<OffsetTie["kind"]>({
  width: "width from",
  same_as: "same as",
  follow: "follow a line",
  inward: "inward from",
  part_way: "part of the way",
  square: "square to a line",
});
/** Kinds of level ties; a fall may turn with its side or as its neighbour. */
type LevelKind = LevelTie["kind"] | "turns" | "neighbour";
const LEVELS = choicesOf<LevelKind>({
  turns: "turns with its side",
  neighbour: "turns as its neighbour",
  fall: "own crossfall from",
  rise: "rise from",
  on_surface: "on a surface",
  guide_level: "level of a line",
  on_line: "on a straight line",
  carried: "carry a fall on",
});

export interface FieldsProps {
  point: Point;
  parents: string[];
  dimensions: Dimension[];
  disabled: boolean;
  change: (p: Point) => void;
}

function levelKind(tie: LevelTie): LevelKind {
  if (tie.kind !== "fall" || tie.crossfall_pct !== null) return tie.kind;
  return tie.turns_with === "neighbour" ? "neighbour" : "turns";
}

export function OffsetFields({ point: p, parents, dimensions, disabled, change }: FieldsProps) {
  const usual = useEdgeLine();
  const tie = p.offset;
  const names = parents.filter((n) => n !== p.name).map((n) => ({ value: n, label: n }));
  const width = "width" in tie ? tie.width : 1;
  const pick = (kind: OffsetTie["kind"]) => {
    const parent = tie.parent;
    const level: LevelTie = p.level ?? { kind: "fall", parent, crossfall_pct: -2.5, turns_with: "side" };
    if (kind === "square")
      change({ ...p, offset: { kind, parent, through: names.find((n) => n.value !== parent)?.value ?? parent, along: 0, out: 0 }, level: null });
    else if (kind === "part_way") change({ ...p, offset: { kind, parent, through: names.find((n) => n.value !== parent)?.value ?? parent, pct: 50 }, level });
    else if (kind === "same_as") change({ ...p, offset: { kind, parent }, level });
    else if (kind === "follow") change({ ...p, offset: { kind, parent, width, source: usual }, level });
    else change({ ...p, offset: { kind, parent, width }, level });
  };
  return (
    <>
      <Row label="Offset">
        <Select size="small" aria-label={`Offset of ${p.name}`} disabled={disabled} value={tie.kind} options={OFFSETS} onChange={pick} />
      </Row>
      {tie.kind === "follow" && (
        <SourceRow
          label="Follows"
          linesOnly
          far
          value={tie.source as Exclude<typeof tie.source, { by: "offset" }>}
          disabled={disabled}
          onChange={(source) => change({ ...p, offset: { ...tie, source } })}
        />
      )}
      <Row label={tie.kind === "follow" ? "otherwise from" : tie.kind === "same_as" ? "point" : "from"}>
        <Select
          size="small"
          showSearch
          aria-label={`Parent of ${p.name} for its offset`}
          disabled={disabled}
          value={tie.parent}
          options={names}
          onChange={(parent) => change({ ...p, offset: { ...tie, parent } })}
        />
      </Row>
      {"width" in tie && (
        <Row label="Width">
          <ValueField
            label={`Width of ${p.name}`}
            unit="m"
            least={0}
            value={tie.width}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(w) => change({ ...p, offset: { ...tie, width: w } })}
          />
        </Row>
      )}
      {(tie.kind === "square" || tie.kind === "part_way") && (
        <Row label="towards">
          <Select
            size="small"
            aria-label={`Line of ${p.name} goes towards`}
            disabled={disabled}
            value={tie.through}
            options={names}
            onChange={(through) => change({ ...p, offset: { ...tie, through } })}
          />
        </Row>
      )}
      {tie.kind === "part_way" && (
        <Row label="Part">
          <ValueField
            label={`Part of the way, of ${p.name}`}
            unit="%"
            value={tie.pct}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(pct) => change({ ...p, offset: { ...tie, pct } })}
          />
        </Row>
      )}
      {tie.kind === "square" && (
        <>
          <Row label="Along">
            <ValueField
              label={`Along, of ${p.name}`}
              unit="m"
              value={tie.along}
              dimensions={dimensions}
              disabled={disabled}
              onChange={(along) => change({ ...p, offset: { ...tie, along } })}
            />
          </Row>
          <Row label="Square out">
            <ValueField
              label={`Square out, of ${p.name}`}
              unit="m"
              value={tie.out}
              dimensions={dimensions}
              disabled={disabled}
              onChange={(out) => change({ ...p, offset: { ...tie, out } })}
            />
          </Row>
        </>
      )}
    </>
  );
}

export function LevelFields({ point: p, parents, dimensions, disabled, change }: FieldsProps) {
  const surfaces = useDocumentsOf("surface");
  const usual = useEdgeLine();
  const tie = p.level;
  if (!tie) return <p className="quiet">The square tie fixes the level too.</p>;
  const names = parents.filter((n) => n !== p.name).map((n) => ({ value: n, label: n }));
  const parent = "parent" in tie ? tie.parent : p.offset.parent;
  const set = (level: LevelTie) => change({ ...p, level });
  const pick = (kind: LevelKind) => {
    const pct = tie.kind === "fall" && tie.crossfall_pct != null ? tie.crossfall_pct : -2.5;
    const made: Record<LevelKind, LevelTie> = {
      turns: { kind: "fall", parent, crossfall_pct: null, turns_with: "side" },
      neighbour: { kind: "fall", parent, crossfall_pct: null, turns_with: "neighbour" },
      fall: { kind: "fall", parent, crossfall_pct: pct, turns_with: "side" },
      rise: { kind: "rise", parent, rise: 0 },
      on_surface: { kind: "on_surface", surface: "main", plus: 0 },
      guide_level: { kind: "guide_level", parent, rise: 0, plus: 0, source: usual },
      on_line: { kind: "on_line", parent, through: names.find((n) => n.value !== parent)?.value ?? parent, plus: 0 },
      carried: { kind: "carried", surface: "main", first: "hinge", second: parent, parent },
    };
    set(made[kind]);
  };
  const surface = "surface" in tie && (
    <Row label="Surface">
      <Select
        size="small"
        aria-label={`Surface of ${p.name}`}
        disabled={disabled}
        value={tie.surface}
        options={[...surfaces.map((s) => ({ value: s.key, label: s.spec.name }))]}
        onChange={(v) => set({ ...tie, surface: v })}
      />
    </Row>
  );
  return (
    <>
      <Row label="Level">
        <Select size="small" aria-label={`Level of ${p.name}`} disabled={disabled} value={levelKind(tie)} options={LEVELS} onChange={pick} />
      </Row>
      {surface}
      {tie.kind === "guide_level" && (
        <SourceRow
          label="Level of"
          linesOnly
          far
          value={tie.source as Exclude<typeof tie.source, { by: "offset" }>}
          disabled={disabled}
          onChange={(source) => set({ ...tie, source })}
        />
      )}
      {tie.kind === "carried" &&
        (["first", "second"] as const).map((end) => (
          <Row key={end} label={end === "first" ? "Fall between" : "and"}>
            <Select
              size="small"
              aria-label={`${end === "first" ? "First" : "Second"} point of the fall of ${p.name}`}
              disabled={disabled}
              value={tie[end]}
              options={names}
              onChange={(v) => set({ ...tie, [end]: v })}
            />
          </Row>
        ))}
      {"parent" in tie && (
        <Row label={tie.kind === "guide_level" ? "otherwise from" : "from"}>
          <Select
            size="small"
            showSearch
            aria-label={`Parent of ${p.name} for its level`}
            disabled={disabled}
            value={tie.parent}
            options={names}
            onChange={(v) => set({ ...tie, parent: v })}
          />
        </Row>
      )}
      {tie.kind === "on_line" && (
        <Row label="to">
          <Select
            size="small"
            aria-label={`Other end of the line of ${p.name}`}
            disabled={disabled}
            value={tie.through}
            options={names}
            onChange={(through) => set({ ...tie, through })}
          />
        </Row>
      )}
      <LevelFigures name={p.name} tie={tie} set={set} dimensions={dimensions} disabled={disabled} />
    </>
  );
}

type FigureProps = Pick<FieldsProps, "dimensions" | "disabled"> & { name: string; tie: LevelTie; set: (level: LevelTie) => void };

/** The figures of a level tie: crossfall, rise, what is added. */
function LevelFigures({ name, tie, set, dimensions, disabled }: FigureProps) {
  return (
    <>
      {tie.kind === "fall" && tie.crossfall_pct != null && (
        <Row label="Crossfall">
          <ValueField
            label={`Crossfall of ${name}`}
            unit="%"
            least={-100}
            most={100}
            value={tie.crossfall_pct}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(v) => set({ ...tie, crossfall_pct: v })}
          />
        </Row>
      )}
      {(tie.kind === "rise" || tie.kind === "guide_level") && (
        <Row label="Rise">
          <ValueField
            label={`Rise of ${name}`}
            unit="m"
            value={tie.rise}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(rise) => set({ ...tie, rise })}
          />
        </Row>
      )}
      {(tie.kind === "on_surface" || tie.kind === "on_line") && (
        <Row label="plus">
          <ValueField
            label={`Above the ${tie.kind === "on_line" ? "line" : "surface"}, of ${name}`}
            unit="m"
            value={tie.plus}
            dimensions={dimensions}
            disabled={disabled}
            onChange={(plus) => set({ ...tie, plus })}
          />
        </Row>
      )}
      {tie.kind === "guide_level" && (
        <Row label="plus">
          <NumberField label={`Added to the level of ${name}`} unit="m" value={tie.plus} disabled={disabled} onChange={(plus) => set({ ...tie, plus })} />
        </Row>
      )}
    </>
  );
}

const ON_SHEETS = choicesOf<Point["on_sheets"]>({ name: "its name and figures", figures: "figures alone", nothing: "nothing" });

export function PointForm(props: FieldsProps & { rename: (name: string) => void }) {
  const { point: p, parents, disabled, rename, dimensions, change } = props;
  const width = "width" in p.offset ? numberOf(p.offset.width, dimensions) : null;
  return (
    <>
      <Row label="Name">
        <NameField label="Name of the point" value={p.name} taken={parents} disabled={disabled} onChange={rename} />
      </Row>
      <OffsetFields {...props} />
      <LevelFields {...props} />
      <SelectRow label="On sheets" value={p.on_sheets} options={ON_SHEETS} disabled={disabled} onChange={(on_sheets) => change({ ...p, on_sheets })} />
      {width === 0 && p.offset.kind === "width" && <p className="quiet">A width of 0 puts it right below or above its parent.</p>}
    </>
  );
}
