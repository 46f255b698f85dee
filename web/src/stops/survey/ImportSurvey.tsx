/** Import in three steps: choose a file, say which column is what, read what was found and confirm. */
import { useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Checkbox, Modal, Progress, Select, Steps, Upload } from "antd";
import { useState } from "react";
import { api, csrfToken, dataOf, Failure, failureOf, type Schemas } from "../../api/client";
import { useProjectId } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { NumberField } from "../../common/NumberField";

type Uploaded = Schemas["UploadOut"];
type Mapping = Schemas["ColumnMapping"];
type Report = Omit<Schemas["SurveyReport"], "name">;
const FIELDS: [string, string, boolean][] = [
  ["number", "Number", true],
  ["east", "Easting", true],
  ["north", "Northing", true],
  ["level", "Level", true],
  ["code", "Code", false],
  ["line", "Line", false],
  ["order", "Order", false],
];
const LIMIT_MB = 80;

export function ImportSurvey({ onClose }: { onClose: () => void }) {
  const project = useProjectId();
  const client = useQueryClient();
  const [file, setFile] = useState<Uploaded | null>(null);
  const [columns, setColumns] = useState<Record<string, number | null>>({});
  const [rules, setRules] = useState<Schemas["CodeRule"][]>([]);
  const [longest, setLongest] = useState(60);
  const [report, setReport] = useState<Report | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const job = useJob({
    done: async (now) => {
      if (now.kind === "check_survey") {
        const found = now.result as unknown as Report;
        setReport(found);
        setRules(found.codes.map(({ code, in_surface, breakline }) => ({ code, in_surface, breakline })));
        return;
      }
      await client.invalidateQueries({ queryKey: ["project", project] });
      onClose();
    },
    failed: setError,
  });
  const running = job.running;

  const fail = (e: unknown) => setError(e instanceof Failure ? e.line : "The server cannot be reached.");
  const upload = async (chosen: File) => {
    setError(null);
    if (chosen.size > LIMIT_MB * 1024 * 1024) return setError(`The file is ${(chosen.size / 1024 / 1024).toFixed(0)} MB; at most ${LIMIT_MB} MB are taken. Split the survey.`);
    setBusy(true);
    try {
      const body = new FormData();
      body.append("file", chosen);
      const answer = await fetch(`/api/projects/${project}/uploads`, { method: "POST", body, headers: { "X-CSRFToken": csrfToken() } });
      if (!answer.ok) throw await failureOf(answer);
      const taken = (await answer.json()) as Uploaded;
      setFile(taken);
      setColumns(taken.columns);
    } catch (e) {
      fail(e);
    } finally {
      setBusy(false);
    }
  };
  const complete = FIELDS.every(([f, , needed]) => !needed || columns[f] !== null);
  const start = async (kind: "check" | "import") => {
    setError(null);
    const mapping = { delimiter: file!.delimiter, header: file!.header, ...columns } as Mapping;
    const request = { params: { path: { project_id: project, upload_id: file!.id } }, body: { mapping, rules, longest_edge: longest } };
    try {
      const started = dataOf(
        kind === "check"
          ? await api.POST("/api/projects/{project_id}/uploads/{upload_id}/check", request)
          : await api.POST("/api/projects/{project_id}/uploads/{upload_id}/import", request),
      );
      job.follow(started);
    } catch (e) {
      fail(e);
    }
  };
  const step = report ? 2 : file ? 1 : 0;
  return (
    <Modal
      open
      title="Import a survey"
      width={860}
      onCancel={onClose}
      footer={[
        running && (
          <Button key="cancel" onClick={job.stop}>
            Stop
          </Button>
        ),
        step > 0 && !running && (
          <Button key="back" onClick={() => { if (report) { setReport(null); setRules([]); } else setFile(null); setError(null); }}>
            Back
          </Button>
        ),
        step === 1 && (
          <Button key="check" type="primary" disabled={!complete || running} onClick={() => void start("check")}>
            Check the file
          </Button>
        ),
        step === 2 && (
          <Button key="import" type="primary" disabled={running} onClick={() => void start("import")}>
            Import {report!.points.toLocaleString("en")} points
          </Button>
        ),
      ]}
    >
      <Steps size="small" current={step} items={[{ title: "File" }, { title: "Columns" }, { title: "What was found" }]} style={{ margin: "8px 0 16px" }} />
      {error && <Alert type="error" showIcon title={error} style={{ marginBottom: 12 }} />}
      {running && <Progress percent={job.progress} status="active" aria-label="Progress" />}
      {step === 0 && (
        <Upload.Dragger accept=".csv,.txt,.asc" showUploadList={false} disabled={busy} beforeUpload={(f) => { void upload(f); return false; }}>
          <p>Drop a CSV file here, or click to choose one</p>
          <p className="quiet">One point a row. Comma, semicolon or tab between columns. Up to {LIMIT_MB} MB.</p>
        </Upload.Dragger>
      )}
      {step === 1 && file && (
        <>
          <p>
            Which column holds what? {file.header ? "The first row is taken as headings." : "No heading row was recognised."}
          </p>
          <div style={{ display: "grid", gridTemplateColumns: "repeat(7, 1fr)", gap: 8, marginBottom: 12 }}>
            {FIELDS.map(([field, title, needed]) => (
              <label key={field}>
                <span className="quiet">{title}{needed ? "" : " (if any)"}</span>
                <Select
                  size="small"
                  style={{ width: "100%" }}
                  aria-label={title}
                  status={needed && columns[field] === null ? "error" : undefined}
                  value={columns[field] ?? -1}
                  options={[...(needed ? [] : [{ value: -1, label: "none" }]), ...(file.rows[0] ?? []).map((cell, i) => ({ value: i, label: file.header ? cell : `column ${i + 1}` })), ...(needed && columns[field] === null ? [{ value: -1, label: "choose" }] : [])]}
                  onChange={(v: number) => setColumns({ ...columns, [field]: v < 0 ? null : v })}
                />
              </label>
            ))}
          </div>
          <div style={{ overflow: "auto", maxHeight: 230 }}>
            <table className="grid-table mono" aria-label="First rows">
              <tbody>
                {file.rows.map((row, i) => (
                  <tr key={i}>{row.map((cell, j) => (i === 0 && file.header ? <th key={j}>{cell}</th> : <td key={j}>{cell}</td>))}</tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      {step === 2 && report && <Found report={report} rules={rules} setRules={setRules} longest={longest} setLongest={setLongest} />}
    </Modal>
  );
}

interface FoundProps {
  report: Report;
  rules: Schemas["CodeRule"][];
  setRules: (r: Schemas["CodeRule"][]) => void;
  longest: number;
  setLongest: (v: number) => void;
}

function Found({ report, rules, setRules, longest, setLongest }: FoundProps) {
  const e = report.extent;
  const set = (code: string, fields: Partial<Schemas["CodeRule"]>) => setRules(rules.map((r) => (r.code === code ? { ...r, ...fields } : r)));
  return (
    <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 16 }}>
      <div>
        <p style={{ marginTop: 0 }}>
          <strong>{report.points.toLocaleString("en")}</strong> points, <strong>{report.triangles.toLocaleString("en")}</strong> triangles, levels {e[2]!.toFixed(2)} to {e[5]!.toFixed(2)} m,{" "}
          {(e[3]! - e[0]!).toFixed(0)} by {(e[4]! - e[1]!).toFixed(0)} m in plan.
        </p>
        <div style={{ overflow: "auto", maxHeight: 270 }}>
          <table className="grid-table" aria-label="Codes found">
            <thead>
              <tr>
                <th>Code</th>
                <th className="num">Points</th>
                <th className="num">Lines</th>
                <th>In surface</th>
                <th>Breakline</th>
              </tr>
            </thead>
            <tbody>
              {report.codes.map((c) => {
                const rule = rules.find((r) => r.code === c.code);
                return (
                  <tr key={c.code}>
                    <td>{c.code || "no code"}</td>
                    <td className="num">{c.points}</td>
                    <td className="num">{c.lines || ""}</td>
                    <td>
                      <Checkbox aria-label={`${c.code} in surface`} checked={rule?.in_surface} onChange={(x) => set(c.code, { in_surface: x.target.checked })} />
                    </td>
                    <td>
                      <Checkbox aria-label={`${c.code} breakline`} disabled={!c.lines || !rule?.in_surface} checked={Boolean(rule?.breakline && c.lines && rule.in_surface)} onChange={(x) => set(c.code, { breakline: x.target.checked })} />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
        <div className="row" style={{ marginTop: 10, gridTemplateColumns: "170px 110px" }}>
          <span className="quiet">Longest triangle edge</span>
          <NumberField label="Longest triangle edge" unit="m" value={longest} least={0.5} onChange={setLongest} />
        </div>
      </div>
      <div>
        <h3>{report.skipped_total === 0 ? "Every row is good" : `${report.skipped_total} row${report.skipped_total > 1 ? "s" : ""} will be left out`}</h3>
        <div style={{ overflow: "auto", maxHeight: 200 }}>
          <table className="grid-table" aria-label="Rows left out">
            <tbody>
              {report.skipped.map((s, i) => (
                <tr key={i}>
                  <td className="num">row {s.row}</td>
                  <td>{s.reason}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {report.crossings.length > 0 && (
          <>
            <h3 style={{ marginTop: 12 }}>{report.crossings.length} breaklines cross</h3>
            <div style={{ overflow: "auto", maxHeight: 140 }} className="quiet">
              {report.crossings.map((c) => (
                <p key={c} style={{ margin: "4px 0" }}>{c}</p>
              ))}
            </div>
          </>
        )}
      </div>
    </div>
  );
}
