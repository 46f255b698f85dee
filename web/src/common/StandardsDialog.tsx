/** The standards of the project: copies of published figures, each with its source, to choose and to change. */
import { Alert, App, Button, Segmented, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../api/client";
import { type SpecOf, useDocument, useMayEdit, useModel, useOwnKey } from "../api/hooks";
import { useDraft } from "../api/useDraft";
import { Row } from "./Inspector";
import { NumberField } from "./NumberField";
import type { Unit } from "./numbers";
import { Dialog } from "./Dialog";

type Standards = SpecOf<"standards">;
type Table = Schemas["SpeedTable"];
type Page = "vertical" | "superelevation";

const VERTICAL: [keyof Standards["vertical"], string, Unit][] = [
  ["stopping", "Stopping sight distance", "m"],
  ["crest_k", "Least K of crests", "m/%"],
  ["sag_k", "Least K of sags", "m/%"],
  ["most_grade", "Greatest grade", "%"],
  ["grade_change", "Change of grade without a curve", "%"],
];

/** The standards in the hand and what replaces their figures. */
function useStandardsDialog({ page: first, close }: { page: Page; close: () => void }) {
  const mayEdit = useMayEdit();
  const { modal } = App.useApp();
  const saved = useDocument("standards");
  const { spec, change } = useDraft("standards", useOwnKey("standards"), saved);
  const [page, setPage] = useState<Page>(first);
  const published = useModel("published", async ({ path }) =>
    dataOf(await api.GET("/api/projects/{project_id}/standards/published", { params: { path } })),
  ).data;
  if (!spec) return null;
  const sets: Record<string, Standards[Page]> = published?.[page] ?? {};
  const own = spec[page];
  const copy = async (key: string) => {
    const fresh = sets[key]!;
    const sure = await modal.confirm({
      title: `Copy ${fresh.name}?`,
      content: `Its figures replace those of ${own.name}, with what was changed there.`,
      okText: "Copy",
      cancelText: "Leave",
    });
    if (sure) change({ ...spec, [page]: fresh });
  };
  const setVertical = (name: string, value: unknown) => change({ ...spec, vertical: { ...spec.vertical, [name]: value } });
  const setSuper = (name: string, value: unknown) => change({ ...spec, superelevation: { ...spec.superelevation, [name]: value } });
  const s = spec.superelevation;
  return { close, mayEdit, spec, change, page, setPage, sets, own, copy, setVertical, setSuper, s };
}
type StandardsDialogWork = NonNullable<ReturnType<typeof useStandardsDialog>>;

export function StandardsDialog(props: { page: Page; close: () => void }) {
  const work = useStandardsDialog(props);
  if (!work) return null;
  const { close, mayEdit, page, setPage, sets, own, copy } = work;
  return (
    <Dialog open saves onCancel={close} width={860} title="Standards of this project" footer={<Button onClick={close}>Close</Button>}>
      <div style={{ display: "flex", gap: 12, alignItems: "center", marginBottom: 10 }}>
        <Segmented<Page>
          aria-label="Standard of"
          value={page}
          options={[
            { value: "vertical", label: "Profiles" },
            { value: "superelevation", label: "Superelevation" },
          ]}
          onChange={setPage}
        />
        <span>
          In use: <strong>{own.name}</strong>
        </span>
        {mayEdit && (
          <Select
            style={{ minWidth: 220, marginLeft: "auto" }}
            aria-label="Copy a published standard"
            placeholder="Copy a published standard"
            value={null}
            options={Object.entries(sets).map(([value, x]) => ({ value, label: x.name }))}
            onChange={(key: string) => void copy(key)}
          />
        )}
      </div>
      <Alert
        type="info"
        style={{ marginBottom: 10 }}
        title="Published figures are quoted from memory. Check them against the paper before a contract rests on them."
      />
      <StandardsPage {...work} />
    </Dialog>
  );
}

function StandardsPage({ mayEdit, spec, change, page, setVertical, setSuper, s }: StandardsDialogWork) {
  return (
    <div tabIndex={0} style={{ maxHeight: 430, overflow: "auto" }}>
      {page === "vertical" ? (
        <>
          <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 12 }}>
            <Row label="Height of eye">
              <NumberField label="Height of eye" unit="m" least={0.1} value={spec.vertical.eye} disabled={!mayEdit} onChange={(v) => setVertical("eye", v)} />
            </Row>
            <Row label="Thing seen">
              <NumberField
                label="Height of the thing seen"
                unit="m"
                least={0}
                value={spec.vertical.thing}
                disabled={!mayEdit}
                onChange={(v) => setVertical("thing", v)}
              />
            </Row>
            <Row label="Over pipes">
              <NumberField
                label="Least cover over pipes"
                unit="m"
                least={0}
                value={spec.least_cover_over_pipes}
                disabled={!mayEdit}
                onChange={(v) => change({ ...spec, least_cover_over_pipes: v })}
              />
            </Row>
          </div>
          {VERTICAL.map(([name, title, unit]) => (
            <Figures key={name} title={title} unit={unit} table={spec.vertical[name] as Table} mayEdit={mayEdit} change={(t) => setVertical(name, t)} />
          ))}
        </>
      ) : (
        <>
          <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 12 }}>
            <Row label="At most">
              <NumberField
                label="Greatest superelevation"
                unit="%"
                least={0.1}
                most={12}
                value={s.most_pct}
                disabled={!mayEdit}
                onChange={(v) => setSuper("most_pct", v)}
              />
            </Row>
            <Row label="Steepest">
              <NumberField
                label="Steepest crossfall"
                unit="%"
                least={0.1}
                most={15}
                value={spec.steepest_pct}
                disabled={!mayEdit}
                onChange={(v) => change({ ...spec, steepest_pct: v })}
              />
            </Row>
            <Row label="Least resultant">
              <NumberField
                label="Least resultant slope"
                unit="%"
                least={0}
                most={5}
                value={spec.least_resultant_pct}
                disabled={!mayEdit}
                onChange={(v) => change({ ...spec, least_resultant_pct: v })}
              />
            </Row>
            <p className="quiet" style={{ margin: 0 }}>
              {s.divisor ? `e = V² / (${s.divisor} R)` : "e shared in proportion to curvature"}
              {s.lane_factor ? "; runoff with the factor for lanes" : ""}
            </p>
          </div>
          <Figures title="Side friction" unit="" table={s.friction} mayEdit={mayEdit} change={(t) => setSuper("friction", t)} />
          {s.relative_grade.map((t, i) => (
            <Figures
              key={i}
              title={`Relative grade of the edge, ${["one lane", "two lanes", "more lanes"][i]}`}
              unit="%"
              table={t}
              mayEdit={mayEdit}
              change={(x) =>
                setSuper(
                  "relative_grade",
                  s.relative_grade.map((old, j) => (j === i ? x : old)),
                )
              }
            />
          ))}
          {s.rotation_rate && (
            <Figures title="Rate of rotation, % per second" unit="%" table={s.rotation_rate} mayEdit={mayEdit} change={(t) => setSuper("rotation_rate", t)} />
          )}
          <Figures title="Share of the runoff before the curve" unit="" table={s.share_before} mayEdit={mayEdit} change={(t) => setSuper("share_before", t)} />
        </>
      )}
    </div>
  );
}

