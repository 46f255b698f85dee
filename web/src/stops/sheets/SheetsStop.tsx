/** Drawings as they will be printed, the register of them, and what was issued. */
import { Segmented } from "antd";
import { lazy, Suspense } from "react";
import { useProject, useSummary } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { MissingInputs } from "../../common/MissingInputs";
import { chosenOf } from "./drawings";
import { DrawingsPage } from "./DrawingsPage";
import "./sheets.css";

const ReportsPage = lazy(() => import("./ReportsPage"));
const IssuesPage = lazy(() => import("./IssuesPage"));
const ComparePage = lazy(() => import("./ComparePage"));

export default function SheetsStop() {
  const summary = useSummary().data;
  const place = usePlace();
  /** A road as it was issued has no issues of its own. */
  const issued = useProject().data?.as_issued;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  const chosen = chosenOf(place.selection);
  const pages = (
    <Segmented
      size="small"
      aria-label="Page"
      options={[{ value: "drawings", label: "Drawings" }, { value: "reports", label: "Reports" }, ...(issued ? [] : [{ value: "issues", label: "Issues" }])]}
      value={chosen.page === "compare" ? "issues" : chosen.page}
      onChange={(page) => place.select(page === "issues" ? "issue" : page === "reports" ? "report" : null)}
    />
  );
  if (chosen.page === "drawings") return <DrawingsPage pages={pages} drawing={chosen.drawing} />;
  return (
    <Suspense>
      {chosen.page === "reports" ? (
        <ReportsPage pages={pages} report={chosen.report} />
      ) : chosen.page === "issues" ? (
        <IssuesPage pages={pages} issue={chosen.issue} />
      ) : (
        <ComparePage pages={pages} before={chosen.before} after={chosen.after} />
      )}
    </Suspense>
  );
}
