/** Header, trail, stage and inspector of the current stop, chainage strip. */
import { QuestionCircleOutlined } from "@ant-design/icons";
import { Alert } from "antd";
import { useState } from "react";
import { NavLink, Outlet, useLocation } from "react-router";
import { isAway, lineOf } from "../api/client";
import { useDocument, useProject, useProjectId, useSummary } from "../api/hooks";
import { usePreview } from "../api/preview";
import { usePulse } from "../api/pulse";
import { setEquations } from "../base/chainage";
import { ChainageStrip } from "../strip/ChainageStrip";
import { ProjectHeader } from "./Header";
import { Keys } from "./Keys";
import { usePlace } from "../base/place";
import { type Stop, stops } from "./stops";
import { touring } from "../base/tour";
import { useWindows } from "./windows";
import { later } from "../common/later";
import { isOpen } from "../common/Problems";

const Guide = later(() => import("./Guide").then((m) => m.Guide));
const Tour = later(() => import("./Tour").then((m) => m.Tour));

export function Frame() {
  const { search, pathname } = useLocation();
  const here = stops.find((s) => s.path === pathname.split("/")[3]);
  const [reading, setReading] = useState(false);
  const shownAround = touring.use((on) => on);
  const project = useProject();
  const summary = useSummary();
  const equations = useDocument("alignment")?.spec.equations;
  setEquations(equations ?? []);
  const place = usePlace();
  usePreview(useProjectId());
  useWindows(true);
  usePulse(place.index < 0 ? null : place.chainage);
  if (project.isError && !project.data) {
    return (
      <div className="empty">
        <Alert type="error" title={lineOf(project.error)} />
        <a href="/">To the projects</a>
      </div>
    );
  }
  return (
    <div className={project.data?.as_issued ? "frame issued" : "frame"}>
      <ProjectHeader />
      <nav className="trail" aria-label="Stops">
        {stops.map((stop) => (
          <NavLink key={stop.path} to={{ pathname: stop.path, search }}>
            <StateDot stop={stop} />
            {stop.title}
            <span className="key">{stop.key}</span>
          </NavLink>
        ))}
        <button type="button" className="trail-guide" aria-expanded={reading} onClick={() => setReading(!reading)}>
          <QuestionCircleOutlined /> Guide
        </button>
      </nav>
      <main className="stop">
        <Outlet />
      </main>
      {summary.isError && (!summary.data || !isAway(summary.error)) ? (
        <div className="strip" style={{ padding: 16 }}>
          <Alert type="error" title={lineOf(summary.error)} />
        </div>
      ) : (
        (summary.data?.chainage.length ?? 0) > 0 && <ChainageStrip />
      )}
      <Keys />
      {shownAround && <Tour />}
      {reading && <Guide key={here?.guide} page={here?.guide ?? "README"} close={() => setReading(false)} />}
    </div>
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
