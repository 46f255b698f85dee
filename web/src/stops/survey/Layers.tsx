/** The layers and blocks of a drawing: what is on them, what is taken, and as what. */
import { Checkbox, Segmented, Select } from "antd";
import type { Schemas } from "../../api/client";
import { CellTable } from "../../common/cells/CellTable";
import { choices, shown, ticks, words } from "../../common/cells/columns";
import { choicesOf } from "../../common/words";
import "./found.css";

export type Drawn = Schemas["DrawnFile"];
export type DrawingMapping = Schemas["DrawingMapping"];
type Layer = Drawn["layers"][number] & { rule: DrawingMapping["layers"][number] };
type Block = Drawn["blocks"][number];

export const DRAWING_UNITS: Record<Drawn["unit"], string> = {
  metre: "metres",
  foot: "feet",
  us_survey_foot: "US survey feet",
  millimetre: "millimetres",
  centimetre: "centimetres",
  kilometre: "kilometres",
  inch: "inches",
  yard: "yards",
};
const COUNTS = choicesOf<Layer["rule"]["counts"]>({
  code: "by its code",
  breaklines: "breaklines",
  points: "points only",
  boundary: "boundary",
  structures: "pits and pipes",
  background: "background only",
});

const count = (n: number) => (n ? n.toLocaleString("en") : "");
const LAYERS = [
  ticks<Layer>({ title: "Take", width: 52, of: (r) => r.rule.take, put: (r, take) => ({ ...r, rule: { ...r.rule, take } }), label: (r) => `Take ${r.layer}` }),
  shown<Layer>({ title: "Layer", width: 150, right: false, of: (r) => (r.shown === "on" ? r.layer : `${r.layer} (${r.shown})`) }),
  shown<Layer>({ title: "Points", width: 62, of: (r) => count(r.points) }),
  shown<Layer>({ title: "Lines", width: 62, of: (r) => count(r.lines) }),
  shown<Layer>({ title: "Faces", width: 62, of: (r) => count(r.faces) }),
  shown<Layer>({ title: "Texts", width: 56, of: (r) => count(r.texts) }),
  shown<Layer>({
    title: "Levels, m",
    width: 128,
    of: (r) => (r.least == null ? "" : `${r.least.toFixed(2)} to ${r.greatest!.toFixed(2)}`),
  }),
  shown<Layer>({ title: "At level 0", width: 72, of: (r) => count(r.at_zero) }),
  words<Layer>({
    title: "Code",
    width: 96,
    most: 80,
    of: (r) => r.rule.code || r.layer,
    put: (r, code) => ({ ...r, rule: { ...r.rule, code: code === r.layer ? "" : code } }),
    label: (r) => `Code of ${r.layer}`,
  }),
  choices<Layer, Layer["rule"]["counts"]>({
    title: "Counts as",
    width: 124,
    options: COUNTS,
    of: (r) => r.rule.counts,
    put: (r, counts) => ({ ...r, rule: { ...r.rule, counts } }),
    label: (r) => `${r.layer} counts as`,
  }),
];
const tagged = (title: string, field: "number" | "code" | "level") =>
  words<Block>({
    title,
    width: 100,
    most: 255,
    of: (b) => b.rule[field],
    put: (b, tag) => ({ ...b, rule: { ...b.rule, [field]: tag } }),
    label: (b) => `${title} of ${b.rule.block}`,
  });
const BLOCKS = [
  shown<Block>({ title: "Block", width: 140, right: false, of: (b) => b.rule.block }),
  shown<Block>({ title: "Inserts", width: 62, of: (b) => count(b.inserts) }),
  choices<Block, "point" | "drawn">({
    title: "Is",
    width: 130,
    options: [
      { value: "point", label: "a point" },
      { value: "drawn", label: "what it holds" },
    ],
    of: (b) => (b.rule.point ? "point" : "drawn"),
    put: (b, is) => ({ ...b, rule: { ...b.rule, point: is === "point" } }),
    label: (b) => `${b.rule.block} is`,
  }),
  tagged("Number from", "number"),
  tagged("Code from", "code"),
  tagged("Level from", "level"),
  shown<Block>({
    title: "Attributes",
    width: 260,
    right: false,
    of: (b) =>
      Object.entries(b.attributes)
        .map(([tag, value]) => `${tag} ${value}`)
        .join(", "),
  }),
];

