/** Issuing: which drawings, what they may be used for, and why; problems that are open are accepted with a reason. */
import { Alert, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, dataOf, lineOf } from "../../api/client";
import { useDocumentsOf, useProjectId, useSummary } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { usePlace } from "../../base/place";
import { Dialog } from "../../common/Dialog";
import { Row } from "../../common/Inspector";
import { isOpen } from "../../common/Problems";
import { bareTitle, STATUSES, type Status } from "./drawings";
import { inOrder } from "./Register";

export function IssueDialog({ close }: { close: () => void }) {
  const drawings = inOrder(useDocumentsOf("drawing"));
  const problems = (useSummary().data?.problems ?? []).filter(isOpen);
  const project_id = useProjectId();
  const place = usePlace();
  const client = useQueryClient();
  const [left, setLeft] = useState<string[]>([]);
  const [status, setStatus] = useState<Status>("comment");
  const [revision, setRevision] = useState("");
  const [reason, setReason] = useState("");
  const [accepted, setAccepted] = useState("");
  const [error, setError] = useState<string | null>(null);
  const job = useJob({
    kind: "issue",
    done: async (made) => {
      await client.invalidateQueries({ queryKey: ["project", project_id] });
      place.select(`issue:${made.id}`);
      close();
    },
    failed: setError,
  });
  const chosen = drawings.filter((d) => !left.includes(d.key));
  const ready = chosen.length > 0 && reason.trim() !== "" && (problems.length === 0 || accepted.trim() !== "");
  const issue = async () => {
    setError(null);
    try {
      const body = { drawings: chosen.map((d) => d.key), status, reason: reason.trim(), revision: revision.trim(), accepted: accepted.trim() };
      job.follow(dataOf(await api.POST("/api/projects/{project_id}/issues", { params: { path: { project_id } }, body })));
    } catch (e) {
      setError(lineOf(e));
    }
  };
  return (
    <Dialog
      title="Issue drawings"
      open
      width={620}
      okText={job.running ? `Issuing, ${job.progress} %` : "Issue"}
      okButtonProps={{ disabled: !ready, loading: job.running }}
      cancelText={job.running ? "Stop" : "Cancel"}
      onCancel={() => {
        job.stop();
        close();
      }}
      onOk={() => void issue()}
    >
      {error && <Alert type="error" showIcon title={error} style={{ marginBottom: 10 }} />}
      <Row label="Reason">
        <Input size="small" aria-label="Reason of the issue" maxLength={300} value={reason} onChange={(e) => setReason(e.target.value)} />
      </Row>
      <Row label="Status">
        <Select<Status> size="small" aria-label="Status" value={status} options={STATUSES} onChange={setStatus} />
      </Row>
      <Row label="Revision">
        <Input
          size="small"
          aria-label="Revision"
          maxLength={6}
          placeholder="the next letter"
          value={revision}
          onChange={(e) => setRevision(e.target.value.replace(/[^A-Za-z0-9]/g, ""))}
        />
      </Row>
      <h3 style={{ margin: "12px 0 4px" }}>Drawings</h3>
      {drawings.map((d) => (
        <div key={d.key}>
          <Checkbox checked={!left.includes(d.key)} onChange={(e) => setLeft(e.target.checked ? left.filter((k) => k !== d.key) : [...left, d.key])}>
            <span className="mono">{d.spec.number}</span> {bareTitle(d.spec.name)}
          </Checkbox>
        </div>
      ))}
      {problems.length > 0 && (
        <>
          <h3 style={{ margin: "12px 0 4px" }}>{problems.length === 1 ? "One problem is open" : `${problems.length} problems are open`}</h3>
          <ul className="quiet" tabIndex={0} aria-label="Open problems" style={{ maxHeight: 110, overflow: "auto", margin: "0 0 8px", paddingLeft: 18 }}>
            {problems.slice(0, 100).map((p, i) => (
              <li key={i}>{p.message}</li>
            ))}
            {problems.length > 100 && <li>and {problems.length - 100} more</li>}
          </ul>
          <Row label="Accepted because">
            <Input size="small" aria-label="Why the problems are accepted" maxLength={300} value={accepted} onChange={(e) => setAccepted(e.target.value)} />
          </Row>
        </>
      )}
    </Dialog>
  );
}
