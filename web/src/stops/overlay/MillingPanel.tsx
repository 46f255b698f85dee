/** The milling plan: stretches with their depths along the road. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Segmented, Switch } from "antd";
import { type SpecOf, useDocument, useMayEdit } from "../../api/hooks";
import { useDraft } from "../../api/save";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { type EdgeSource, SourceRow } from "../../common/SourceRow";

type Stretch = NonNullable<SpecOf<"milling">["stretches"]>[number];

export function MillingPanel() {
  const saved = useDocument("milling");
  const mayEdit = useMayEdit();
  const place = usePlace();
  const { spec, change } = useDraft("milling", "main", saved);
  const stretches = spec?.stretches ?? [];
  const disabled = !mayEdit;
  const write = (next: Stretch[]) => change({ stretches: next });
  const set = (i: number, s: Stretch) => write(stretches.map((x, j) => (j === i ? s : x)));
  const add = () => {
    const { from, to } = place.range!;
    write([
      ...stretches,
      {
        left: null,
        right: null,
        full_at: "both",
        rows: [
          { chainage: from, depth_mm: 40 },
          { chainage: to, depth_mm: 40 },
        ],
      },
    ]);
  };
  return (
    <section className="card" aria-label="Milling">
      <h3 style={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
        Milling
        {mayEdit && (
          <Button size="small" disabled={!place.range || !saved} title={place.range ? undefined : "Mark a range first"} onClick={add}>
            Mill the range
          </Button>
        )}
      </h3>
      {stretches.length === 0 && <p className="quiet">Nothing is milled. Mark a range on the strip to mill it.</p>}
      {stretches.map((s, i) => (
        <div key={i} style={{ borderTop: "1px solid var(--tin200)", padding: "6px 0" }} role="group" aria-label={`Milling ${i + 1}`}>
          {s.rows.map((r, k) => (
            <div key={k} style={{ display: "grid", gridTemplateColumns: "1fr 92px auto", gap: 4, marginBottom: 4 }}>
              <ChainageField
                label={`Chainage ${k + 1} of milling ${i + 1}`}
                value={r.chainage}
                disabled={disabled}
                onChange={(chainage) =>
                  set(i, { ...s, rows: s.rows.map((x, j) => (j === k ? { ...x, chainage } : x)).sort((a, b) => a.chainage - b.chainage) })
                }
              />
              <NumberField
                label={`Depth ${k + 1} of milling ${i + 1}`}
                unit="mm"
                least={0}
                most={1000}
                value={r.depth_mm}
                disabled={disabled}
                onChange={(depth_mm) => set(i, { ...s, rows: s.rows.map((x, j) => (j === k ? { ...x, depth_mm } : x)) })}
              />
              <Button
                type="text"
                size="small"
                aria-label={`Remove row ${k + 1} of milling ${i + 1}`}
                icon={<DeleteOutlined />}
                disabled={disabled}
                onClick={() =>
                  write(
                    s.rows.length > 2
                      ? stretches.map((x, j) => (j === i ? { ...s, rows: s.rows.filter((_, j2) => j2 !== k) } : x))
                      : stretches.filter((_, j) => j !== i),
                  )
                }
              />
            </div>
          ))}
          <span style={{ display: "flex", gap: 8, alignItems: "center", marginBottom: 4 }}>
            <Button size="small" disabled={disabled} onClick={() => set(i, { ...s, rows: withMiddle(s) })}>
              Add row
            </Button>
            <Button size="small" type="link" onClick={() => place.goToChainage(s.rows[0]!.chainage)}>
              {chainageText(s.rows[0]!.chainage, 0)}
            </Button>
            <span className="quiet">full width</span>
            <Switch
              size="small"
              aria-label={`Full width of milling ${i + 1}`}
              disabled={disabled}
              checked={!s.left && !s.right}
              onChange={(on) => set(i, { ...s, left: on ? null : { by: "offset", offset: -3 }, right: on ? null : { by: "offset", offset: 3 } })}
            />
          </span>
          <Row label="Full depth at">
            <Segmented<"both" | "left" | "right">
              size="small"
              aria-label={`Full depth of milling ${i + 1}`}
              disabled={disabled}
              value={s.full_at}
              options={[
                { value: "both", label: "all" },
                { value: "left", label: "left" },
                { value: "right", label: "right" },
              ]}
              onChange={(full_at) => set(i, { ...s, full_at })}
            />
          </Row>
          {s.left && <SourceRow<EdgeSource> label="Left limit" points value={s.left} disabled={disabled} onChange={(left) => set(i, { ...s, left })} />}
          {s.right && <SourceRow<EdgeSource> label="Right limit" points value={s.right} disabled={disabled} onChange={(right) => set(i, { ...s, right })} />}
        </div>
      ))}
    </section>
  );
}

/** A row halfway along the longest gap of a stretch. */
function withMiddle(s: Stretch): Stretch["rows"] {
  let at = 1;
  for (let i = 2; i < s.rows.length; i++) if (s.rows[i]!.chainage - s.rows[i - 1]!.chainage > s.rows[at]!.chainage - s.rows[at - 1]!.chainage) at = i;
  const [a, b] = [s.rows[at - 1]!, s.rows[at]!];
  return [
    ...s.rows.slice(0, at),
    { chainage: Number(((a.chainage + b.chainage) / 2).toFixed(1)), depth_mm: (a.depth_mm + b.depth_mm) / 2 },
    ...s.rows.slice(at),
  ];
}
