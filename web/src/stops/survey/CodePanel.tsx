/** The code list: what each survey code means, and how its lines are drawn. */
import { Checkbox, ColorPicker, Select } from "antd";
import type { Schemas } from "../../api/client";
import { type SpecOf, useDocument, useMayEdit } from "../../api/hooks";
import { useDraft } from "../../api/save";

type Rule = SpecOf<"code_list">["rules"][number];
const MEANINGS: NonNullable<Rule["meaning"]>[] = ["crown", "edge", "lip", "back", "invert", "path", "ditch", "pit", "pipe", "boundary", "ground", "other"];

/** Headings of boxes to be ticked may be parted. */
const NARROW = { width: 40, whiteSpace: "normal" } as const;

export function CodePanel({ codes }: { codes: Schemas["CodeFound"][] }) {
  const saved = useDocument("code_list");
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("code_list", "main", saved);
  const rules = spec?.rules ?? [];
  const set = (code: string, fields: Partial<Rule>) => spec && change({ rules: rules.map((r) => (r.code === code ? { ...r, ...fields } : r)) });
  return (
    <table className="grid-table edit-table" aria-label="Code list">
      <thead>
        <tr>
          <th>Code</th>
          <th>Means</th>
          <th style={NARROW} title="Its points belong to surfaces">
            {"Sur\u00adface"}
          </th>
          <th style={NARROW} title="No triangle edge crosses its lines">
            {"Break\u00adline"}
          </th>
          <th title="Width of its lines in plan, px">px</th>
          <th aria-label="Colour" />
        </tr>
      </thead>
      <tbody>
        {codes.map((c) => {
          const rule = rules.find((r) => r.code === c.code);
          if (!rule) return null;
          return (
            <tr key={c.code}>
              <td>
                {c.code || "none"}
                <span className="quiet" style={{ display: "block", fontSize: 11 }}>
                  {c.points}
                  {c.lines ? `, ${c.lines} lines` : ""}
                </span>
              </td>
              <td>
                <Select
                  size="small"
                  style={{ width: 92 }}
                  aria-label={`${c.code} means`}
                  disabled={!mayEdit}
                  value={rule.meaning}
                  options={MEANINGS.map((m) => ({ value: m, label: m }))}
                  onChange={(meaning) => set(c.code, { meaning })}
                />
              </td>
              <td>
                <Checkbox
                  aria-label={`${c.code} in surfaces`}
                  disabled={!mayEdit}
                  checked={rule.in_surface}
                  onChange={(e) => set(c.code, { in_surface: e.target.checked })}
                />
              </td>
              <td>
                <Checkbox
                  aria-label={`${c.code} is a breakline`}
                  disabled={!mayEdit || !c.lines || !rule.in_surface}
                  checked={Boolean(rule.breakline && rule.in_surface && c.lines)}
                  onChange={(e) => set(c.code, { breakline: e.target.checked })}
                />
              </td>
              <td>
                <Select
                  size="small"
                  style={{ width: 54 }}
                  aria-label={`Width of ${c.code} in plan`}
                  disabled={!mayEdit}
                  value={rule.width}
                  options={[...new Set([0.8, 1.2, 2, 3, rule.width])].sort().map((w) => ({ value: w, label: String(w) }))}
                  onChange={(width) => set(c.code, { width })}
                />
              </td>
              <td>
                <ColorPicker
                  size="small"
                  disabled={!mayEdit}
                  disabledAlpha
                  value={rule.colour}
                  onChangeComplete={(v) => set(c.code, { colour: v.toHexString().slice(0, 7) })}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
