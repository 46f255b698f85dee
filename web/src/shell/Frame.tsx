/** Header, trail, stage and inspector of the current stop, chainage strip. */
import { Alert } from "antd";
import { memo, useState } from "react";
import { Outlet, useLocation } from "react-router";
import { isAway, lineOf } from "../api/client";
import { useDocument, useOfRoad, useProject, useSummary } from "../api/hooks";
import { usePreview } from "../api/preview";
import { usePulse } from "../api/pulse";
import { setEquations } from "../base/chainage";
import { usePlace } from "../base/place";
import { touring } from "../base/tour";
import { later } from "../common/later";
import { ChainageStrip } from "../strip/ChainageStrip";
import { ProjectHeader } from "./Header";
import { Keys } from "./Keys";
import { stops } from "./stops";
import { Trail } from "./Trail";
import { useWindows } from "./windows";

const Guide = later(() => import("./Guide").then((m) => m.Guide));
const SinceRelease = later(() => import("./SinceRelease").then((m) => m.SinceRelease));
const Tour = later(() => import("./Tour").then((m) => m.Tour));

/** A step along the road is a new address: what does not follow from that is not rendered anew, here and in the parts. */
export const Frame = memo(function Frame() {
  const [reading, setReading] = useState(false);
  const shownAround = touring.use((on) => on);
  const project = useProject();
  const equations = useDocument("alignment")?.spec.equations;
  setEquations(equations ?? []);
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
      <Watch />
      <ProjectHeader />
      <Trail reading={reading} read={setReading} />
      <main className="stop">
        <Outlet />
      </main>
      <Strip />
      <Keys />
      <SinceRelease />
      {shownAround && <Tour />}
      {reading && <GuideHere close={() => setReading(false)} />}
    </div>
  );
});

/** Hears of others and of other windows, and asks for what is previewed. Shows nothing. */
function Watch() {
  const place = usePlace();
  usePreview(useOfRoad());
  useWindows(true);
  usePulse(place.index < 0 ? null : place.chainage);
  return null;
}

function Strip() {
  const { data, error, isError } = useSummary();
  if (isError && (!data || !isAway(error))) {
    return (
      <div className="strip" style={{ padding: 16 }}>
        <Alert type="error" title={lineOf(error)} />
      </div>
    );
  }
  return data && data.chainage.length > 0 ? <ChainageStrip /> : null;
}

function GuideHere({ close }: { close: () => void }) {
  const { pathname } = useLocation();
  const here = stops.find((s) => s.path === pathname.split("/")[3]);
  return <Guide key={here?.guide} page={here?.guide ?? "README"} close={close} />;
}
