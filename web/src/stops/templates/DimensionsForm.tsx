/** Named dimensions: shared by ties, given other values by template ranges. */
import { CellTable } from "../../common/cells/CellTable";
import { choices, numbers, words } from "../../common/cells/columns";
import { type Dimension, freeName, isDimensionName, type Template, type Unit } from "./spec";

interface Props {
  spec: Template;
  disabled: boolean;
  change: (spec: Template) => void;
}

const COLUMNS = [
  words<Dimension>({
    title: "Dimension",
    width: 130,
    wrong: (text) => (isDimensionName(text) ? null : "a letter first, then letters, digits, blanks, - and _"),
    of: (d) => d.name,
    put: (d, name) => ({ ...d, name }),
    label: (_, i) => `Name of dimension ${i + 1}`,
  }),
  numbers<Dimension>({
    title: "Value",
    unit: (d) => d.unit,
    width: 80,
    of: (d) => d.value,
    put: (d, value) => ({ ...d, value }),
    label: (d) => `Value of ${d.name}`,
  }),
  choices<Dimension, Unit>({
    title: "Unit",
    width: 56,
    options: (["m", "mm", "%"] as const).map((u) => ({ value: u, label: u })),
    of: (d) => d.unit,
    put: (d, unit) => ({ ...d, unit }),
    label: (d) => `Unit of ${d.name}`,
  }),
];

/** No name twice. */
function tidy(all: Dimension[]): Dimension[] | string {
  const twice = all.find((d, i) => all.findIndex((o) => o.name === d.name) < i);
  return twice ? `“${twice.name}” stands there twice` : all;
}

export function DimensionsForm({ spec, disabled, change }: Props) {
  const all = spec.dimensions;
  const write = (next: Dimension[]) => {
    // What takes a dimension that is called otherwise now goes on taking it.
    const renamed = new Map(next.length === all.length ? all.flatMap((d, i) => (d.name === next[i]!.name ? [] : [[d.name, next[i]!.name] as const])) : []);
    const swapped = JSON.parse(JSON.stringify({ right: spec.right, left: spec.left }), (key, v: unknown) =>
      ["width", "along", "out", "crossfall_pct", "rise", "plus", "depth_mm"].includes(key) && typeof v === "string" ? (renamed.get(v) ?? v) : v,
    ) as Pick<Template, "right" | "left">;
    change({ ...spec, ...swapped, dimensions: next });
  };
  return (
    <>
      <p className="quiet">A dimension gives one value to several ties. A template range may give it another value, and run to it over a transition.</p>
      <CellTable<Dimension>
        label="Dimensions"
        rows={all}
        columns={COLUMNS}
        disabled={disabled}
        change={write}
        tidy={tidy}
        fresh={(rows) => ({
          name: freeName(
            "lane width",
            rows.map((d) => d.name),
          ),
          unit: "m",
          value: 3.5,
        })}
        empty="No dimensions yet."
      />
    </>
  );
}
