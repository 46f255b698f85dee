/** Reports: the table of a layout as the road is now, into a spreadsheet or a file, and what it is made of. */
import { Button, Dropdown } from "antd";
import { type KeyboardEvent, type ReactNode, useMemo, useState } from "react";
import { api, dataOf, fileOf, type Schemas } from "../../api/client";
import { DEFAULTS } from "../../api/defaults";
import { type DocumentOf, useDocumentsOf, useMayEdit, useModel, useOfRoad } from "../../api/hooks";
import { freshKey, useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { usePlace } from "../../base/place";
import { CellTable } from "../../common/cells/CellTable";
import { choices, numbers, numbersOrNone, words } from "../../common/cells/columns";
import { CopyRows, useCopy } from "../../common/CopyRows";
import { CheckRow, TextRow } from "../../common/fields";
import { Inspector } from "../../common/Inspector";
import { Remove } from "../../common/Remove";
import { choicesOf } from "../../common/words";
import { RangeRows } from "./RangeRows";

type ReportDoc = DocumentOf<"report">;
type Layout = ReportDoc["spec"];
type Column = Layout["columns"][number];
type PayItem = Layout["pay_items"][number];
type Table = Schemas["ReportOut"];

const OF = choicesOf<Layout["of"]>({
  treatments: "a treatment and its items",
  materials: "a material",
  pay_items: "an item of the bill",
  sections: "a section",
  points: "a template point on a section",
});
/** Rows drawn at once: the file, and what is copied, hold all. */
const MOST = 1500;

export default function ReportsPage({ pages, report }: { pages: ReactNode; report: string | null }) {
  const reports = useDocumentsOf("report");
  const of = useOfRoad();
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const chosen = reports.find((r) => r.key === report) ?? reports[0];
  const table = useModel(
    "report",
    async (of) => dataOf(await api.GET("/api/projects/{project_id}/reports/{key}", { params: { path: { ...of.path, key: chosen!.key }, query: of.query } })),
    [chosen?.key],
    chosen !== undefined,
  ).data;
  const add = async (spec: Layout) => {
    const key = freshKey("report");
    if ((await save({ kind: "report", key, version: 0, spec })) !== null) place.select(`report:${key}`);
  };
  const fresh = (of: Layout["of"]): Layout => {
    const like = reports.find((r) => r.spec.of === of)?.spec;
    return like
      ? { ...like, name: `${like.name}, copy` }
      : { ...DEFAULTS.ReportLayout, of, columns: FIRST[of].map((field) => ({ field, heading: "", decimals: null })) };
  };
  const file = (ending: string) => fileOf(of, `files/reports/${chosen?.key}.${ending}`);
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          {pages}
          <span style={{ flex: 1 }} />
          {table && <CopyRows head={table.heads.map((h) => h.title)} rows={table.rows} />}
          {chosen && (
            <>
              <Button size="small" href={file("xlsx")} download>
                Save as XLSX
              </Button>
              <Button size="small" href={file("csv")} download>
                Save as CSV
              </Button>
            </>
          )}
        </div>
        <div className="fill" style={{ display: "flex", minHeight: 0 }}>
          <nav className="side-list" aria-label="Reports" style={{ width: 190, overflow: "auto" }}>
            {reports.map((r) => (
              <button key={r.key} type="button" className="list-item" aria-pressed={r.key === chosen?.key} onClick={() => place.select(`report:${r.key}`)}>
                {r.spec.name}
              </button>
            ))}
            {mayEdit && (
              <div style={{ padding: 10 }}>
                <Dropdown
                  trigger={["click"]}
                  autoFocus
                  menu={{ items: OF.map((o) => ({ key: o.value, label: `A row for ${o.label}` })), onClick: ({ key }) => void add(fresh(key as Layout["of"])) }}
                >
                  <Button size="small">Add a report</Button>
                </Dropdown>
              </div>
            )}
          </nav>
          {table ? <Shown key={chosen?.key} table={table} /> : <div className="fill" />}
        </div>
      </div>
      {chosen ? (
        <ReportInspector key={chosen.key} report={chosen} fields={table?.fields ?? {}} />
      ) : (
        <Inspector title="Report">
          <p className="quiet">Choose a report, or add one.</p>
        </Inspector>
      )}
    </>
  );
}

/** Columns that a new report begins with. */
const FIRST: Record<Layout["of"], string[]> = {
  treatments: ["treatment", "from", "to", "item", "material", "volume", "mass"],
  materials: ["material", "volume", "mass"],
  pay_items: ["number", "item", "material", "unit", "quantity", "rate", "amount"],
  sections: ["chainage", "existing", "design", "least", "greatest"],
  points: ["chainage", "point", "offset", "level"],
};

