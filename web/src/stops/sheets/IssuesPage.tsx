/** What was issued: the list, what an issue holds, its package, and how to look at the road as it was. */
import { App, Button, Select } from "antd";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { api, dataOf, lineOf, type Schemas } from "../../api/client";
import { useProjectId } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { usePlace } from "../../base/place";
import { Inspector } from "../../common/Inspector";
import { save } from "../../common/SaveWork";
import { when } from "../../common/when";
import { statusWords } from "./drawings";
import { Paper } from "./Paper";

export function useIssues() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: ["project", project_id, "issues"],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/issues", { params: { path: { project_id } } })),
  });
}

type Detail = Schemas["IssueDetail"];

export default function IssuesPage({ pages, issue }: { pages: ReactNode; issue: number | null }) {
  const project_id = useProjectId();
  const issues = useIssues().data;
  const place = usePlace();
  const id = issue ?? issues?.[0]?.id ?? null;
  const detail = useQuery({
    queryKey: ["project", project_id, "issues", id],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/issues/{issue_id}", { params: { path: { project_id, issue_id: id! } } })),
    enabled: id !== null,
    staleTime: Infinity,
  }).data;
  return (
    <>
      <div className="stage">
        <div className="toolbar">{pages}</div>
        <div className="fill" style={{ display: "flex", minHeight: 0 }}>
          <nav className="side-list" aria-label="Issues" style={{ width: 236, overflow: "auto" }}>
            {issues?.map((i) => (
              <button key={i.id} type="button" className="list-item" aria-pressed={i.id === id} onClick={() => place.select(`issue:${i.id}`)}>
                <b className="mono">{i.revision}</b> {statusWords(i.status)}
                <br />
                <small className="quiet">
                  {when(i.at)}, {i.by}
                </small>
              </button>
            ))}
            {issues?.length === 0 && (
              <p style={{ padding: "0 10px" }}>Nothing was issued yet. “Issue” at Drawings freezes drawings with all that they follow from.</p>
            )}
          </nav>
          {detail ? <Held key={detail.id} issue={detail} /> : <div className="fill" />}
        </div>
      </div>
      {detail ? (
        <Side issue={detail} others={issues ?? []} />
      ) : (
        <Inspector title="Issues">
          <p className="quiet">An issue never changes: its sheets, figures and documents are kept as they were.</p>
        </Inspector>
      )}
    </>
  );
}

/** The sheets of an issue, as they were printed. */
function Held({ issue }: { issue: Detail }) {
  const project = useProjectId();
  const sheets = issue.holds.flatMap((d) => d.sheets.map((s) => ({ ...s, width: d.width, height: d.height })));
  const [shown, setShown] = useState(0);
  const sheet = sheets[shown];
  return (
    <div style={{ flex: 1, display: "flex", flexDirection: "column", minWidth: 0 }}>
      <div className="toolbar">
        <Select
          size="small"
          style={{ flex: "0 1 360px" }}
          aria-label="Issued sheet"
          value={shown}
          options={sheets.map((s, i) => ({ value: i, label: `${s.number} ${s.title}` }))}
          onChange={setShown}
        />
        <span className="quiet">
          {shown + 1} of {sheets.length}
        </span>
      </div>
      <div tabIndex={0} role="group" aria-label="Issued sheets" className="sheet">
        {sheet && (
          <Paper
            address={`/api/projects/${project}/issues/${issue.id}/files/${sheet.file}`}
            label={`Sheet ${sheet.number} of issue ${issue.revision}`}
            width={sheet.width}
            height={sheet.height}
            zoom={null}
          />
        )}
      </div>
    </div>
  );
}

function Side({ issue, others }: { issue: Detail; others: Schemas["IssueOut"][] }) {
  const project_id = useProjectId();
  const place = usePlace();
  const { message } = App.useApp();
  const job = useJob({ kind: "package", done: (_, made) => save(made.id), failed: (line) => void message.error(line, 6) });
  const pack = async () => {
    try {
      const path = { project_id, issue_id: issue.id };
      job.follow(dataOf(await api.POST("/api/projects/{project_id}/issues/{issue_id}/package", { params: { path } })));
    } catch (e) {
      void message.error(lineOf(e), 6);
    }
  };
  const address = (file: number) => `/api/projects/${project_id}/issues/${issue.id}/files/${file}`;
  const rest = issue.files.filter((f) => !f.path.startsWith("sheets/"));
  return (
    <Inspector title={`Issue ${issue.revision}`}>
      <p>
        {statusWords(issue.status)}, {when(issue.at)}, by {issue.by}
        <br />
        {issue.reason}
      </p>
      <div style={{ display: "flex", flexWrap: "wrap", gap: 6 }}>
        <Button size="small" type="primary" loading={job.running} onClick={() => void pack()}>
          {job.running ? `Package, ${job.progress} %` : "Save the package"}
        </Button>
        <Link to={`/p/${issue.frozen}/sheets`}>
          <Button size="small">Look at it as issued</Button>
        </Link>
        <Select<number>
          size="small"
          style={{ width: 170 }}
          aria-label="Compare with"
          placeholder="Compare with"
          value={undefined}
          options={[
            { value: 0, label: "the road as it is now" },
            ...others.filter((o) => o.id !== issue.id).map((o) => ({ value: o.id, label: `issue ${o.revision}` })),
          ]}
          onChange={(other) => {
            const [before, after] = other !== 0 && other < issue.id ? [other, issue.id] : [issue.id, other];
            place.select(`compare:${before}:${after}`);
          }}
        />
      </div>
      {issue.accepted.problems.length > 0 && (
        <>
          <h3 style={{ margin: "12px 0 4px" }}>
            {issue.accepted.problems.length === 1 ? "Issued with one open problem" : `Issued with ${issue.accepted.problems.length} open problems`}
          </h3>
          <p>Accepted: {issue.accepted.reason}</p>
          <ul className="quiet" tabIndex={0} aria-label="Accepted problems" style={{ maxHeight: 120, overflow: "auto", paddingLeft: 18, margin: 0 }}>
            {issue.accepted.problems.map((p, i) => (
              <li key={i}>{p}</li>
            ))}
          </ul>
        </>
      )}
      <h3 style={{ margin: "12px 0 4px" }}>Files</h3>
      <ul style={{ listStyle: "none", padding: 0, margin: 0 }}>
        {rest.map((f) => (
          <li key={f.number}>
            <a href={address(f.number)} download title={`SHA-256 ${f.sha256}`}>
              {f.path}
            </a>{" "}
            <span className="quiet">{Math.max(1, Math.round(f.size / 1000)).toLocaleString("en")} kB</span>
          </li>
        ))}
      </ul>
    </Inspector>
  );
}
