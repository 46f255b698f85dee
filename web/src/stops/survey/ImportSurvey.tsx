/** Import in three steps: choose a file, say which column is what (of a CSV), read what was found and confirm. */
import { useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Progress, Steps, Upload } from "antd";
import { useState } from "react";
import { api, dataOf, sendFile, lineOf } from "../../api/client";
import { letRunOn } from "../../api/background";
import { useProjectId } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { useSurvey } from "../../plan/hooks";
import { Columns, type Division, type Mapping, missing, type Uploaded } from "./Columns";
import { ImportFound, type Report, type Taking } from "./ImportFound";
import { Thin, type Thinning } from "./Thin";
import { asRead, type DrawingMapping, type Drawn, Layers } from "./Layers";
import { type Doubt, type Other, PlacingDoubts, readingDoubt } from "./Placing";
import { DEGREES } from "./SystemSelect";
import { Dialog } from "../../common/Dialog";

const LIMIT_MB = 80;
/** Endings of the kinds of file that are read; any text may hold a table of points. */
const KINDS = ".csv,.tsv,.txt,.asc,.dat,.pts,.pnt,.xyz,.prn,.xlsx,.ods,.xls,.xml,.landxml,.dxf,.json,.geojson,.gpkg,.zip,.kml,.kmz,.las,.laz,.tif,.tiff";
/** How LandXML and DXF are read against what they say. */
type Reading = { swapped: boolean; unit: Mapping["unit"] | null; none: number[] | null; system: string; into: string };
const AS_SAID: Reading = { swapped: false, unit: null, none: null, system: "", into: "" };
const MIDDLE: Record<Uploaded["format"], string | null> = {
  csv: "Columns",
  dxf: "Layers",
  landxml: null,
  geojson: null,
  geopackage: null,
  grid: null,
  geotiff: null,
  cloud: null,
  map: null,
};
const stepsOf = (file: Uploaded | null) => ["File", MIDDLE[file?.format ?? "csv"], "What was found"].flatMap((title) => (title ? [{ title }] : []));

