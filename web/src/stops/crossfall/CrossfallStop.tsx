/** Crossfalls: measured behind adopted in a diagram along the road, operations on a range, the table. */
import { PlusOutlined } from "@ant-design/icons";
import { Alert, App, Button, Segmented } from "antd";
import { useMemo, useState } from "react";
import { api, dataOf, fileOf, type Schemas, sendFile } from "../../api/client";
import { type SpecOf, useDocument, useMayEdit, useModel, useOfRoad, useOwn, useOwnKey, useSummary } from "../../api/hooks";
import { useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { colour } from "../../base/theme";
import { AlongChart, around } from "../../common/AlongChart";
import { between } from "../../common/between";
import { Figures, Inspector, Row } from "../../common/Inspector";
import { MissingInputs } from "../../common/MissingInputs";
import { OpenFile } from "../../common/OpenFile";
import { Operate } from "../../common/Operate";
import { AlongTable, chainageOf } from "../../common/cells/AlongTable";
import { type Column, numbers, shown } from "../../common/cells/columns";
import { signed } from "../../common/signed";
import { LivePane } from "../../drawing/LivePane";
import { LiveSection } from "../../drawing/LiveSection";
import { type Operation, OPERATIONS } from "./operations";
import { TurnsDialog } from "./TurnsDialog";

type Table = SpecOf<"crossfalls">;
type RowOf = Table["rows"][number];
type Side = "both" | "left" | "right";
const SIDES = [
  ["left_pct", colour.saddle500, "left"],
  ["right_pct", colour.short, "right"],
] as const;

export default function CrossfallStop() {
  const summary = useSummary().data;
  const saved = useDocument("crossfalls");
  const place = usePlace();
  const mayEdit = useMayEdit();
  const { spec, change, drag } = useDraft("crossfalls", useOwnKey("crossfalls"), saved);
  const [sidesShown, setShown] = useState<Side>("both");
  const [near, setNear] = useState(false);
  const [proposed, setProposed] = useState<Table | null>(null);
  const measured = useModel("crossfalls", async (of) => dataOf(await api.GET("/api/projects/{project_id}/crossfalls", { params: of }))).data;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  const table: Table = spec ?? { rows: [] };
  const rows = table.rows;
  const sides = SIDES.filter(([, , side]) => sidesShown === "both" || sidesShown === side);
  const at = measured?.chainage ?? [];
  const along = (t: Table, name: "left_pct" | "right_pct") => at.map(adopted(t.rows, name));
  const series = measured
    ? sides.flatMap(([name, tone, side]) => [
        { name: `${side}, measured`, values: side === "left" ? measured.measured_left : measured.measured_right, tone, width: 0.9, dash: "2 2" },
        ...(rows.length ? [{ name: `${side}, adopted`, values: along(table, name), tone, width: 2 }] : []),
        ...(proposed ? [{ name: `${side}, proposed`, values: along(proposed, name), tone, width: 2, dash: "6 3" }] : []),
      ])
    : [];
  const handles = sides.flatMap(([name, tone, side]) =>
    rows.map((r) => ({ chainage: r.chainage, value: r[name], tone, label: `${side} at ${chainageText(r.chainage)}` })),
  );
  const setRow = (i: number, fields: Partial<RowOf>) => ({ rows: rows.map((r, j) => (j === i ? { ...r, ...fields } : r)) });
  return (
    <>
      <div className="stage">
        <div className="fill" style={{ background: "var(--white)" }}>
          <AlongChart
            label="Crossfalls along the road"
            unit="%"
            decimals={1}
            chainage={at}
            series={series}
            handles={handles}
            at={place.chainage}
            range={place.range}
            window={near ? around(place.chainage, 150, summary.start, summary.end) : undefined}
            onGo={place.goToChainage}
            controls={
              <>
                <Segmented<Side> size="small" value={sidesShown} options={["both", "left", "right"]} onChange={setShown} aria-label="Sides shown" />
                <Button size="small" aria-pressed={near} onClick={() => setNear(!near)}>
                  {near ? "Whole road" : "Near here"}
                </Button>
              </>
            }
            onDrag={
              mayEdit
                ? (i, value, done) => drag(setRow(i % rows.length, { [sides[Math.floor(i / rows.length)]![0]]: Math.max(-20, Math.min(20, value)) }), done)
                : undefined
            }
            onAdd={mayEdit ? (c) => change(withRow(rows, c, measured)) : undefined}
          />
        </div>
        <LivePane>
          <LiveSection />
        </LivePane>
      </div>
      <Inspector title="Crossfalls">
        {rows.length > 0 && <Use mayEdit={mayEdit} />}
        <OperateOn table={table} mayEdit={mayEdit} propose={setProposed} take={change} />
        {measured && <Water along={measured} index={place.index} />}
        <TableOf rows={rows} mayEdit={mayEdit} change={change} at={place.chainage} measured={measured} />
        <Files table={table} mayEdit={mayEdit} take={change} />
      </Inspector>
    </>
  );
}

/** Adopted crossfalls along the road; before the first row and after the last one theirs hold. */
function adopted(rows: readonly RowOf[], name: "left_pct" | "right_pct"): (c: number) => number | null {
  const [first, last] = [rows[0]?.chainage ?? 0, rows.at(-1)?.chainage ?? 0];
  const inside = between(
    rows.map((r) => r.chainage),
    rows.map((r) => r[name]),
  );
  return (c) => inside(Math.min(Math.max(c, first), last));
}

/** A row at a chainage, with the values that hold there. */
function rowAt(rows: readonly RowOf[], chainage: number, measured: Schemas["CrossfallsOut"] | undefined): RowOf {
  const i = measured?.chainage.findIndex((c) => c >= chainage) ?? -1;
  const fresh = (name: "left_pct" | "right_pct") =>
    Number((adopted(rows, name)(chainage) ?? (name === "left_pct" ? measured?.measured_left[i] : measured?.measured_right[i]) ?? -2.5).toFixed(2));
  return { chainage, left_pct: fresh("left_pct"), right_pct: fresh("right_pct") };
}

function withRow(rows: RowOf[], chainage: number, measured: Schemas["CrossfallsOut"] | undefined): Table {
  if (rows.some((r) => Math.abs(r.chainage - chainage) < 1e-3)) return { rows };
  return { rows: [...rows, rowAt(rows, chainage, measured)].sort((a, b) => a.chainage - b.chainage) };
}

/** Whether treatments take the adopted crossfalls, and making all overlays do so. */
function Use({ mayEdit }: { mayEdit: boolean }) {
  const treatments = useDocument("treatments");
  const own = useOwn();
  const save = useSave();
  const ranges = treatments?.spec.ranges ?? [];
  const takes = (r: (typeof ranges)[number]) => r.work.kind === "leave" || (r.work.left_crossfall.by === "table" && r.work.right_crossfall.by === "table");
  const others = ranges.filter((r) => !takes(r)).length;
  if (!treatments || others === 0) return null;
  const all = ranges.map((r) =>
    r.work.kind === "leave" ? r : { ...r, work: { ...r.work, left_crossfall: { by: "table" as const }, right_crossfall: { by: "table" as const } } },
  );
  return (
    <Alert
      type="info"
      style={{ marginBottom: 10 }}
      title={`${others} of ${ranges.length} treatments use other crossfalls than the adopted ones.`}
      action={
        mayEdit && (
          <Button size="small" onClick={() => void save({ kind: "treatments", key: own("treatments"), version: treatments.version, spec: { ranges: all } })}>
            Use adopted in all
          </Button>
        )
      }
    />
  );
}

function OperateOn({ table, mayEdit, propose, take }: { table: Table; mayEdit: boolean; propose: (t: Table | null) => void; take: (t: Table) => void }) {
  const of = useOfRoad();
  const [side, setSide] = useState<Side>("both");
  return (
    <Operate<Operation, Table>
      name="crossfall-operation"
      kinds={OPERATIONS}
      first={OPERATIONS.measured.fresh}
      table={table}
      mayEdit={mayEdit}
      propose={propose}
      take={take}
      also={{
        value: side,
        form: (
          <Row label="On">
            <Segmented<Side> size="small" aria-label="Side of the operation" value={side} options={["both", "left", "right"]} onChange={setSide} />
          </Row>
        ),
      }}
      more={(operation) => operation.kind === "superelevate" && <TurnsDialog asked={operation} />}
      ask={async (operation, range) => {
        const body = { operation, side, from_chainage: range.from, to_chainage: range.to, table };
        return dataOf(await api.POST("/api/projects/{project_id}/crossfalls/apply", { params: of, body: body }));
      }}
    />
  );
}

/** How water leaves the road at the current section. */
function Water({ along, index }: { along: Schemas["CrossfallsOut"]; index: number }) {
  const at = (values: (number | null)[][], side: number) => values[side]?.[index] ?? null;
  if (at(along.resultant, 0) === null && at(along.resultant, 1) === null) return null;
  const row = (label: string, values: (number | null)[][], decimals: number, unit: string) =>
    [0, 1].map((side) => {
      const v = at(values, side);
      return [`${label}, ${side === 0 ? "left" : "right"}`, v === null ? "–" : v.toFixed(decimals), unit] as [string, string, string];
    });
  return (
    <section className="card" aria-label="Water">
      <div className="pairs">
        <Figures of={[...row("slope", along.resultant, 2, "%"), ...row("path", along.path, 1, "m"), ...row("film", along.film, 1, "mm")]} />
      </div>
      <p className="quiet" style={{ margin: "6px 0 0" }}>
        Steepest slope, way to the edge, and film at {along.rain_mm_h.toFixed(0)} mm/h of rain over {along.texture_mm} mm of texture.
      </p>
    </section>
  );
}

const valueOf = (name: "left_pct" | "right_pct", title: string, word: string): Column<RowOf> =>
  numbers<RowOf>({
    title,
    unit: "%",
    least: -20,
    most: 20,
    width: 62,
    of: (r) => r[name],
    put: (r, v) => ({ ...r, [name]: v }),
    label: (_, i) => `${word} of row ${i + 1}`,
  });

const CHAINAGE = chainageOf<RowOf>((i) => `of row ${i + 1}`);
const VALUES = [valueOf("left_pct", "Left %", "Left"), valueOf("right_pct", "Right %", "Right")];

function TableOf({
  rows,
  mayEdit,
  change,
  at,
  measured,
}: {
  rows: RowOf[];
  mayEdit: boolean;
  change: (t: Table) => void;
  at: number;
  measured: Schemas["CrossfallsOut"] | undefined;
}) {
  const columns = useMemo(() => {
    const old = [measured?.measured_left, measured?.measured_right].map((v) => between(measured?.chainage ?? [], v ?? []));
    const both = (r: RowOf) => old.map((o) => (o(r.chainage) === null ? "–" : signed(o(r.chainage)!, 1))).join(" ");
    return [CHAINAGE, ...VALUES, shown<RowOf>({ title: "measured", help: "Measured on the old road, left and right", width: 84, of: both })];
  }, [measured]);
  return (
    <div style={{ margin: "12px 0" }}>
      <AlongTable<RowOf>
        label="Adopted crossfalls"
        rows={rows}
        columns={columns}
        disabled={!mayEdit}
        change={(next) => change({ rows: next })}
        follows
        fresh={(chainage, all) => rowAt(all, chainage, measured)}
        empty="No rows yet: take the measured ones, or add a row."
        also={
          mayEdit && (
            <Button size="small" icon={<PlusOutlined />} onClick={() => change(withRow(rows, Number(at.toFixed(3)), measured))}>
              Row at {chainageText(at, 0)}
            </Button>
          )
        }
      />
    </div>
  );
}

function Files({ table, mayEdit, take }: { table: Table; mayEdit: boolean; take: (t: Table) => void }) {
  const of = useOfRoad();
  const { message } = App.useApp();
  return (
    <span style={{ display: "flex", gap: 6 }}>
      <Button size="small" disabled={table.rows.length === 0} href={fileOf(of, "files/crossfalls.csv")} download>
        Save as CSV
      </Button>
      {mayEdit && (
        <OpenFile
          label="Open a table"
          accept=".csv,.txt,.xlsx,.ods,.xls"
          take={async (file) => {
            const found = await sendFile<Table>(fileOf(of, "crossfalls/read"), file);
            take(found);
            void message.success(`${found.rows.length} rows read`);
          }}
        />
      )}
    </span>
  );
}
