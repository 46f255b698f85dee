/** Two issues, or an issue and the road as it is: what changed in documents, quantities, levels and sheets. */
import { Alert, Button, Segmented, Spin } from "antd";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, dataOf, lineOf } from "../../api/client";
import { useDocument, useProjectId, useSummary } from "../../api/hooks";
import { ended, type ResultOf, whyNot } from "../../api/jobs";
import { chainageText } from "../../base/chainage";
import { nearestSection } from "../../base/nearest";
import { usePlace } from "../../base/place";
import { Inspector } from "../../common/Inspector";
import { signed } from "../../common/signed";
import { when } from "../../common/when";
import { useIssues } from "./IssuesPage";
import { useSheet } from "./Paper";

type Found = ResultOf<"compare">;
const VIEWS = ["Documents", "Quantities", "Sections", "Sheets"] as const;

export default function ComparePage({ pages, before, after }: { pages: ReactNode; before: number; after: number }) {
  const project_id = useProjectId();
  const stamp = useSummary().data?.stamp;
  const issues = useIssues().data ?? [];
  const place = usePlace();
  const [view, setView] = useState<(typeof VIEWS)[number]>("Documents");
  const query = useQuery({
    queryKey: ["project", project_id, "compare", before, after, after === 0 ? stamp : ""],
    queryFn: async () =>
      dataOf(
        await api.POST("/api/projects/{project_id}/issues/{issue_id}/compare", {
          params: { path: { project_id, issue_id: before } },
          body: { after },
        }),
      ),
    staleTime: Infinity,
    refetchInterval: (q) => (q.state.data && !ended(q.state.data) ? 400 : false),
  });
  const job = query.data;
  const found = job?.kind === "compare" && job.state === "done" ? (job.result ?? null) : null;
  const error = query.isError ? lineOf(query.error) : job && ended(job) && job.state !== "done" ? whyNot(job) : null;
  const nameOf = (id: number) => (id === 0 ? "now" : `issue ${issues.find((i) => i.id === id)?.revision ?? "?"}`);
  const counts = found && { Documents: found.documents.length, Quantities: found.items.length, Sections: found.sections.length, Sheets: found.sheets.length };
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          {pages}
          <Button size="small" onClick={() => place.select(`issue:${before}`)}>
            Back to the issue
          </Button>
          <span style={{ flex: 1 }} />
          <Segmented
            size="small"
            aria-label="Differences in"
            options={VIEWS.map((v) => ({ value: v, label: counts ? `${v} ${counts[v]}` : v }))}
            value={view}
            onChange={setView}
          />
        </div>
        {error ? (
          <Alert type="error" title={error} style={{ margin: 16 }} />
        ) : !found || !job ? (
          <Spin style={{ margin: 40 }} description={job ? `Comparing, ${Math.round(100 * job.progress)} %` : undefined}>
            <span />
          </Spin>
        ) : view === "Sheets" ? (
          <ChangedSheets found={found} job={job.id} before={before} after={after} />
        ) : (
          <div className="scroll" role="group" aria-label="Differences" tabIndex={0}>
            {view === "Documents" ? <Documents found={found} /> : view === "Quantities" ? <Items found={found} /> : <Sections found={found} />}
          </div>
        )}
      </div>
      <Inspector title="Compare">
        <p>
          From <b>{nameOf(before)}</b> to <b>{nameOf(after)}</b>.
        </p>
        {found && <Told found={found} />}
      </Inspector>
    </>
  );
}

function Told({ found }: { found: Found }) {
  const greatest = found.sections.filter((s) => s.difference !== null).toSorted((a, b) => Math.abs(b.difference!) - Math.abs(a.difference!))[0];
  return (
    <>
      <p>
        {found.sections.length === 0
          ? `No section of ${found.compared} moved.`
          : `${found.sections.length} sections moved, of ${found.compared} that both have.`}
      </p>
      {greatest && (
        <p>
          Most at {chainageText(greatest.chainage)}: {signed(1000 * greatest.difference!, 0)} mm, {signed(greatest.offset!, 2)} m from the alignment.
        </p>
      )}
      <p>
        {found.same_sheets} sheets are the same, {found.sheets.length} are not.
      </p>
      {found.apart.map((words) => (
        <p key={words}>{words}.</p>
      ))}
    </>
  );
}