interface Props {
  drawn: Drawn;
  mapping: DrawingMapping;
  onChange: (mapping: DrawingMapping) => void;
}

/** The mapping that takes a drawing as the server has read it. */
export const asRead = (drawn: Drawn): DrawingMapping => ({
  unit: drawn.unit,
  swapped: false,
  zero: drawn.zero ? "take" : "leave",
  texts: false,
  layers: drawn.layers.map((l) => ({ layer: l.layer, take: l.taken, code: "", counts: "code" })),
  blocks: drawn.blocks.map((b) => b.rule),
});

export function Layers({ drawn, mapping, onChange }: Props) {
  const set = (fields: Partial<DrawingMapping>) => onChange({ ...mapping, ...fields });
  const layers = drawn.layers.map((l) => ({ ...l, rule: mapping.layers.find((r) => r.layer === l.layer)! }));
  const blocks = drawn.blocks.map((b) => ({ ...b, rule: mapping.blocks.find((r) => r.block === b.rule.block)! }));
  const zeros = layers.filter((l) => l.rule.take).reduce((n, l) => n + l.at_zero, 0);
  return (
    <div className="layers">
      <div className="layers-head">
        <label>
          <span className="quiet">Drawn in</span>
          <Select<Drawn["unit"]>
            size="small"
            style={{ width: 132 }}
            aria-label="Unit of the drawing"
            value={mapping.unit ?? drawn.unit}
            options={choicesOf(DRAWING_UNITS)}
            onChange={(unit) => set({ unit })}
          />
        </label>
        <span role="status">{saidOf(drawn, mapping)}</span>
      </div>
      <div className="layers-head">
        <span className="quiet">
          Level 0, at {zeros.toLocaleString("en")} {zeros === 1 ? "place" : "places"}, is
        </span>
        <Segmented<"take" | "leave">
          size="small"
          aria-label="Level 0"
          value={mapping.zero === "take" ? "take" : "leave"}
          options={[
            { value: "leave", label: "no level: left out" },
            { value: "take", label: "a level" },
          ]}
          onChange={(zero) => set({ zero })}
        />
        {drawn.layers.some((l) => l.texts > 0) && (
          <Checkbox checked={mapping.texts} onChange={(e) => set({ texts: e.target.checked })}>
            Points at level 0 take theirs from a figure beside them
          </Checkbox>
        )}
      </div>
      <CellTable<Layer>
        label="Layers of the drawing"
        rows={layers}
        columns={LAYERS}
        change={(rows) => set({ layers: rows.map((r) => r.rule) })}
        height={blocks.length ? 250 : 340}
        least={layers.length}
        empty="Nothing is drawn in it."
      />
      {blocks.length > 0 && (
        <CellTable<Block>
          label="Blocks of the drawing"
          rows={blocks}
          columns={BLOCKS}
          change={(rows) => set({ blocks: rows.map((r) => r.rule) })}
          height={120}
          least={blocks.length}
        />
      )}
    </div>
  );
}

/** What the header of the drawing says, and how large the drawing is in the unit that is chosen. */
function saidOf(drawn: Drawn, mapping: DrawingMapping): string {
  const says = drawn.says ? `It says ${DRAWING_UNITS[drawn.says]}` : "It does not say its unit";
  if (!drawn.least || !drawn.greatest) return `${says}.`;
  const factor = METRES[mapping.unit ?? drawn.unit] / METRES[drawn.unit];
  const [width, height] = [0, 1].map((k) => (drawn.greatest![k]! - drawn.least![k]!) * factor) as [number, number];
  const [e, n] = drawn.least.map((v) => (v * factor).toLocaleString("en", { maximumFractionDigits: 0 }));
  return `${says}. In ${DRAWING_UNITS[mapping.unit ?? drawn.unit]} it is ${sized(width)} by ${sized(height)}, from E ${e} N ${n}.`;
}

const sized = (metres: number) => (metres >= 10_000 ? `${(metres / 1000).toFixed(1)} km` : metres >= 10 ? `${metres.toFixed(0)} m` : `${metres.toFixed(2)} m`);

/** NIST: the international foot is 0.3048 m exactly, the US survey foot 1200/3937 m. */
const METRES: Record<Drawn["unit"], number> = {
  metre: 1,
  foot: 0.3048,
  us_survey_foot: 1200 / 3937,
  millimetre: 0.001,
  centimetre: 0.01,
  kilometre: 1000,
  inch: 0.0254,
  yard: 0.9144,
};
