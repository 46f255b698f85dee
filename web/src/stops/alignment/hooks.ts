/** What the server makes of an alignment that may not be saved yet. */
import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { api, dataOf, Failure, type Schemas } from "../../api/client";
import { type SpecOf, useProjectId } from "../../api/hooks";

export type Spec = SpecOf<"alignment">;
export type Element = Spec["elements"][number];
export type Ip = Schemas["IntersectionPoint"];

/** How an alignment is looked at; kept for a moment, so that it can be there before the alignment is shown. */
export const lookAt = (project_id: number, spec: Spec | undefined, speed_kmh: number) =>
  queryOptions({
    queryKey: ["project", project_id, "alignment-look", spec, speed_kmh],
    queryFn: async () =>
      dataOf(await api.POST("/api/projects/{project_id}/alignment/look", { params: { path: { project_id }, query: { speed_kmh } }, body: spec! })),
    staleTime: Infinity,
    retry: false,
    gcTime: 5_000,
  });

export function useLook(spec: Spec | undefined, speed_kmh: number) {
  const project_id = useProjectId();
  const asked = useQuery({ ...lookAt(project_id, spec, speed_kmh), enabled: spec !== undefined, placeholderData: keepPreviousData });
  return { look: asked.isError ? undefined : asked.data, error: asked.error instanceof Failure ? asked.error.line : null };
}

export async function fromIps(project_id: number, alignment: Spec, points: Ip[]): Promise<Spec> {
  return dataOf(await api.POST("/api/projects/{project_id}/alignment/from-ips", { params: { path: { project_id } }, body: { alignment, points } }));
}
