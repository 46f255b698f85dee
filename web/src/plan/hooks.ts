/** What the plan draws, asked for from the server. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf } from "../api/client";
import { useDocument, useModel, useProjectId, useSummary } from "../api/hooks";
import { useWork } from "../api/jobs";

export function useSurvey() {
  const id = useProjectId();
  const inUse = useDocument("survey")?.spec.survey;
  return useQuery({
    queryKey: ["project", id, "survey", inUse],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey", { params: { path: { project_id: id }, query: { of: inUse } } })),
    enabled: inUse != null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export function useSurveyLines(wanted = true) {
  const id = useProjectId();
  const inUse = useDocument("survey")?.spec.survey;
  return useQuery({
    queryKey: ["project", id, "survey", inUse, "lines"],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey/lines", { params: { path: { project_id: id }, query: { of: inUse } } })),
    enabled: wanted && inUse != null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export interface Box {
  west: number;
  south: number;
  east: number;
  north: number;
}

export function useInView(what: "points" | "edges", box: Box | null, shown: boolean, surface = "main") {
  const id = useProjectId();
  const stamp = useSummary().data?.stamp;
  return useQuery({
    queryKey: ["project", id, "survey", what, box, what === "edges" ? surface : null, stamp],
    queryFn: async () => {
      const path = { project_id: id };
      return what === "points"
        ? { points: dataOf(await api.GET("/api/projects/{project_id}/survey/points", { params: { path, query: box! } })), edges: undefined }
        : { points: undefined, edges: dataOf(await api.GET("/api/projects/{project_id}/survey/edges", { params: { path, query: { ...box!, surface } } })) };
    },
    enabled: shown && box !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export function useRoadPlan() {
  return useModel("plan", async (project_id) => dataOf(await api.GET("/api/projects/{project_id}/model/plan", { params: { path: { project_id } } })));
}

export function useLongSection(wanted = true) {
  return useModel(
    "long-section",
    async (project_id) => dataOf(await api.GET("/api/projects/{project_id}/model/long-section", { params: { path: { project_id } } })),
    [],
    wanted,
  ).data;
}

/** How depth is taken between sections: straight, or between the triangles of both surfaces. */
export type DepthBetween = "sections" | "surfaces";

export function useDepthMap(between: DepthBetween) {
  const sections = useModel("depth-map", async (project_id) =>
    dataOf(await api.GET("/api/projects/{project_id}/model/depth-map", { params: { path: { project_id } } })),
  ).data;
  const surfaces = useWork("depth_surfaces", between === "surfaces");
  return between === "sections"
    ? { depth: sections, wait: null }
    : { depth: surfaces.result ?? undefined, wait: surfaces.error ?? (surfaces.running ? `Computing, ${surfaces.progress} %` : null) };
}

/** Row of the section line nearest to a plan point. */
export function nearestRow(sections: number[][], east: number, north: number): number {
  let best = -1;
  let least = Infinity;
  sections.forEach((s, i) => {
    const [ax, ay, bx, by] = s as [number, number, number, number];
    const t = Math.max(0, Math.min(1, ((east - ax) * (bx - ax) + (north - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)));
    const d = Math.hypot(east - ax - t * (bx - ax), north - ay - t * (by - ay));
    if (d < least) [best, least] = [i, d];
  });
  return best;
}
