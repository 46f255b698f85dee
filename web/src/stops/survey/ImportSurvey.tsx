/** Import in three steps: choose a file, say which column is what (of a CSV), read what was found and confirm. */
import { useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Checkbox, Input, Progress, Segmented, Select, Steps, Upload } from "antd";
import { useState } from "react";
import { api, dataOf, sendFile, type Schemas, lineOf } from "../../api/client";
import { letRunOn } from "../../api/background";
import { useDocumentsOf, useProjectId } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { freshKey, useSave } from "../../api/save";
import { useSurvey } from "../../plan/hooks";
import { FieldCodes } from "./FieldCodes";
import { ImportFound, type Report, type Taking } from "./ImportFound";
import { Rulers } from "./Rulers";
import { Thin, type Thinning } from "./Thin";
import { asRead, DRAWING_UNITS, type DrawingMapping, type Drawn, Layers } from "./Layers";
import { type Doubt, type Other, PlacingDoubts, readingDoubt } from "./Placing";
import { choicesOf } from "../../common/words";
import { Dialog } from "../../common/Dialog";
import { NumberField } from "../../common/NumberField";

type Uploaded = Schemas["UploadOut"];
type Unit = Schemas["ColumnMapping"]["unit"];
type Mapping = Schemas["ColumnMapping"];
const FIELDS: [string, string, boolean][] = [
  ["number", "Number", false],
  ["east", "Easting", true],
  ["north", "Northing", true],
  ["level", "Level", true],
  ["code", "Code", false],
  ["line", "Line", false],
  ["order", "Order", false],
];
const DELIMITERS = [",", ";", "\t", " ", "|"];
const NAMES: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", " ": "space", "|": "bar" };
/** Stands in the list of delimiters for columns that begin at fixed places. */
const WIDTHS = "widths";
/** The first rows taken apart anew: by a delimiter, behind so many lines, or where columns begin, guessed where none are given. */
type Divide = (delimiter: string, skip?: number, breaks?: number[]) => Promise<void>;
const { metre, foot, us_survey_foot } = DRAWING_UNITS;
const UNITS: Record<Unit, string> = { metre, foot, us_survey_foot };
const LIMIT_MB = 80;
/** How LandXML and DXF are read against what they say. */
type Reading = { swapped: boolean; unit: Unit | null };
const AS_SAID: Reading = { swapped: false, unit: null };
const MIDDLE: Record<Uploaded["format"], string | null> = {
  csv: "Columns",
  dxf: "Layers",
  landxml: null,
  geojson: null,
  geopackage: null,
  grid: null,
  geotiff: null,
  cloud: null,
};
const stepsOf = (file: Uploaded | null) => ["File", MIDDLE[file?.format ?? "csv"], "What was found"].flatMap((title) => (title ? [{ title }] : []));

