/** Follow rules: which template point follows what, from where to where; and what each point gets along the road. */
import { ArrowUpOutlined, DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Button, Segmented, Select } from "antd";
import { useEffect, useRef } from "react";
import { useDocument, useDocumentsOf, useMayEdit, useOwnKey, useSummary } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { type Source, SourceRow, useEdgeLine } from "../../common/SourceRow";
import { signed } from "../../common/signed";
import { extentOf } from "./extent";
import { type Rule, useFollowed } from "./hooks";

export function FollowPanel({ guide }: { guide: string | null }) {
  const saved = useDocument("follow");
  const mayEdit = useMayEdit();
  const place = usePlace();
  const summary = useSummary().data;
  const templates = useDocumentsOf("template");
  const guides = useDocumentsOf("guide");
  const edge = useEdgeLine();
  const { spec, change } = useDraft("follow", useOwnKey("follow"), saved);
  const names = [...new Set(templates.flatMap((t) => [t.spec.right, t.spec.left].flatMap((h) => h?.points.map((p) => p.name) ?? [])))];
  if (!spec || !summary) return null;
  const rules = spec.rules;
  const set = (i: number, fields: Partial<Rule>) => change({ rules: rules.map((r, j) => (j === i ? { ...r, ...fields } : r)) });
  const chosen = guides.find((g) => g.key === guide)?.spec;
  const extent = chosen ? extentOf(chosen) : null;
  const add = () =>
    change({
      rules: [
        ...rules,
        {
          side: chosen?.side ?? "right",
          point: names[0] ?? "LaneEdge",
          source: guide ? { by: "guide", guide } : edge,
          from_chainage: place.range?.from ?? extent?.from ?? summary.start,
          to_chainage: place.range?.to ?? extent?.to ?? summary.end,
          what: "plan",
          plus: 0,
        },
      ],
    });
  return (
    <section aria-label="Follow rules">
      {rules.length === 0 && <p className="quiet">No rules yet: every point keeps the width of its template.</p>}
      {rules.map((r, i) => (
        <div key={i} className="card" style={{ padding: 8, margin: "8px 0" }}>
          <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr auto auto", gap: 4, marginBottom: 6 }}>
            <Select
              size="small"
              aria-label={`Point of rule ${i + 1}`}
              disabled={!mayEdit}
              value={r.point}
              options={names.map((n) => ({ value: n, label: n }))}
              onChange={(point) => set(i, { point })}
            />
            <Segmented<"left" | "right">
              size="small"
              aria-label={`Side of rule ${i + 1}`}
              disabled={!mayEdit}
              value={r.side}
              options={["left", "right"]}
              onChange={(side) => set(i, { side })}
            />
            <Button
              type="text"
              size="small"
              aria-label={`Rule ${i + 1} earlier`}
              title="Tried earlier"
              icon={<ArrowUpOutlined />}
              disabled={!mayEdit || i === 0}
              onClick={() => change({ rules: [...rules.slice(0, i - 1), r, rules[i - 1]!, ...rules.slice(i + 1)] })}
            />
            <Button
              type="text"
              size="small"
              aria-label={`Remove rule ${i + 1}`}
              icon={<DeleteOutlined />}
              disabled={!mayEdit}
              onClick={() => change({ rules: rules.filter((_, j) => j !== i) })}
            />
          </div>
          <SourceRow<Exclude<Source, { by: "offset" }>>
            label="Follows"
            linesOnly
            value={r.source}
            disabled={!mayEdit}
            onChange={(source) => set(i, { source })}
          />
          <Row label="In">
            <Select
              size="small"
              aria-label={`What rule ${i + 1} gives`}
              disabled={!mayEdit}
              value={r.what}
              options={["plan", "level", "both"].map((v) => ({ value: v, label: v === "both" ? "plan and level" : v }))}
              onChange={(what) => set(i, { what: what })}
            />
          </Row>
          {r.what !== "plan" && (
            <Row label="Plus">
              <NumberField label={`Added to the level by rule ${i + 1}`} unit="m" value={r.plus} disabled={!mayEdit} onChange={(plus) => set(i, { plus })} />
            </Row>
          )}
          <div style={{ display: "grid", gridTemplateColumns: "1fr auto 1fr", gap: 4, alignItems: "center" }}>
            <ChainageField label={`Rule ${i + 1} from`} value={r.from_chainage} disabled={!mayEdit} onChange={(from_chainage) => set(i, { from_chainage })} />
            <span className="quiet">to</span>
            <ChainageField label={`Rule ${i + 1} to`} value={r.to_chainage} disabled={!mayEdit} onChange={(to_chainage) => set(i, { to_chainage })} />
          </div>
        </div>
      ))}
      {mayEdit && (
        <Button size="small" icon={<PlusOutlined />} onClick={add}>
          Add rule
        </Button>
      )}
      <p className="quiet">Rules for one point are tried from the top; where none gives a value, the template&apos;s own width or level holds.</p>
    </section>
  );
}

export function FollowedTable() {
  const followed = useFollowed().data ?? [];
  const summary = useSummary().data!;
  const rules = useDocument("follow")?.spec.rules ?? [];
  const place = usePlace();
  const now = useRef<HTMLTableRowElement>(null);
  const filled = followed.length > 0;
  useEffect(() => {
    now.current?.scrollIntoView({ block: "center" });
  }, [place.index, filled]);
  if (followed.length === 0) return <div className="empty">Nothing is followed yet. Add a rule in the panel at the right.</div>;
  return (
    <div tabIndex={0} className="scroll" style={{ height: "100%" }}>
      <table className="grid-table" aria-label="Followed points">
        <thead>
          <tr>
            <th className="num">Chainage</th>
            {followed.map((f) => (
              <th key={`${f.side}${f.point}`} className="num" colSpan={2}>
                {f.point} {f.side}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {summary.chainage.map((c, i) => (
            <tr
              key={i}
              ref={i === place.index ? now : undefined}
              className={i === place.index ? "now" : undefined}
              style={{ cursor: "pointer" }}
              onClick={() => place.goTo(i)}
            >
              <td className="num">{chainageText(c)}</td>
              {followed.map((f) => {
                const rule = rules[f.rule[i] ?? -1];
                return [
                  <td key={`${f.side}${f.point}o`} className="num">
                    {f.offset[i] == null ? "–" : signed(f.offset[i], 3)}
                    {f.level[i] == null ? "" : ` at ${f.level[i].toFixed(3)}`}
                  </td>,
                  <td key={`${f.side}${f.point}r`} className="quiet">
                    {rule ? `rule ${(f.rule[i] ?? 0) + 1}` : f.level[i] == null ? "own tie" : "level"}
                  </td>,
                ];
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