/** A table of figures by speed. A figure that is changed says so where its source stands. */
function Figures({ title, unit, table, mayEdit, change }: { title: string; unit: Unit; table: Table; mayEdit: boolean; change: (t: Table) => void }) {
  const changed = table.rows.filter((r) => r.source);
  const set = (i: number, value: number) =>
    change({
      ...table,
      rows: table.rows.map((r, j) =>
        j === i
          ? {
              ...r,
              value,
              source: `set in this project, ${r.source?.startsWith("set in this project") ? r.source.split(", ").slice(1).join(", ") : `was ${r.value}`}`,
            }
          : r,
      ),
    });
  return (
    <section style={{ margin: "12px 0" }}>
      <h3 style={{ margin: "0 0 2px" }}>
        {title} {unit && <span className="quiet">{unit}</span>}
      </h3>
      <p className="quiet" style={{ margin: "0 0 4px" }}>
        {table.source}
      </p>
      <div style={{ display: "flex", gap: 4, flexWrap: "wrap" }}>
        {table.rows.map((r, i) => (
          <label key={r.speed_kmh} className="quiet" style={{ width: 76 }} title={r.source ?? table.source}>
            {Number.isInteger(r.speed_kmh) ? r.speed_kmh : `under ${Math.ceil(r.speed_kmh)}`} km/h{r.source ? " *" : ""}
            <NumberField label={`${title} at ${r.speed_kmh} km/h`} unit="" value={r.value} disabled={!mayEdit} onChange={(v) => set(i, v)} />
          </label>
        ))}
      </div>
      {changed.map((r) => (
        <p key={r.speed_kmh} className="quiet" style={{ margin: "2px 0 0" }}>
          * {r.speed_kmh} km/h: {r.source}
        </p>
      ))}
    </section>
  );
}
