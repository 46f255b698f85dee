/** What the plan draws, asked for from the server. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf } from "../api/client";
import { useDocument, useModel, useProjectId, useSummary } from "../api/hooks";
import { useWork } from "../api/jobs";

/** Whether there is a survey, and what changes with it. */
function useCounting() {
  const inUse = useDocument("survey");
  return { there: inUse?.spec.survey != null, version: inUse?.version };
}

export function useSurvey() {
  const id = useProjectId();
  const { there, version } = useCounting();
  return useQuery({
    queryKey: ["project", id, "survey", version],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey", { params: { path: { project_id: id } } })),
    enabled: there,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export function useSurveyLines(wanted = true) {
  const id = useProjectId();
  const { there, version } = useCounting();
  return useQuery({
    queryKey: ["project", id, "survey", version, "lines"],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey/lines", { params: { path: { project_id: id } } })),
    enabled: wanted && there,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

/** Survey points whose number begins with a text. */
export function useFoundPoints(number: string) {
  const id = useProjectId();
  const { there, version } = useCounting();
  return useQuery({
    queryKey: ["project", id, "survey", version, "find", number],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey/find", { params: { path: { project_id: id }, query: { number } } })),
    enabled: number !== "" && there,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

/** Points of a survey line, in order. */
export function usePointsOfLine(line: { code: string; name: string } | undefined) {
  const id = useProjectId();
  const { version } = useCounting();
  return useQuery({
    queryKey: ["project", id, "survey", version, "line", line?.code, line?.name],
    queryFn: async () =>
      dataOf(await api.GET("/api/projects/{project_id}/survey/line", { params: { path: { project_id: id }, query: { code: line!.code, name: line!.name } } })),
    enabled: line !== undefined,
    staleTime: Infinity,
  });
}

export interface Box {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** Of what lies in view, each kind with how it is asked for. */
const IN_VIEW = {
  points: async (project_id: number, query: Box) =>
    dataOf(await api.GET("/api/projects/{project_id}/survey/points", { params: { path: { project_id }, query } })),
  background: async (project_id: number, query: Box) =>
    dataOf(await api.GET("/api/projects/{project_id}/survey/background", { params: { path: { project_id }, query } })),
  edges: async (project_id: number, query: Box & { surface: string }) =>
    dataOf(await api.GET("/api/projects/{project_id}/survey/edges", { params: { path: { project_id }, query } })),
  contours: async (project_id: number, query: Box & { surface: string }) =>
    dataOf(await api.GET("/api/projects/{project_id}/survey/contours", { params: { path: { project_id }, query } })),
};
type InView = { [K in keyof typeof IN_VIEW]?: Awaited<ReturnType<(typeof IN_VIEW)[K]>> };

/** What lies in view of one kind, while it is shown; more of it when the view or the project changes. */
export function useInView(what: keyof InView, box: Box | null, shown: boolean, surface = "main"): InView {
  const id = useProjectId();
  const stamp = useSummary().data?.stamp;
  const surveyed = useDocument("survey")?.spec.survey != null;
  const { data } = useQuery<InView>({
    queryKey: ["project", id, "survey", what, box, what === "points" ? null : surface, stamp],
    queryFn: async () => ({ [what]: await IN_VIEW[what](id, { ...box!, surface }) }),
    enabled: shown && surveyed && box !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  return shown && data ? data : {};
}

/** Pieces of what lies beneath the survey, in view, where anything does. */
export function useBackground(box: Box | null, shown = true) {
  const any = useDocument("survey")?.spec.beside.some((b) => b.background && b.on) ?? false;
  return useInView("background", box, shown && any).background;
}

export function useRoadPlan() {
  return useModel("plan", async (of) => dataOf(await api.GET("/api/projects/{project_id}/model/plan", { params: of })));
}

export function useLongSection(wanted = true) {
  return useModel("long-section", async (of) => dataOf(await api.GET("/api/projects/{project_id}/model/long-section", { params: of })), [], wanted).data;
}

/** How depth is taken between sections: straight, or between the triangles of both surfaces. */
export type DepthBetween = "sections" | "surfaces";

export function useDepthMap(between: DepthBetween) {
  const sections = useModel("depth-map", async (of) => dataOf(await api.GET("/api/projects/{project_id}/model/depth-map", { params: of }))).data;
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
