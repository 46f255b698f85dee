/** What a drawing shows, how its style looks, and what the title block says. */
import { Button, Segmented, Select } from "antd";
import { DEFAULTS } from "../../api/defaults";
import { type DocumentOf, useDocument, useDocuments, useDocumentsOf, useMayEdit, useRoads } from "../../api/hooks";
import { freshKey, likeIt, useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { CellTable } from "../../common/cells/CellTable";
import { chainages, choices, numbers } from "../../common/cells/columns";
import { CheckRow, NumberRow, SelectRow, TextRow } from "../../common/fields";
import { Inspector, Row } from "../../common/Inspector";
import { Remove } from "../../common/Remove";
import { usePlace } from "../../base/place";
import { readChainages } from "./chainages";
import { type DrawingDoc, wrongFields } from "./drawings";
import { Logo } from "./Logo";
import { RangeRows } from "./RangeRows";
import { SCALES, StyleForm } from "./StyleForm";

type Inset = DrawingDoc["spec"]["insets"][number];
const millimetres = (title: string, field: "x" | "y" | "width" | "height", least: number) =>
  numbers<Inset>({
    title,
    width: 54,
    unit: "",
    least,
    most: 1200,
    of: (r) => r[field],
    put: (r, v) => ({ ...r, [field]: v }),
    label: (_, i) => `${title} of inset ${i + 1}`,
  });
const INSETS = [
  numbers<Inset>({
    title: "Sheet",
    width: 48,
    unit: "",
    least: 1,
    most: 10_000,
    of: (r) => r.sheet,
    put: (r, v) => ({ ...r, sheet: Math.round(v) }),
    label: (_, i) => `Sheet of inset ${i + 1}`,
  }),
  chainages<Inset>({ of: (r) => r.chainage, put: (r, chainage) => ({ ...r, chainage }), label: (_, i) => `Chainage of inset ${i + 1}` }),
  millimetres("x", "x", 0),
  millimetres("y", "y", 0),
  millimetres("Width", "width", 30),
  millimetres("Height", "height", 20),
  choices<Inset, string>({
    title: "Scale",
    width: 80,
    options: [{ value: "", label: "fitted" }, ...SCALES.map((s) => ({ value: String(s.value), label: s.label }))],
    of: (r) => (r.scale ? String(r.scale) : ""),
    put: (r, v) => ({ ...r, scale: v === "" ? null : (Number(v) as Inset["scale"]) }),
    label: (_, i) => `Scale of inset ${i + 1}`,
  }),
];
const TABS = ["Content", "Style", "Title block"] as const;

export type Tab = (typeof TABS)[number];

export function DrawingInspector({ drawing, tab, setTab }: { drawing: DrawingDoc; tab: Tab; setTab: (tab: Tab) => void }) {
  return (
    <Inspector title={`Drawing ${drawing.spec.number}`}>
      <Segmented block size="small" aria-label="Part of the drawing" options={[...TABS]} value={tab} onChange={setTab} style={{ marginBottom: 10 }} />
      {tab === "Content" ? <Content drawing={drawing} /> : tab === "Style" ? <StyleTab drawing={drawing} /> : <TitleBlockForm />}
    </Inspector>
  );
}

function Content({ drawing }: { drawing: DrawingDoc }) {
  const { spec, change } = useDraft("drawing", drawing.key, drawing);
  const styles = useDocumentsOf("drawing_style");
  const templates = useDocumentsOf("template");
  const roads = useRoads();
  const groups = (useDocuments().data?.documents ?? []).filter(
    (d): d is DocumentOf<"section_lines"> => d.kind === "section_lines" && d.spec.road === spec?.road,
  );
  const place = usePlace();
  const mayEdit = useMayEdit();
  const disabled = !mayEdit;
  if (!spec) return null;
  const set = (fields: Partial<typeof spec>) => change({ ...spec, ...fields });
  const kind = styles.find((s) => s.key === spec.style)?.spec.sheets.kind;
  const along = kind === "sections" || kind === "long" || kind === "plan";
  return (
    <>
      <TextRow label="Title" needed most={120} wrong={wrongFields} value={spec.name} disabled={disabled} onChange={(name) => set({ name })} />
      <TextRow label="Number" needed most={40} value={spec.number} disabled={disabled} onChange={(number) => set({ number })} />
      <SelectRow
        label="Drawing style"
        value={spec.style}
        disabled={disabled}
        options={styles.map((s) => ({ value: s.key, label: s.spec.name }))}
        onChange={(style) => set({ style })}
      />
      {roads.length > 1 && (
        <SelectRow
          label="Road"
          value={spec.road}
          disabled={disabled}
          options={roads.map((r) => ({ value: r.key, label: r.spec.name }))}
          onChange={(road) => set({ road, lines: null })}
        />
      )}
      <NumberRow
        label="Place in the register"
        unit=""
        least={0}
        most={10_000}
        value={spec.place}
        disabled={disabled}
        onChange={(v) => set({ place: Math.round(v) })}
      />
      {along && (
        <>
          <h3 style={{ margin: "12px 0 4px" }}>Along the road</h3>
          <RangeRows spec={spec} set={set} disabled={disabled} />
        </>
      )}
      {kind === "sections" && (
        <>
          <SelectRow
            label="Sections"
            value={spec.lines ?? ""}
            disabled={disabled}
            options={[{ value: "", label: "of the design" }, ...groups.map((g) => ({ value: g.key, label: `lines “${g.spec.name}”` }))]}
            onChange={(lines) => set({ lines: lines || null })}
          />
          <NumberRow
            label="One section in"
            unit=""
            least={1}
            most={1000}
            value={spec.every}
            disabled={disabled}
            onChange={(v) => set({ every: Math.round(v) })}
          />
          <TextRow
            label="Only at"
            most={4000}
            value={readChainages.written(spec.chainages)}
            wrong={readChainages.wrong}
            disabled={disabled}
            onChange={(text) => set({ chainages: readChainages.read(text) })}
          />
          <CheckRow label="Also where nothing is done" value={spec.untreated} disabled={disabled} onChange={(untreated) => set({ untreated })} />
        </>
      )}
      {kind === "typical" && (
        <Row label="Templates">
          <Select
            size="small"
            mode="multiple"
            aria-label="Templates"
            placeholder="all in use"
            disabled={disabled}
            value={spec.templates}
            options={templates.map((t) => ({ value: t.key, label: t.spec.name }))}
            onChange={(chosen) => set({ templates: chosen })}
          />
        </Row>
      )}
      <h3 style={{ margin: "12px 0 4px" }}>Insets</h3>
      <p className="quiet">A section set into a sheet, mm from the lower left of the room for the drawing.</p>
      <CellTable<Inset>
        label="Insets"
        rows={spec.insets}
        columns={INSETS}
        change={(insets) => set({ insets })}
        disabled={disabled}
        fresh={() => ({ ...DEFAULTS.Inset, chainage: place.chainage, scale: null })}
      />
      {mayEdit && (
        <div style={{ marginTop: 14 }}>
          <Remove document={drawing} label="Remove the drawing" onRemoved={() => place.select(null)} />
        </div>
      )}
    </>
  );
}

function StyleTab({ drawing }: { drawing: DrawingDoc }) {
  const saved = useDocumentsOf("drawing_style").find((d) => d.key === drawing.spec.style);
  const { spec, change } = useDraft("drawing_style", drawing.spec.style, saved);
  const used = useDocuments().data?.used[`drawing_style ${drawing.spec.style}`] ?? [];
  const mayEdit = useMayEdit();
  const save = useSave();
  if (!spec || !saved) return null;
  const another = async () => {
    const key = freshKey("drawing_style");
    if ((await save(likeIt(saved, key, `${spec.name}, copy`))) === null) return;
    await save({ kind: "drawing", key: drawing.key, version: drawing.version, spec: { ...drawing.spec, style: key } });
  };
  return (
    <>
      <TextRow label="Name" needed most={80} value={spec.name} disabled={!mayEdit} onChange={(name) => change({ ...spec, name })} />
      {used.length > 1 && (
        <p className="quiet">
          {used.length} drawings have this style.{" "}
          {mayEdit && (
            <Button size="small" onClick={() => void another()}>
              Give this one its own
            </Button>
          )}
        </p>
      )}
      <StyleForm spec={spec} change={change} disabled={!mayEdit} />
    </>
  );
}

function TitleBlockForm() {
  const saved = useDocument("title_block");
  const { spec, change } = useDraft("title_block", "main", saved);
  const disabled = !useMayEdit();
  if (!spec) return null;
  const text = (label: string, field: Exclude<keyof typeof spec, "notes" | "logo">, most: number) => (
    <TextRow
      label={label}
      most={most}
      needed={field === "numbering" || field === "files"}
      wrong={field === "numbering" || field === "files" ? wrongFields : undefined}
      value={spec[field]}
      disabled={disabled}
      onChange={(v) => change({ ...spec, [field]: v })}
    />
  );
  return (
    <>
      <p className="quiet">The same on all drawings of the project.</p>
      <Logo value={spec.logo} disabled={disabled} onChange={(logo) => change({ ...spec, logo })} />
      {text("Owner", "owner", 80)}
      {text("Client", "client", 80)}
      {text("Project", "project", 120)}
      {text("Contract", "contract", 40)}
      {text("Drawn by", "drawn", 60)}
      {text("Checked by", "checked", 60)}
      {text("Approved by", "approved", 60)}
      {text("Coordinates", "coordinates", 60)}
      {text("Level datum", "levels", 60)}
      {text("Sheet numbers", "numbering", 120)}
      {text("File names", "files", 120)}
      <TextRow label="Notes" most={600} rows={3} value={spec.notes} disabled={disabled} onChange={(notes) => change({ ...spec, notes })} />
    </>
  );
}