export function ImportSurvey({ onClose }: { onClose: () => void }) {
  const project = useProjectId();
  const client = useQueryClient();
  const before = useSurvey().data !== undefined;
  const [file, setFile] = useState<Uploaded | null>(null);
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const [fromCodes, setFromCodes] = useState(false);
  const [taking, setTaking] = useState<Taking>({ rules: [], longest: 60, surfaces: [], alignments: [], mode: "replace" });
  const [report, setReport] = useState<Report | null>(null);
  /** Of a DXF, what was found on its layers, and how it is to be read. */
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [drawing, setDrawing] = useState<DrawingMapping | null>(null);
  const [reading, setReading] = useState<Reading>(AS_SAID);
  const [sure, setSure] = useState<Doubt[]>([]);
  const [thinning, setThinning] = useState<Thinning>({ square: 0.5, keep: "lowest" });
  const [error, setError] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const fail = (e: unknown) => setError(lineOf(e));
  const checking = useJob({
    kind: "check_survey",
    done: (found) => {
      if (found.drawing && drawn === null) {
        setDrawn(found.drawing);
        setDrawing(asRead(found.drawing));
      } else setReport(found);
      const mode = found.only_background ? "background" : taking.mode;
      setTaking((old) => ({ ...old, mode, rules: found.rules, surfaces: found.surfaces.map((_, i) => i), alignments: found.alignments.map((_, i) => i) }));
    },
    failed: setError,
  });
  const importing = useJob({
    kind: "import_survey",
    done: () => {
      void client.invalidateQueries({ queryKey: ["project", project] });
      onClose();
    },
    failed: setError,
  });
  const job = importing.running ? importing : checking;
  /** An import that is under way goes on without its dialog, and the header says when it is done. */
  const leave = () => {
    if (importing.id) letRunOn({ id: importing.id, words: `Import of ${file?.name ?? "a survey"}` });
    onClose();
  };
  const start = async (kind: "check" | "import", upload: Uploaded, columns: Mapping | null, as = { drawing, reading }) => {
    setError(null);
    const { rules, longest, surfaces, alignments, mode } = taking;
    const request = {
      params: { path: { project_id: project, upload_id: upload.id } },
      body: { mapping: columns, rules, longest_edge: longest, surfaces, alignments, mode, drawing: as.drawing, ...as.reading, thinning, sure },
    };
    try {
      (kind === "check" ? checking : importing).follow(
        dataOf(
          kind === "check"
            ? await api.POST("/api/projects/{project_id}/uploads/{upload_id}/check", request)
            : await api.POST("/api/projects/{project_id}/uploads/{upload_id}/import", request),
        ),
      );
    } catch (e) {
      fail(e);
    }
  };
  const take = (taken: Uploaded) => {
    setFile(taken);
    const { delimiter, decimal, unit, header, skip, breaks, columns } = taken;
    setMapping((old) => (taken.format === "csv" ? ({ delimiter, decimal, unit: old?.unit ?? unit, header, skip, breaks, ...columns } as Mapping) : null));
    // A file without a column for lines says them by its codes.
    setFromCodes(columns.code != null && columns.line == null);
  };
  const upload = async (chosen: File) => {
    setError(null);
    if (chosen.size > LIMIT_MB * 1024 * 1024)
      return setError(`The file is ${(chosen.size / 1024 / 1024).toFixed(0)} MB; at most ${LIMIT_MB} MB are taken. Split the survey.`);
    setBusy(true);
    try {
      const taken = await sendFile<Uploaded>(`/api/projects/${project}/uploads`, chosen);
      take(taken);
      if (taken.format !== "csv") await start("check", taken, null);
    } catch (e) {
      fail(e);
    } finally {
      setBusy(false);
    }
  };
  const divide: Divide = async (delimiter, skip, breaks) => {
    try {
      take(
        dataOf(
          await api.GET("/api/projects/{project_id}/uploads/{upload_id}", {
            params: { path: { project_id: project, upload_id: file!.id }, query: { delimiter, skip, widths: breaks && (breaks.join(",") || "0") } },
          }),
        ),
      );
    } catch (e) {
      fail(e);
    }
  };
  /** The file read once more in the way that fits what is there: its columns exchanged, or its coordinates. */
  const readAs = async (other: Other) => {
    setSure([]);
    if (mapping) {
      const columns = { ...mapping, unit: other.unit, ...(other.swapped ? { east: mapping.north, north: mapping.east } : {}) };
      setMapping(columns);
      return start("check", file!, columns);
    }
    const as = {
      drawing: drawing && { ...drawing, unit: other.unit },
      reading: { swapped: reading.swapped !== other.swapped, unit: drawing ? null : other.unit },
    };
    setDrawing(as.drawing);
    setReading(as.reading);
    await start("check", file!, null, as);
  };
  const back = () => {
    setError(null);
    setSure([]);
    setTaking((old) => ({ ...old, rules: [] }));
    if (report && file && MIDDLE[file.format]) return setReport(null);
    setReport(null);
    setFile(null);
    setTaking((old) => ({ ...old, mode: "replace" }));
    setDrawn(null);
    setDrawing(null);
    setReading(AS_SAID);
  };
  // Until the codes are taken apart nobody knows which lines would come of them.
  const apart = !fromCodes || mapping?.code == null || mapping.grammar != null;
  const complete = file?.format !== "csv" || (apart && FIELDS.every(([f, , needed]) => !needed || (mapping as Record<string, unknown> | null)?.[f] != null));
  const step = report ? 2 : file && (file.format === "csv" || drawn) ? 1 : 0;
  const doubt = report && readingDoubt(report.placing);
  /** Until it is known how the coordinates are read, the rest means nothing. */
  const unread = doubt && !sure.includes(doubt.kind);
  const asked = report?.placing.doubts.some((d) => !sure.includes(d.kind));
  const nothing = report && report.points === 0 && taking.surfaces.length === 0 && taking.alignments.length === 0;
  return (
    <Dialog
      open
      title="Import a survey"
      saves={job.running}
      width={880}
      style={{ top: 32 }}
      onCancel={leave}
      footer={[
        job.running && (
          <Button key="cancel" onClick={job.stop}>
            Stop
          </Button>
        ),
        step > 0 && !job.running && (
          <Button key="back" onClick={back}>
            Back
          </Button>
        ),
        step === 1 && (
          <Button key="check" type="primary" disabled={!complete || job.running} onClick={() => void start("check", file!, mapping)}>
            Check the file
          </Button>
        ),
        step === 2 && (
          <Button key="import" type="primary" disabled={job.running || Boolean(nothing) || asked} onClick={() => void start("import", file!, mapping)}>
            {report!.points ? `Import ${report!.points.toLocaleString("en")} points` : "Import what is chosen"}
          </Button>
        ),
      ]}
    >
      <Steps size="small" current={file && !MIDDLE[file.format] && step === 2 ? 1 : step} items={stepsOf(file)} style={{ margin: "8px 0 16px" }} />
      {error && <Alert type="error" showIcon title={error} style={{ marginBottom: 12 }} />}
      {job.running && <Progress percent={job.progress} status="active" aria-label="Progress" />}
      {step === 0 && (
        <Upload.Dragger
          accept=".csv,.txt,.asc,.xlsx,.ods,.xls,.xml,.landxml,.dxf,.json,.geojson,.gpkg,.las,.laz,.tif,.tiff"
          showUploadList={false}
          disabled={busy || job.running}
          beforeUpload={(f) => {
            void upload(f);
            return false;
          }}
        >
          <p>Drop a file here, or click to choose one</p>
          <p className="quiet">
            CSV or a workbook (XLSX, ODS) with one point a row, LandXML, DXF by layers, GeoJSON or GeoPackage, a grid of levels (text or GeoTIFF), or a point
            cloud (LAS, LAZ). Up to {LIMIT_MB} MB.
          </p>
        </Upload.Dragger>
      )}
      {step === 1 && file && mapping && (
        <Columns file={file} mapping={mapping} onChange={setMapping} onDivide={divide} fromCodes={fromCodes} setFromCodes={setFromCodes} />
      )}
      {step === 1 && drawn && drawing && <Layers drawn={drawn} mapping={drawing} onChange={setDrawing} />}
      {step === 2 && report && (
        <PlacingDoubts placing={report.placing} sketch={report.sketch} sure={sure} setSure={setSure} read={(other) => void readAs(other)} />
      )}
      {step === 2 && file?.format === "cloud" && (
        <Thin thinning={thinning} set={setThinning} busy={job.running} again={() => void start("check", file, null)} />
      )}
      {step === 2 && report && !unread && <ImportFound report={report} before={before} taking={taking} set={(fields) => setTaking({ ...taking, ...fields })} />}
    </Dialog>
  );
}