/** The table. Ctrl+A chooses all of it, Ctrl+C takes what is chosen to a spreadsheet. */
function Shown({ table }: { table: Table }) {
  const copy = useCopy();
  const [all, setAll] = useState(false);
  const strong = new Set(table.strong);
  const shown = table.rows.length > MOST ? table.rows.slice(0, MOST) : table.rows;
  const keys = (e: KeyboardEvent) => {
    const letter = e.ctrlKey || e.metaKey ? e.key.toLowerCase() : "";
    if (letter === "a") setAll(true);
    else if (letter === "c" && all) void copy([table.heads.map((h) => h.title), ...table.rows].map((r) => r.join("\t")).join("\n"), table.rows.length);
    else {
      if (e.key === "Escape") setAll(false);
      return;
    }
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <div className="scroll" role="group" aria-label="Report" tabIndex={0} style={{ flex: 1 }} onKeyDown={keys} onPointerDown={() => setAll(false)}>
      {table.note && <p className="quiet">{table.note}</p>}
      <table className={all ? "grid-table report all-chosen" : "grid-table report"} aria-label={table.name}>
        <thead>
          <tr>
            {table.heads.map((h, i) => (
              <th key={i} className={h.figure ? "num" : undefined} style={{ whiteSpace: "normal", verticalAlign: "bottom" }}>
                {h.title.replace("m2", "m²").replace("m3", "m³")}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((row, i) => (
            <tr key={i} style={strong.has(i) ? { fontWeight: 650 } : undefined}>
              {row.map((cell, j) => (
                <td key={j} className={table.heads[j]!.figure ? "num" : undefined}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {table.rows.length === 0 && <p className="empty">There is nothing to list: nothing of this kind is built, or the range and the items leave all out.</p>}
      {table.rows.length > MOST && (
        <p className="quiet">
          The first {MOST} of {table.rows.length} rows. The files, and what is copied, hold all.
        </p>
      )}
    </div>
  );
}

const UNITS = choicesOf<PayItem["unit"]>({ m3: "m³", t: "t", m: "m", m2: "m²", piece: "pieces" });
const PAY = [
  words<PayItem>({ title: "Item", width: 110, most: 80, of: (p) => p.item, put: (p, item) => ({ ...p, item }), label: (_, i) => `Item ${i + 1}` }),
  words<PayItem>({
    title: "Number",
    width: 70,
    most: 40,
    of: (p) => p.number,
    put: (p, number) => ({ ...p, number }),
    label: (_, i) => `Number of item ${i + 1}`,
  }),
  choices<PayItem, PayItem["unit"]>({
    title: "Unit",
    width: 54,
    options: UNITS,
    of: (p) => p.unit,
    put: (p, unit) => ({ ...p, unit }),
    label: (_, i) => `Unit of item ${i + 1}`,
  }),
  numbers<PayItem>({
    title: "Rate",
    width: 66,
    unit: "",
    least: 0,
    most: 1e7,
    of: (p) => p.rate,
    put: (p, rate) => ({ ...p, rate }),
    label: (_, i) => `Rate of item ${i + 1}`,
  }),
];

function ReportInspector({ report, fields }: { report: ReportDoc; fields: Record<string, string> }) {
  const { spec, change } = useDraft("report", report.key, report);
  const place = usePlace();
  const disabled = !useMayEdit();
  const columns = useMemo(() => {
    const options = Object.entries(fields).map(([value, label]) => ({ value, label }));
    return [
      choices<Column, string>({
        title: "Column",
        width: 130,
        options,
        of: (c) => c.field,
        put: (c, field) => ({ ...c, field }),
        label: (_, i) => `Column ${i + 1}`,
      }),
      words<Column>({
        title: "Heading",
        width: 90,
        most: 60,
        of: (c) => c.heading,
        put: (c, heading) => ({ ...c, heading }),
        label: (_, i) => `Heading ${i + 1}`,
      }),
      numbersOrNone<Column>({
        title: "Decimals",
        width: 62,
        unit: "",
        least: 0,
        most: 6,
        none: "usual",
        of: (c) => c.decimals ?? null,
        put: (c, v) => ({ ...c, decimals: v === null ? null : Math.round(v) }),
        label: (_, i) => `Decimals ${i + 1}`,
      }),
    ];
  }, [fields]);
  if (!spec) return null;
  const set = (more: Partial<Layout>) => change({ ...spec, ...more });
  const list = (text: string) =>
    text
      .split(";")
      .map((t) => t.trim())
      .filter((t) => t !== "");
  const quantities = spec.of === "treatments" || spec.of === "materials" || spec.of === "pay_items";
  return (
    <Inspector title="Report">
      <TextRow label="Name" needed most={80} value={spec.name} disabled={disabled} onChange={(name) => set({ name })} />
      <p className="quiet">A row for {OF.find((o) => o.value === spec.of)?.label}.</p>
      <RangeRows spec={spec} set={set} disabled={disabled} />
      {quantities && <CheckRow label="Totals" value={spec.totals} disabled={disabled} onChange={(totals) => set({ totals })} />}
      {quantities && (
        <TextRow label="Only the items" most={4000} value={spec.items.join("; ")} disabled={disabled} onChange={(text) => set({ items: list(text) })} />
      )}
      {spec.of === "points" && (
        <TextRow label="Only the points" most={4000} value={spec.points.join("; ")} disabled={disabled} onChange={(text) => set({ points: list(text) })} />
      )}
      <h3 style={{ margin: "12px 0 4px" }}>Columns</h3>
      <CellTable<Column>
        label="Columns"
        rows={spec.columns}
        columns={columns}
        change={(next) => set({ columns: next })}
        disabled={disabled}
        movable
        least={1}
        fresh={() => ({ field: Object.keys(fields)[0]!, heading: "", decimals: null })}
      />
      {spec.of === "pay_items" && (
        <>
          <h3 style={{ margin: "12px 0 4px" }}>Pay items</h3>
          <CellTable<PayItem>
            label="Pay items"
            rows={spec.pay_items}
            columns={PAY}
            change={(next) => set({ pay_items: next })}
            disabled={disabled}
            movable
            fresh={() => ({ item: "Surface course", material: "", number: "", unit: "m3", rate: 0 })}
          />
        </>
      )}
      {!disabled && (
        <div style={{ marginTop: 14 }}>
          <Remove document={report} label="Remove the report" onRemoved={() => place.select("report")} />
        </div>
      )}
    </Inspector>
  );
}
