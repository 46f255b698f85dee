/** What a stop says while survey or alignment are missing, and where to get them. */
import { Button, Spin } from "antd";
import { useLocation, useNavigate } from "react-router";
import { useProjectId, useSummary } from "../api/hooks";

const STOPS: Record<string, [string, string]> = {
  survey: ["Import a survey", "survey"],
  alignment: ["Set out the alignment", "alignment"],
};

export function MissingInputs() {
  const summary = useSummary();
  const navigate = useNavigate();
  const { search } = useLocation();
  const project = useProjectId();
  if (summary.isPending) {
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  }
  const missing = summary.data?.missing ?? [];
  return (
    <div className="empty">
      <h2>The road cannot be computed yet</h2>
      <p style={{ maxWidth: 420, margin: 0 }}>
        {missing.length > 1
          ? "A survey with a surface and an alignment are needed first."
          : missing[0] === "survey"
            ? "A survey with a surface is needed first."
            : "An alignment is needed first."}
      </p>
      <span style={{ display: "flex", gap: 8 }}>
        {missing.map((m, i) => (
          <Button key={m} type={i === 0 ? "primary" : "default"} onClick={() => void navigate({ pathname: `/p/${project}/${STOPS[m]![1]}`, search })}>
            {STOPS[m]![0]}
          </Button>
        ))}
      </span>
    </div>
  );
}
