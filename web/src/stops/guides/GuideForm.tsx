/** One guide as a form: what it is made of. Offsets are from the alignment. */
import { Input, Segmented, Select } from "antd";
import type { Schemas } from "../../api/client";
import { CellTable } from "../../common/cells/CellTable";
import { numbers, numbersOrNone, shown } from "../../common/cells/columns";
import { Row } from "../../common/Inspector";
import { CurvesForm } from "./CurvesForm";
import { PartsForm } from "./PartsForm";
import { PiecesForm } from "./PiecesForm";
import { CornerForm, OfRoadForm } from "./RoadLineForms";
import { NumberField } from "../../common/NumberField";
import { useSurvey } from "../../plan/hooks";
import type { Guide, Source } from "./hooks";
import { PointEntry } from "./PointEntry";

interface Props {
  spec: Guide;
  change: (spec: Guide) => void;
  disabled: boolean;
  drawn: Schemas["GuideOut"] | undefined;
  /** Its key. */
  own: string;
}

export function GuideForm({ spec, change, disabled, drawn, own }: Props) {
  const setSource = (source: Source) => change({ ...spec, source });
  return (
    <>
      <Row label="Name">
        <Input
          size="small"
          aria-label="Name of the guide"
          disabled={disabled}
          maxLength={60}
          value={spec.name}
          onChange={(e) => e.target.value && change({ ...spec, name: e.target.value })}
        />
      </Row>
      <Row label="Used as">
        <Select
          size="small"
          aria-label="Used as"
          disabled={disabled}
          value={spec.use}
          options={["edge", "kerb", "boundary", "other"].map((v) => ({ value: v, label: v }))}
          onChange={(use) => change({ ...spec, use })}
        />
      </Row>
      {spec.source.by === "pieces" && <PiecesForm source={spec.source} onChange={setSource} disabled={disabled} drawn={drawn} />}
      {spec.source.by === "line" && <LineForm spec={spec} change={change} disabled={disabled} />}
      {spec.source.by === "curves" && <OnStraights source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "curves" && <CurvesForm source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "parts" && (
        <PartsForm
          source={spec.source}
          onChange={setSource}
          disabled={disabled}
          drawn={drawn}
          own={own}
          side={spec.side}
          setSide={(side) => change({ ...spec, side })}
        />
      )}
      {spec.source.by === "polyline" && <PolylineForm source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "road" && <OfRoadForm source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "corner" && <CornerForm source={spec.source} onChange={setSource} disabled={disabled} />}
      <p className="quiet" style={{ margin: "6px 0" }}>
        {spec.source.by === "parts"
          ? "Widths lead outward from the line beneath, on the guide’s side."
          : "Offsets are from the alignment: negative left, positive right."}
      </p>
    </>
  );
}

type Curves = Extract<Source, { by: "curves" }>;

function OnStraights({ source, onChange, disabled }: { source: Curves; onChange: (s: Curves) => void; disabled: boolean }) {
  return (
    <Row label="On straights">
      <NumberField
        label="Offset on straights"
        unit="m"
        value={source.base_offset}
        disabled={disabled}
        onChange={(base_offset) => onChange({ ...source, base_offset })}
      />
    </Row>
  );
}

function LineForm({ spec, change, disabled }: Omit<Props, "drawn" | "own">) {
  const codes = useSurvey().data?.codes.filter((c) => c.lines > 0) ?? [];
  if (spec.source.by !== "line") return null;
  const source = spec.source;
  return (
    <>
      <Row label="Survey line">
        <Select
          size="small"
          aria-label="Code of the survey line"
          disabled={disabled}
          value={source.code}
          options={codes.map((c) => ({ value: c.code, label: c.code }))}
          onChange={(code) => change({ ...spec, source: { ...source, code } })}
        />
      </Row>
      <Row label="On the">
        <Segmented<"left" | "right">
          size="small"
          disabled={disabled}
          value={spec.side}
          options={["left", "right"]}
          onChange={(side) => change({ ...spec, side })}
        />
      </Row>
      <Row label="Within">
        <NumberField
          label="Search width"
          unit="m"
          least={0.1}
          value={source.within}
          disabled={disabled}
          onChange={(within) => change({ ...spec, source: { ...source, within } })}
        />
      </Row>
    </>
  );
}

type Polyline = Extract<Source, { by: "polyline" }>;

type Point = Polyline["points"][number];
const POINT = [
  shown<Point>({ title: "No", width: 34, of: (_, i) => String(i + 1) }),
  numbers<Point>({
    title: "Easting m",
    decimals: 3,
    unit: "m",
    width: 88,
    of: (p) => p[0],
    put: (p, v) => [v, p[1], p[2]],
    label: (_, i) => `Easting of point ${i + 1}`,
  }),
  numbers<Point>({
    title: "Northing m",
    decimals: 3,
    unit: "m",
    width: 88,
    of: (p) => p[1],
    put: (p, v) => [p[0], v, p[2]],
    label: (_, i) => `Northing of point ${i + 1}`,
  }),
  numbersOrNone<Point>({
    title: "Level m",
    unit: "m",
    none: "none",
    width: 66,
    of: (p) => p[2],
    put: (p, v) => [p[0], p[1], v],
    label: (_, i) => `Level of point ${i + 1}`,
  }),
];

function PolylineForm({ source, onChange, disabled }: { source: Polyline; onChange: (s: Polyline) => void; disabled: boolean }) {
  const set = (points: Polyline["points"]) => onChange({ ...source, points });
  return (
    <>
      <CellTable<Point>
        label="Points of the guide"
        height={220}
        rows={source.points}
        columns={POINT}
        disabled={disabled}
        change={set}
        least={2}
        fresh={(all, i) => {
          const [a, b] = [all[Math.max(0, Math.min(i, all.length) - 1)]!, all[Math.min(i, all.length - 1)]!];
          return a === b ? [a[0] + 5, a[1] + 5, a[2]] : [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, null];
        }}
      />
      {!disabled && <PointEntry onPlace={(at) => set([...source.points, [at[0], at[1], null]])} />}
    </>
  );
}
