/** The bench's answer to a template and a trial, asked for at every change. */
import { useMemo } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useProjectId } from "../../api/hooks";
import { useLatest } from "../../api/latest";
import type { Template } from "./spec";

export type Trial = Schemas["Trial"];
export type BenchView = Schemas["BenchView"];

export function useTryOut(template: Template | undefined, trial: Trial) {
  const project_id = useProjectId();
  const question = useMemo(() => (template ? { template, trial, kerbs: {}, make_ups: {} } : null), [template, trial]);
  return useLatest(
    question,
    async (body) => dataOf(await api.POST("/api/projects/{project_id}/bench", { params: { path: { project_id } }, body })) as BenchView,
  );
}
