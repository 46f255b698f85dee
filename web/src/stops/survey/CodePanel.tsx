/** The code list: what each survey code means, and how its lines are drawn. */
import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { type SpecOf, useDocument, useMayEdit } from "../../api/hooks";
import { useDraft } from "../../api/save";
import { CellTable } from "../../common/cells/CellTable";
import { choices, drawn, numbers, shown, ticks } from "../../common/cells/columns";
import { ColourField } from "../../common/ColourField";

type Rule = SpecOf<"code_list">["rules"][number];
const MEANINGS: NonNullable<Rule["meaning"]>[] = [
  "crown",
  "edge",
  "lip",
  "back",
  "invert",
  "path",
  "shoulder",
  "wheel path",
  "median",
  "ditch",
  "pit",
  "pipe",
  "boundary",
  "ground",
  "other",
];

const CROSSING: { value: Rule["crossing"]; label: string }[] = [
  { value: "later", label: "gives way" },
  { value: "mean", label: "mean level" },
];
const NONE: Rule[] = [];

export function CodePanel({ codes }: { codes: Schemas["CodeFound"][] }) {
  const saved = useDocument("code_list");
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("code_list", "main", saved);
  const rules = spec?.rules ?? NONE;
  // Codes that the survey has no longer keep their rules; here stand those that it has.
  const rows = codes.flatMap((c) => rules.find((r) => r.code === c.code) ?? []);
  const write = (next: Rule[]) => change({ rules: rules.map((r) => next.find((n) => n.code === r.code) ?? r) });
  const columns = useMemo(() => {
    const found = (r: Rule) => codes.find((c) => c.code === r.code);
    return [
      shown<Rule>({ title: "Code", right: false, width: 52, of: (r) => r.code || "none" }),
      choices<Rule, Rule["meaning"]>({
        title: "Means",
        width: 86,
        options: MEANINGS.map((m) => ({ value: m, label: m })),
        of: (r) => r.meaning,
        put: (r, meaning) => ({ ...r, meaning }),
        label: (r) => `${r.code} means`,
      }),
      ticks<Rule>({
        title: "Ground",
        help: "Its points belong to surfaces",
        width: 58,
        of: (r) => r.in_surface,
        put: (r, in_surface) => ({ ...r, in_surface }),
        label: (r) => `${r.code} in surfaces`,
      }),
      ticks<Rule>({
        title: "Breakline",
        help: "No triangle edge crosses its lines",
        width: 70,
        of: (r) => r.breakline,
        put: (r, breakline) => ({ ...r, breakline }),
        off: (r) => (found(r)?.lines && r.in_surface ? null : ""),
        label: (r) => `${r.code} is a breakline`,
      }),
      choices<Rule, Rule["crossing"]>({
        title: "Crossing",
        help: "Where its lines cross other breaklines: the piece that comes later gives way, or both get the mean of their levels",
        width: 92,
        options: CROSSING,
        of: (r) => r.crossing,
        put: (r, crossing) => ({ ...r, crossing }),
        label: (r) => `Where ${r.code} crosses`,
      }),
      numbers<Rule>({
        title: "Line px",
        help: "Width of its lines in plan, px",
        unit: "",
        least: 0.2,
        most: 8,
        width: 60,
        of: (r) => r.width,
        put: (r, width) => ({ ...r, width }),
        label: (r) => `Width of ${r.code} in plan`,
      }),
      drawn<Rule>({
        title: "Colour",
        width: 60,
        render: (r) => (
          <ColourField
            disabled={!mayEdit}
            value={r.colour}
            onChange={(colour) => change({ rules: rules.map((o) => (o.code === r.code ? { ...o, colour } : o)) })}
          />
        ),
      }),
      shown<Rule>({ title: "Points", width: 60, of: (r) => String(found(r)?.points ?? 0) }),
      shown<Rule>({ title: "Lines", width: 50, of: (r) => String(found(r)?.lines ?? 0) }),
    ];
  }, [codes, mayEdit, rules, change]);
  return <CellTable<Rule> label="Code list" rows={rows} columns={columns} disabled={!mayEdit} change={write} keyed="Code" least={rows.length} height={480} />;
}
