/** What of the road the levels stop shows, and how: overlay levels or a profile, near or whole, heights. */
import { Segmented, Select } from "antd";
import type { Schemas } from "../../api/client";
import { usePlace } from "../../base/place";
import { colour } from "../../base/theme";
import type { Series } from "../../common/AlongChart";

export type Levels = Schemas["LevelsOut"];

export type Reach = "near" | "profile" | "road";

export interface View {
  reach: Reach;
  setReach: (v: Reach) => void;
  /** Chainages shown; the whole road without. */
  window: [number, number] | undefined;
  /** Heights against lengths; null as they fit. */
  stretch: number | null;
  setStretch: (v: number | null) => void;
}

/** What was there, as both diagrams draw it: the old road at hinge and edges, and milled. */
export function oldRoad(levels: Levels): Series[] {
  return [
    { name: "existing", values: levels.existing, tone: colour.tin600, width: 1.4 },
    { name: "edges", values: levels.left_edge, tone: colour.tin400, width: 0.9 },
    { name: "", values: levels.right_edge, tone: colour.tin400, width: 0.9 },
    ...(levels.milled.some((v) => v !== null) ? [{ name: "milled", values: levels.milled, tone: colour.tin600, width: 1.2, dash: "5 3" }] : []),
  ];
}

export function ViewControls({ view, heights = false }: { view: View; heights?: boolean }) {
  const place = usePlace();
  const profile = place.selection?.startsWith("profile") ?? false;
  return (
    <>
      {heights && (
        <Select<number>
          size="small"
          aria-label="Heights"
          value={view.stretch ?? 0}
          popupMatchSelectWidth={false}
          options={[{ value: 0, label: "fit" }, ...[1, 2, 5, 10, 20, 50].map((value) => ({ value, label: `×${value}` }))]}
          onChange={(v) => view.setStretch(v || null)}
        />
      )}
      <Select<Reach>
        size="small"
        aria-label="How much is shown"
        value={view.reach}
        popupMatchSelectWidth={false}
        options={[
          { value: "near", label: "near here" },
          ...(profile ? [{ value: "profile" as const, label: "the profile" }] : []),
          { value: "road", label: "whole road" },
        ]}
        onChange={view.setReach}
      />
      <Segmented<"overlay" | "profile">
        size="small"
        aria-label="What is graded"
        value={profile ? "profile" : "overlay"}
        options={[
          { value: "overlay", label: "Overlay levels" },
          { value: "profile", label: "Profile" },
        ]}
        onChange={(v) => place.select(v === "profile" ? "profile" : null)}
      />
    </>
  );
}
