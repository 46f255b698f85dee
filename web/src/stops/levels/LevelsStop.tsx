/** Levels: the road from the side. Overlay levels with their table, or a profile with its IPs. */
import { useState } from "react";
import { api, dataOf } from "../../api/client";
import { useDocument, useModel, useSummary } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { around } from "../../common/AlongChart";
import { MissingInputs } from "../../common/MissingInputs";
import { OverlayLevels } from "./OverlayLevels";
import type { Reach } from "./view";
import { later } from "../../common/later";

const ProfileWork = later(() => import("./profile/ProfileWork").then((m) => m.ProfileWork));

export default function LevelsStop() {
  const summary = useSummary().data;
  const place = usePlace();
  const design = useDocument("sections")?.spec.design_speed_kmh ?? 60;
  const [chosen, setSpeed] = useState<number | null>(null);
  const speed = chosen ?? design;
  const profile = place.selection?.startsWith("profile") ?? false;
  const [reach, setReach] = useState<Reach | null>(null);
  const [stretch, setStretch] = useState<number | null>(null);
  const levels = useModel(
    "levels",
    async (of) => dataOf(await api.GET("/api/projects/{project_id}/levels", { params: { path: { ...of.path }, query: { speed_kmh: speed, ...of.query } } })),
    [speed],
  ).data;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  // Millimetres are read near by, a profile as a whole.
  const shown: Reach = reach && (profile || reach !== "profile") ? reach : profile ? "profile" : "near";
  const view = { reach: shown, setReach, window: shown === "near" ? around(place.chainage, 150, summary.start, summary.end) : undefined, stretch, setStretch };
  return profile ? (
    <ProfileWork levels={levels} speed={speed} setSpeed={setSpeed} view={view} />
  ) : (
    <OverlayLevels levels={levels} speed={speed} setSpeed={setSpeed} view={view} />
  );
}
