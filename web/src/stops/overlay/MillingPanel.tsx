/** The milling plan: stretches with their depths along the road. */
import { Button, Segmented, Switch } from "antd";
import { type SpecOf, useDocument, useMayEdit, useOwnKey } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { AlongTable, chainageOf, likeRow } from "../../common/cells/AlongTable";
import { numbers } from "../../common/cells/columns";
import { Row } from "../../common/Inspector";
import { type EdgeSource, SourceRow } from "../../common/SourceRow";

type Stretch = NonNullable<SpecOf<"milling">["stretches"]>[number];

type MilledRow = Stretch["rows"][number];

export function MillingPanel() {
  const saved = useDocument("milling");
  const mayEdit = useMayEdit();
  const place = usePlace();
  const { spec, change } = useDraft("milling", useOwnKey("milling"), saved);
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
          <AlongTable<MilledRow>
            label={`Depths of milling ${i + 1}`}
            height={210}
            rows={s.rows}
            columns={columnsOf(i)}
            disabled={disabled}
            change={(rows) => set(i, { ...s, rows })}
            least={2}
            fresh={(chainage, all, k) => ({ chainage, depth_mm: likeRow(all, k)?.depth_mm ?? 40 })}
            also={
              !disabled && (
                <Button size="small" onClick={() => write(stretches.filter((_, j) => j !== i))}>
                  Mill nothing here
                </Button>
              )
            }
          />
          <span style={{ display: "flex", gap: 8, alignItems: "center", marginBottom: 4 }}>
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

const columnsOf = (i: number) => [
  chainageOf<MilledRow>((k) => `${k + 1} of milling ${i + 1}`),
  numbers<MilledRow>({
    title: "Depth mm",
    unit: "mm",
    least: 0,
    most: 1000,
    of: (r) => r.depth_mm,
    put: (r, depth_mm) => ({ ...r, depth_mm }),
    label: (_, k) => `Depth ${k + 1} of milling ${i + 1}`,
  }),
];