/** The file, how it is to be read, and the jobs that check and import it */
function useSurveyFile({ onClose }: { onClose: () => void }) {
  const project = useProjectId();
  const client = useQueryClient();
  const before = useSurvey().data !== undefined;
  const [file, setFile] = useState<Uploaded | null>(null);
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const [fromCodes, setFromCodes] = useState(false);
  const [taking, setTaking] = useState<Taking>({ rules: [], longest: 60, surfaces: [], alignments: [], left: [], mode: "replace" });
  const [report, setReport] = useState<Report | null>(null);
  /** Of a DXF, what was found on its layers, and how it is to be read. */
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [drawing, setDrawing] = useState<DrawingMapping | null>(null);
  const [reading, setReading] = useState<Reading>(AS_SAID);
  const [sure, setSure] = useState<Doubt[]>([]);
  const [thinning, setThinning] = useState<Thinning>({ square: 0.5, keep: "lowest", doubtful: false });
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
    const { rules, longest, surfaces, alignments, left, mode } = taking;
    const request = {
      params: { path: { project_id: project, upload_id: upload.id } },
      body: {
        mapping: columns,
        rules,
        longest_edge: longest,
        surfaces,
        alignments,
        profiles_left: left,
        mode,
        drawing: as.drawing,
        ...as.reading,
        thinning,
        sure,
      },
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
  const take = (taken: Uploaded, sheet = "") => {
    setFile(taken);
    const { delimiter, decimal, unit, header, skip, breaks, encoding, along, columns } = taken;
    // Divided anew it is the same file, in the unit that was said for it.
    const same = file?.id === taken.id ? mapping?.unit : undefined;
    setMapping(
      taken.format === "csv" ? ({ delimiter, decimal, unit: same ?? unit, header, skip, breaks, encoding, along, sheet, ...columns } as Mapping) : null,
    );
    // A file without a column for lines says them by its codes.
    setFromCodes(along === "no" && columns.code != null && columns.line == null);
  };
  return {
    project,
    before,
    file,
    setFile,
    mapping,
    setMapping,
    fromCodes,
    setFromCodes,
    taking,
    setTaking,
    report,
    setReport,
    drawn,
    setDrawn,
    drawing,
    setDrawing,
    reading,
    setReading,
    sure,
    setSure,
    thinning,
    setThinning,
    error,
    setError,
    busy,
    setBusy,
    fail,
    job,
    leave,
    start,
    take,
  };
}

/** The steps of an import, and how the file is read once more in another way. */
function useImportSurvey(props: { onClose: () => void }) {
  const given = useSurveyFile(props);
  const {
    project,
    file,
    setFile,
    mapping,
    setMapping,
    fromCodes,
    taking,
    setTaking,
    report,
    setReport,
    drawn,
    setDrawn,
    drawing,
    setDrawing,
    reading,
    setReading,
    sure,
    setSure,
    setError,
    setBusy,
    fail,
    start,
    take,
  } = given;
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
  const divide = async ({ delimiter, skip, breaks, encoding, sheet }: Division) => {
    try {
      take(
        dataOf(
          await api.GET("/api/projects/{project_id}/uploads/{upload_id}", {
            params: {
              path: { project_id: project, upload_id: file!.id },
              query: { delimiter, skip, encoding, sheet, widths: breaks && (breaks.join(",") || "0") },
            },
          }),
        ),
        sheet,
      );
    } catch (e) {
      fail(e);
    }
  };
  /** The file read once more in the way that fits what is there: its columns exchanged, or its coordinates. */
  const readAs = async (other: Other) => {
    // Who says which axis is which has answered the question.
    setSure(other.swapped ? ["northing first"] : []);
    if (mapping) {
      const columns = { ...mapping, unit: other.unit, ...(other.swapped ? { east: mapping.north, north: mapping.east } : {}) };
      setMapping(columns);
      return start("check", file!, columns);
    }
    const as = {
      drawing: drawing && { ...drawing, unit: other.unit },
      reading: { ...reading, swapped: reading.swapped !== other.swapped, unit: drawing ? null : other.unit },
    };
    setDrawing(as.drawing);
    setReading(as.reading);
    await start("check", file!, null, as);
  };
  /** Points whose level seems to stand for none are left out, or taken after all. */
  const takeNone = async (none: number[] | null) => {
    if (mapping) {
      const columns = { ...mapping, none };
      setMapping(columns);
      return start("check", file!, columns);
    }
    const as = { drawing, reading: { ...reading, none } };
    setReading(as.reading);
    await start("check", file!, null, as);
  };
  /** The file's coordinates taken for those of another reference system, or into another one. */
  const placeIn = async (said: { system?: string; into?: string }) => {
    const as = { drawing, reading: { ...reading, ...said } };
    setReading(as.reading);
    await start("check", file!, mapping, as);
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
  const complete = file?.format !== "csv" || (apart && missing(mapping).length === 0);
  const step = report ? 2 : file && (file.format === "csv" || drawn) ? 1 : 0;
  const doubt = report && readingDoubt(report.placing);
  /** Until it is known how the coordinates are read, the rest means nothing. */
  const unread = doubt && !sure.includes(doubt.kind);
  const asked = report?.placing.doubts.some((d) => !sure.includes(d.kind));
  const nothing = report && report.points === 0 && taking.surfaces.length === 0 && taking.alignments.length === 0;
  return { ...given, upload, divide, readAs, takeNone, placeIn, back, complete, step, unread, asked, nothing };
}

export function ImportSurvey(props: { onClose: () => void }) {
  const {
    before,
    file,
    mapping,
    setMapping,
    fromCodes,
    setFromCodes,
    taking,
    setTaking,
    report,
    drawn,
    drawing,
    setDrawing,
    reading,
    sure,
    setSure,
    thinning,
    setThinning,
    error,
    busy,
    job,
    leave,
    start,
    upload,
    divide,
    readAs,
    takeNone,
    placeIn,
    back,
    complete,
    step,
    unread,
    asked,
    nothing,
  } = useImportSurvey(props);
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
          accept={KINDS}
          showUploadList={false}
          disabled={busy || job.running}
          beforeUpload={(f) => {
            void upload(f);
            return false;
          }}
        >
          <p>Drop a file here, or click to choose one</p>
          <p className="quiet">
            CSV or a workbook (XLSX, ODS) with one point a row, LandXML, DXF by layers, GeoJSON, GeoPackage, a Shapefile in a ZIP or KML, a grid of levels (text
            or GeoTIFF), or a point cloud (LAS, LAZ). Up to {LIMIT_MB} MB.
          </p>
        </Upload.Dragger>
      )}
      {step === 1 && file && mapping && (
        <Columns file={file} mapping={mapping} onChange={setMapping} onDivide={divide} fromCodes={fromCodes} setFromCodes={setFromCodes} />
      )}
      {step === 1 && drawn && drawing && <Layers drawn={drawn} mapping={drawing} onChange={setDrawing} />}
      {step === 2 && report && (
        <PlacingDoubts
          key={report.extent.join()}
          placing={report.placing}
          sketch={report.sketch}
          sure={sure}
          setSure={setSure}
          read={(other) => void readAs(other)}
          convert={() => void placeIn({ system: DEGREES })}
        />
      )}
      {step === 2 && file?.format === "cloud" && (
        <Thin thinning={thinning} set={setThinning} busy={job.running} again={() => void start("check", file, null)} />
      )}
      {step === 2 && report && !unread && (
        <ImportFound
          report={report}
          before={before}
          mapping={mapping}
          none={{ said: mapping ? (mapping.none ?? null) : reading.none, set: (none) => void takeNone(none) }}
          systems={{ file: reading.system, project: reading.into, set: (said) => void placeIn(said) }}
          taking={taking}
          set={(fields) => setTaking({ ...taking, ...fields })}
        />
      )}
    </Dialog>
  );
}
