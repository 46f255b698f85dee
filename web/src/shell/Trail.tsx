/** The stops, each with its state, and the guide. */
import { QuestionCircleOutlined } from "@ant-design/icons";
import { NavLink, useLocation } from "react-router";
import { useDocument, useSummary } from "../api/hooks";
import { isOpen } from "../common/Problems";
import { type Stop, stops } from "./stops";

export function Trail({ reading, read }: { reading: boolean; read: (on: boolean) => void }) {
  const { search } = useLocation();
  return (
    <nav className="trail" aria-label="Stops">
      {stops.map((stop) => (
        <NavLink key={stop.path} to={{ pathname: stop.path, search }}>
          <StateDot stop={stop} />
          {stop.title}
          <span className="key">{stop.key}</span>
        </NavLink>
      ))}
      <button type="button" className="trail-guide" aria-expanded={reading} onClick={() => read(!reading)}>
        <QuestionCircleOutlined /> Guide
      </button>
    </nav>
  );
}

/** Nothing yet, in work, sound, problems. */
function StateDot({ stop }: { stop: Stop }) {
  const summary = useSummary().data;
  const treatments = useDocument("treatments")?.spec.ranges.length ?? 0;
  const missing = summary?.missing ?? [];
  const mine = summary?.problems.filter((p) => isOpen(p) && stop.subjects.includes(p.subject)) ?? [];
  const waits =
    stop.path === "survey" ? missing.includes("survey") : stop.path === "alignment" ? missing.includes("alignment") : missing.length > 0 || treatments === 0;
  const state = !summary || waits ? "" : mine.some((p) => p.severity === "fault") ? "fault" : mine.length > 0 ? "caution" : "sound";
  const words = { "": "nothing yet", fault: "faults", caution: "problems", sound: "sound" }[state];
  return <span className={`state ${state}`} role="img" aria-label={words} title={words} />;
}
