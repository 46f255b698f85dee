/** Sections in a window of their own, for a second screen: it follows the first window, and leads it where one is chosen here. */
import { usePreview } from "../api/preview";
import { usePulse } from "../api/pulse";
import { setEquations } from "../base/chainage";
import { useDocument, useOfRoad, useProject, useSummary } from "../api/hooks";
import WallPage from "../stops/sections/WallPage";
import { Keys } from "./Keys";
import { usePlace } from "../base/place";
import { useWindows } from "./windows";

export default function Beside() {
  const project = useProject();
  const summary = useSummary().data;
  const place = usePlace();
  setEquations(useDocument("alignment")?.spec.equations ?? []);
  usePreview(useOfRoad());
  usePulse(place.index < 0 ? null : place.chainage);
  useWindows(false);
  return (
    <main style={{ height: "100vh", display: "grid", gridTemplateColumns: "minmax(0, 1fr)" }}>
      {summary && summary.chainage.length > 0 ? (
        <WallPage pages={<strong>{project.data?.name}</strong>} begin={1} />
      ) : (
        <div className="empty">Nothing to show yet.</div>
      )}
      <Keys />
    </main>
  );
}