function Columns({
  file,
  mapping,
  onChange,
  onDivide,
  fromCodes,
  setFromCodes,
}: {
  file: Uploaded;
  mapping: Mapping;
  onChange: (m: Mapping) => void;
  onDivide: Divide;
  fromCodes: boolean;
  setFromCodes: (yes: boolean) => void;
}) {
  const saved = useDocumentsOf("mapping");
  const save = useSave();
  const [name, setName] = useState("");
  const columns = mapping as unknown as Record<string, number | null>;
  const fixed = mapping.breaks.length > 0;
  const keep = async () => {
    if ((await save({ kind: "mapping", key: freshKey("mapping"), version: 0, spec: { name: name.trim(), mapping } })) !== null) setName("");
  };
  return (
    <>
      <div style={{ display: "flex", gap: 8, alignItems: "center", flexWrap: "wrap", marginBottom: 10 }}>
        <span className="quiet">Between columns</span>
        <Select
          size="small"
          style={{ width: 110 }}
          aria-label="Delimiter"
          value={fixed ? WIDTHS : mapping.delimiter}
          options={[...DELIMITERS.map((d) => ({ value: d, label: NAMES[d] })), { value: WIDTHS, label: "fixed widths" }]}
          onChange={(d) => (d === WIDTHS ? onDivide(mapping.delimiter, mapping.skip, []) : onDivide(d))}
        />
        <span className="quiet">decimal sign</span>
        <Select<"." | ",">
          size="small"
          style={{ width: 92 }}
          aria-label="Decimal sign"
          value={mapping.decimal}
          options={[
            { value: ".", label: "point" },
            { value: ",", label: "comma" },
          ]}
          onChange={(decimal) => onChange({ ...mapping, decimal })}
        />
        <span className="quiet">in</span>
        <Select<Unit>
          size="small"
          style={{ width: 128 }}
          aria-label="Unit of the file"
          value={mapping.unit}
          options={choicesOf(UNITS)}
          onChange={(unit) => onChange({ ...mapping, unit })}
        />
        <span style={{ flex: 1 }} />
        {saved.length > 0 && (
          <Select<string | null>
            size="small"
            style={{ width: 170 }}
            aria-label="Saved mapping"
            placeholder="Use a saved mapping"
            value={null}
            options={saved.map((d) => ({ value: d.key, label: d.spec.name }))}
            onChange={(key) => {
              const kept = saved.find((d) => d.key === key)!.spec.mapping;
              // The rows are divided as it says before its columns are named.
              void onDivide(kept.delimiter, kept.skip, kept.breaks.length > 0 ? kept.breaks : undefined).then(() => {
                setFromCodes(kept.grammar != null);
                onChange(kept);
              });
            }}
          />
        )}
      </div>
      <div style={{ display: "flex", gap: 14, alignItems: "center", marginBottom: 8 }}>
        <Checkbox checked={mapping.header} onChange={(e) => onChange({ ...mapping, header: e.target.checked })}>
          The first row holds headings
        </Checkbox>
        <span className="quiet">Lines before it</span>
        <NumberField
          label="Lines before it"
          unit=""
          least={0}
          most={1000}
          width={64}
          value={mapping.skip}
          onChange={(n) => onDivide(mapping.delimiter, Math.round(n), fixed ? mapping.breaks : undefined)}
        />
        <span style={{ flex: 1 }} />
        <Input
          size="small"
          style={{ width: 150 }}
          aria-label="Name for this mapping"
          placeholder="Keep as"
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" disabled={!name.trim()} onClick={() => void keep()}>
          Keep mapping
        </Button>
      </div>
      {fixed && <Rulers lines={file.lines} breaks={mapping.breaks} onChange={(breaks) => onDivide(mapping.delimiter, mapping.skip, breaks)} />}
      <div style={{ display: "grid", gridTemplateColumns: "repeat(7, 1fr)", gap: 8, marginBottom: 12 }}>
        {FIELDS.map(([field, title, needed]) => (
          <label key={field}>
            <span className="quiet">
              {title}
              {needed ? "" : " (if any)"}
            </span>
            <Select
              size="small"
              style={{ width: "100%" }}
              aria-label={title}
              status={needed && columns[field] == null ? "error" : undefined}
              value={columns[field] ?? -1}
              options={[
                ...(needed ? [] : [{ value: -1, label: "none" }]),
                ...(file.rows[0] ?? []).map((cell, i) => ({ value: i, label: mapping.header ? cell : `column ${i + 1}` })),
                ...(needed && columns[field] == null ? [{ value: -1, label: "choose" }] : []),
              ]}
              onChange={(v: number) => onChange({ ...mapping, [field]: v < 0 ? null : v })}
            />
          </label>
        ))}
      </div>
      {mapping.code != null && (
        <Segmented<"column" | "codes">
          size="small"
          aria-label="Lines come from"
          style={{ marginBottom: 10 }}
          value={fromCodes ? "codes" : "column"}
          options={[
            { value: "column", label: "Lines by a column" },
            { value: "codes", label: "Lines from the codes" },
          ]}
          onChange={(by) => {
            setFromCodes(by === "codes");
            onChange({ ...mapping, grammar: null });
          }}
        />
      )}
      {fromCodes && mapping.code != null && <FieldCodes upload={file.id} mapping={mapping} onChange={(grammar) => onChange({ ...mapping, grammar })} />}
      <div tabIndex={0} style={{ overflow: "auto", maxHeight: 230, display: fromCodes ? "none" : undefined }}>
        <table className="grid-table mono" aria-label="First rows">
          <tbody>
            {file.rows.map((row, i) => (
              <tr key={i}>{row.map((cell, j) => (i === 0 && mapping.header ? <th key={j}>{cell}</th> : <td key={j}>{cell}</td>))}</tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
