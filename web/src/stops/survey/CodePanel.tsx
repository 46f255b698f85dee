/** The code list: what each survey code means, and how its lines are drawn. */
import { Button, Input, Select } from "antd";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { type SpecOf, useDocument, useDocumentsOf, useMayEdit } from "../../api/hooks";
import { freshKey, useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { CellTable } from "../../common/cells/CellTable";
import { choices, drawn, numbers, shown, ticks } from "../../common/cells/columns";
import { Row } from "../../common/Inspector";
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
        width: 104,
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
  return (
    <>
      <CellTable<Rule> label="Code list" rows={rows} columns={columns} disabled={!mayEdit} change={write} keyed="Code" least={rows.length} height={440} />
      {mayEdit && <Lists rules={rules} take={(more) => change({ rules: taken(rules, more) })} />}
    </>
  );
}

/** The rules with those of a list, which say more of the codes that both have. */
const taken = (rules: Rule[], more: Rule[]): Rule[] => {
  const theirs = new Map(more.map((r) => [r.code, r]));
  return [...rules.map((r) => theirs.get(r.code) ?? r), ...more.filter((r) => !rules.some((o) => o.code === r.code))];
};

/** Lists of codes that the project keeps, as an office has them: taken over, or this one kept as one. */
function Lists({ rules, take }: { rules: Rule[]; take: (rules: Rule[]) => void }) {
  const lists = useDocumentsOf("saved_codes");
  const save = useSave();
  const [name, setName] = useState("");
  const keep = async () => {
    if ((await save({ kind: "saved_codes", key: freshKey("codes"), version: 0, spec: { name: name.trim(), codes: { rules } } })) !== null) setName("");
  };
  return (
    <div style={{ marginTop: 12 }}>
      {lists.length > 0 && (
        <Row label="Take over">
          <Select
            size="small"
            aria-label="Take over a list of codes"
            placeholder="choose a list"
            value={null}
            options={lists.map((d) => ({ value: d.key, label: d.spec.name }))}
            onChange={(key: string) => take(lists.find((d) => d.key === key)!.spec.codes.rules)}
          />
        </Row>
      )}
      <Row label="Keep as a list">
        <span style={{ display: "flex", gap: 6 }}>
          <Input size="small" aria-label="Name of the list of codes" maxLength={40} value={name} onChange={(e) => setName(e.target.value)} />
          <Button size="small" disabled={!name.trim() || rules.length === 0} onClick={() => void keep()}>
            Keep
          </Button>
        </span>
      </Row>
      <p className="quiet">
        A list goes to the library at Templates, for every project of the office. What it says of a code counts also where the survey has none yet.
      </p>
    </div>
  );
}
