/** One guide as a form: what it is made of. Offsets are from the alignment. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Input, Segmented, Select } from "antd";
import type { Schemas } from "../../api/client";
import { chainageText } from "../../base/chainage";
import { CellTable } from "../../common/cells/CellTable";
import { numbers, numbersOrNone, shown } from "../../common/cells/columns";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { CornerForm, OfRoadForm } from "./RoadLineForms";
import { NumberField } from "../../common/NumberField";
import { useSurvey } from "../../plan/hooks";
import type { Guide, Piece, PiecesSource, Source } from "./hooks";
import { PointEntry } from "./PointEntry";
import { choicesOf } from "../../common/words";

interface Props {
  spec: Guide;
  change: (spec: Guide) => void;
  disabled: boolean;
  drawn: Schemas["GuideOut"] | undefined;
}

export function GuideForm({ spec, change, disabled, drawn }: Props) {
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
      {spec.source.by === "curves" && <CurvesForm source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "polyline" && <PolylineForm source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "road" && <OfRoadForm source={spec.source} onChange={setSource} disabled={disabled} />}
      {spec.source.by === "corner" && <CornerForm source={spec.source} onChange={setSource} disabled={disabled} />}
      <p className="quiet" style={{ margin: "6px 0" }}>
        Offsets are from the alignment: negative left, positive right.
      </p>
    </>
  );
}

function PiecesForm({
  source,
  onChange,
  disabled,
  drawn,
}: {
  source: PiecesSource;
  onChange: (s: PiecesSource) => void;
  disabled: boolean;
  drawn: Schemas["GuideOut"] | undefined;
}) {
  const set = (i: number, piece: Piece) => onChange({ ...source, pieces: source.pieces.map((p, j) => (j === i ? piece : p)) });
  const setEnd = (i: number, by: "chainage" | "length" | "ratio") => {
    const piece = source.pieces[i]!;
    const laid = drawn?.pieces[i];
    const [from, fromOffset, to, toOffset] = laid ?? [source.start_chainage, 0, source.start_chainage + 30, 3];
    const length = Math.max((to ?? 0) - (from ?? 0), 1);
    const rise = Math.abs((toOffset ?? 0) - (fromOffset ?? 0));
    const end = by === "chainage" ? { by, chainage: to ?? 0 } : by === "length" ? { by, length } : { by, one_in: rise > 0 ? length / rise : 10 };
    set(i, { ...piece, end } as Piece);
  };
  const last = source.pieces.at(-1);
  const offset = last?.kind === "taper" ? last.to_offset : source.start_offset;
  return (
    <>
      <Row label="Starts at">
        <ChainageField
          label="Start of the guide"
          value={source.start_chainage}
          disabled={disabled}
          onChange={(start_chainage) => onChange({ ...source, start_chainage })}
        />
      </Row>
      <Row label="At offset">
        <NumberField
          label="Offset at the start"
          unit="m"
          value={source.start_offset}
          disabled={disabled}
          onChange={(start_offset) => onChange({ ...source, start_offset })}
        />
      </Row>
      {drawn?.wrong && <p style={{ color: "var(--fault)", margin: "4px 0" }}>{drawn.wrong}</p>}
      <div role="group" aria-label="Pieces">
        {source.pieces.map((p, i) => (
          <div key={i} role="group" aria-label={`Piece ${i + 1}`} className="card" style={{ padding: 6, margin: "6px 0" }}>
            <div style={{ display: "grid", gridTemplateColumns: "72px 1fr 26px", gap: 4, alignItems: "center" }}>
              <Select
                size="small"
                aria-label={`Kind of piece ${i + 1}`}
                disabled={disabled}
                value={p.kind}
                options={[
                  { value: "hold", label: "hold" },
                  { value: "taper", label: "taper" },
                ]}
                onChange={(kind) =>
                  set(
                    i,
                    kind === "hold"
                      ? { kind, end: p.end.by === "ratio" ? { by: "length", length: 20 } : p.end }
                      : { kind, to_offset: offset, end: p.end, shape: "straight" },
                  )
                }
              />
              {p.kind === "taper" ? (
                <span style={{ display: "grid", gridTemplateColumns: "auto 1fr 62px", gap: 4, alignItems: "center" }}>
                  <span className="quiet">to</span>
                  <NumberField
                    label={`Offset after piece ${i + 1}`}
                    unit="m"
                    value={p.to_offset}
                    disabled={disabled}
                    onChange={(to_offset) => set(i, { ...p, to_offset })}
                  />
                  <Select
                    size="small"
                    aria-label={`Shape of piece ${i + 1}`}
                    disabled={disabled}
                    value={p.shape}
                    options={[
                      { value: "straight", label: "line" },
                      { value: "s", label: "S" },
                    ]}
                    onChange={(shape) => set(i, { ...p, shape })}
                  />
                </span>
              ) : (
                <span className="quiet">keeps its offset</span>
              )}
              <Button
                type="text"
                size="small"
                aria-label={`Remove piece ${i + 1}`}
                icon={<DeleteOutlined />}
                disabled={disabled || source.pieces.length === 1}
                onClick={() => onChange({ ...source, pieces: source.pieces.filter((_, j) => j !== i) })}
              />
            </div>
            <div style={{ display: "grid", gridTemplateColumns: "110px 1fr", gap: 4, alignItems: "center", marginTop: 4 }}>
              <Select
                size="small"
                aria-label={`End of piece ${i + 1} by`}
                disabled={disabled}
                value={p.end.by}
                options={[
                  { value: "length", label: "after a length" },
                  { value: "chainage", label: "at chainage" },
                  ...(p.kind === "taper" ? [{ value: "ratio", label: "by ratio" }] : []),
                ]}
                onChange={(by) => setEnd(i, by)}
              />
              {p.end.by === "length" && (
                <NumberField
                  label={`Length of piece ${i + 1}`}
                  unit="m"
                  least={0.01}
                  value={p.end.length}
                  disabled={disabled}
                  onChange={(length) => set(i, { ...p, end: { by: "length", length } })}
                />
              )}
              {p.end.by === "chainage" && (
                <ChainageField
                  label={`End of piece ${i + 1}`}
                  value={p.end.chainage}
                  disabled={disabled}
                  onChange={(chainage) => set(i, { ...p, end: { by: "chainage", chainage } })}
                />
              )}
              {p.end.by === "ratio" && (
                <NumberField
                  label={`Ratio of piece ${i + 1}`}
                  unit="1 in"
                  least={0.1}
                  value={p.end.one_in}
                  disabled={disabled}
                  onChange={(one_in) => set(i, { ...p, end: { by: "ratio", one_in } } as Piece)}
                />
              )}
            </div>
            {drawn?.pieces[i] && (
              <span className="mono quiet" style={{ fontSize: 11 }}>
                {chainageText(drawn.pieces[i][0]!, 2)} to {chainageText(drawn.pieces[i][2]!, 2)}
              </span>
            )}
          </div>
        ))}
      </div>
      {!disabled && (
        <div style={{ display: "flex", gap: 6 }}>
          <Button size="small" onClick={() => onChange({ ...source, pieces: [...source.pieces, { kind: "hold", end: { by: "length", length: 20 } }] })}>
            Add hold
          </Button>
          <Button
            size="small"
            onClick={() =>
              onChange({
                ...source,
                pieces: [...source.pieces, { kind: "taper", to_offset: offset + Math.sign(offset || 1), end: { by: "length", length: 20 }, shape: "straight" }],
              })
            }
          >
            Add taper
          </Button>
        </div>
      )}
    </>
  );
}

function LineForm({ spec, change, disabled }: Omit<Props, "drawn">) {
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

type Curves = Extract<Source, { by: "curves" }>;
type Rule = Curves["rule"];
const STANDARDS = choicesOf<Rule["standard"]>({
  vehicle: "AASHTO, by vehicle",
  radius_bands: "CD 109, by radius",
  mechanical: "IRC, formula",
  radius_table: "IRC, table",
});

function CurvesForm({ source, onChange, disabled }: { source: Curves; onChange: (s: Curves) => void; disabled: boolean }) {
  const rule = source.rule;
  const set = (fields: Partial<Rule>) => onChange({ ...source, rule: { ...rule, ...fields } });
  const sides = source.share_outside ? "both" : "inside";
  return (
    <>
      <Row label="On straights">
        <NumberField
          label="Offset on straights"
          unit="m"
          value={source.base_offset}
          disabled={disabled}
          onChange={(base_offset) => onChange({ ...source, base_offset })}
        />
      </Row>
      <Row label="Standard">
        <Select size="small" aria-label="Standard" disabled={disabled} value={rule.standard} options={STANDARDS} onChange={(standard) => set({ standard })} />
      </Row>
      {(rule.standard === "vehicle" || rule.standard === "mechanical") && (
        <Row label="Design speed">
          <NumberField
            label="Design speed"
            unit="km/h"
            least={10}
            most={200}
            value={rule.design_speed_kmh}
            disabled={disabled}
            onChange={(design_speed_kmh) => set({ design_speed_kmh })}
          />
        </Row>
      )}
      {rule.standard === "vehicle" && (
        <Row label="Vehicle">
          <Select
            size="small"
            aria-label="Vehicle"
            disabled={disabled}
            value={rule.vehicle}
            options={(["SU", "WB12", "WB15", "WB19"] as const).map((v) => ({ value: v, label: v }))}
            onChange={(vehicle) => set({ vehicle: vehicle })}
          />
        </Row>
      )}
      <Row label="Lanes">
        <Select
          size="small"
          aria-label="Lanes"
          disabled={disabled}
          value={rule.lanes}
          options={[1, 2, 3, 4].map((v) => ({ value: v, label: String(v) }))}
          onChange={(lanes) => set({ lanes })}
        />
      </Row>
      <Row label="Lane width">
        <NumberField
          label="Lane width"
          unit="m"
          least={2}
          most={5}
          value={rule.lane_width}
          disabled={disabled}
          onChange={(lane_width) => set({ lane_width })}
        />
      </Row>
      <Row label="Widened">
        <Segmented
          size="small"
          disabled={disabled}
          value={sides}
          options={[
            { value: "inside", label: "inside" },
            { value: "both", label: "both sides" },
          ]}
          onChange={(v) => onChange({ ...source, share_inside: v === "inside" ? 1 : 0.5, share_outside: v === "inside" ? 0 : 0.5 })}
        />
      </Row>
      <Row label="Without transition">
        <NumberField
          label="Run without transition"
          unit="m"
          least={1}
          value={source.run}
          disabled={disabled}
          onChange={(run) => onChange({ ...source, run })}
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