function Documents({ found }: { found: Found }) {
  return (
    <table className="grid-table" aria-label="Documents changed">
      <thead>
        <tr>
          <th>What changed</th>
          <th>Last by</th>
          <th>When</th>
        </tr>
      </thead>
      <tbody>
        {found.documents.map((d, i) => (
          <tr key={i}>
            <td>{d.what}</td>
            <td>{d.who}</td>
            <td className="quiet">{d.at && when(d.at)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const UNITS: Record<string, string> = { m3: "m³", m2: "m²" };
const figure = (v: number | null) => (v === null ? "" : v.toLocaleString("en", { minimumFractionDigits: 1, maximumFractionDigits: 1 }));

function Items({ found }: { found: Found }) {
  return (
    <table className="grid-table" aria-label="Quantities changed">
      <thead>
        <tr>
          <th>Item</th>
          <th>Material</th>
          <th>Unit</th>
          <th className="num">{found.before}</th>
          <th className="num">{found.after}</th>
          <th className="num">Difference</th>
        </tr>
      </thead>
      <tbody>
        {found.items.map((r, i) => (
          <tr key={i}>
            <td>
              {r.name}
              {r.road && <span className="quiet"> ({r.road})</span>}
            </td>
            <td className="quiet">{r.material}</td>
            <td>{UNITS[r.unit] ?? r.unit}</td>
            <td className="num">{figure(r.before)}</td>
            <td className="num">{figure(r.after)}</td>
            <td className="num">{signed((r.after ?? 0) - (r.before ?? 0), 1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Sections({ found }: { found: Found }) {
  const summary = useSummary().data!;
  const here = useDocument("road")?.spec.name;
  const place = usePlace();
  return (
    <table className="grid-table" aria-label="Sections changed">
      <thead>
        <tr>
          <th className="num">Chainage</th>
          <th>What</th>
          <th className="num">Greatest difference mm</th>
          <th className="num">at offset m</th>
        </tr>
      </thead>
      <tbody>
        {found.sections.map((s, i) => (
          <tr key={i}>
            <td className="num">
              {s.road && s.road !== here ? (
                chainageText(s.chainage)
              ) : (
                <button type="button" className="link" onClick={() => place.goTo(nearestSection(summary.chainage, summary.side, s.chainage, s.side))}>
                  {chainageText(s.chainage)}
                </button>
              )}
            </td>
            <td>
              {s.what}
              {s.road && <span className="quiet"> ({s.road})</span>}
            </td>
            <td className="num">{s.difference === null ? "" : signed(1000 * s.difference, 0)}</td>
            <td className="num">{s.offset === null ? "" : signed(s.offset, 3)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What differs is coloured where two sheets lie over each other: what only the earlier has plum, what only the later has blue. */
function ChangedSheets({ found, job, before, after }: { found: Found; job: string; before: number; after: number }) {
  const project = useProjectId();
  const [shown, setShown] = useState(0);
  const [over, setOver] = useState(true);
  const sheet = found.sheets[shown];
  const of = (issue: number, file: number | null) =>
    file === null ? null : issue === 0 ? `/api/jobs/${job}/files/${file}` : `/api/projects/${project}/issues/${issue}/files/${file}`;
  const old = useSheet(sheet ? of(before, sheet.before) : null);
  const now = useSheet(sheet ? of(after, sheet.after) : null);
  if (!sheet) return <p className="empty">All sheets of the drawings that both have are the same.</p>;
  return (
    <div className="fill" style={{ display: "flex", minHeight: 0 }}>
      <nav className="side-list" aria-label="Sheets changed" style={{ width: 200, overflow: "auto" }}>
        {found.sheets.map((s, i) => (
          <button key={`${s.drawing} ${s.number}`} type="button" className="list-item" aria-pressed={i === shown} onClick={() => setShown(i)}>
            <span className="mono">{s.number}</span> {s.what}
          </button>
        ))}
      </nav>
      <div style={{ flex: 1, display: "flex", flexDirection: "column", minWidth: 0 }}>
        <div className="toolbar">
          <Segmented
            size="small"
            options={[
              { value: true, label: "Over each other" },
              { value: false, label: "Side by side" },
            ]}
            value={over}
            onChange={setOver}
          />
          <span className="quiet">
            <b className="compare-old">{found.before}</b> <b className="compare-new">{found.after}</b>
          </span>
        </div>
        <div tabIndex={0} role="group" aria-label="Both sheets" className={`sheet compare ${over ? "over" : "beside"}`}>
          {old && <div className="paper old" role="figure" aria-label={`${sheet.number} as in ${found.before}`} dangerouslySetInnerHTML={{ __html: old }} />}
          {now && <div className="paper new" role="figure" aria-label={`${sheet.number} as in ${found.after}`} dangerouslySetInnerHTML={{ __html: now }} />}
        </div>
      </div>
    </div>
  );
}
