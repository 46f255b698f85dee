/** The section at the current chainage with the template as it stands on the screen, saved or not. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Alert } from "antd";
import { api, dataOf, Failure } from "../../api/client";
import { type SectionView, useProjectId } from "../../api/hooks";
import { usePlace } from "../../app/place";
import { LiveSection } from "../../drawing/LiveSection";
import type { Template } from "./spec";

export function OnTheRoad({ template, spec }: { template: string; spec: Template }) {
  const project_id = useProjectId();
  const { index } = usePlace();
  const asked = useQuery({
    queryKey: ["project", project_id, "preview", template, index, spec],
    queryFn: async () =>
      dataOf(
        await api.POST("/api/projects/{project_id}/model/preview/{key}/{index}", {
          params: { path: { project_id, key: template, index } },
          body: { kind: "template", spec, version: 0 },
        }),
      ) as SectionView,
    enabled: index >= 0,
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  return (
    <>
      {asked.error instanceof Failure && <Alert banner type="error" title={asked.error.line} />}
      {asked.data && asked.data.template !== spec.name && (
        <Alert
          banner
          type="info"
          title={`Here stands ${asked.data.template ? `“${asked.data.template}”` : "no template"}. Step to where “${spec.name}” is applied, or apply it to a range.`}
        />
      )}
      <div style={{ flex: 1, minHeight: 0 }}>
        <LiveSection instead={asked.data} />
      </div>
    </>
  );
}
