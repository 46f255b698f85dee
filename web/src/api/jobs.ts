/** Following jobs to their end, and asking for work that follows from the project as it is. */
import { useQuery } from "@tanstack/react-query";
import { App } from "antd";
import { useEffect, useState } from "react";
import { api, dataOf, Failure, lineOf } from "./client";
import { modelKey, useOfRoad, useSummary } from "./hooks";
import type { paths } from "./schema";

export type Job = paths["/api/jobs/{job_id}"]["get"]["responses"]["200"]["content"]["application/json"];
type JobKind = Job["kind"];
type Results = { [J in Job as J["kind"]]: NonNullable<J["result"]> };
/** What a job of a kind gives. */
export type ResultOf<K extends JobKind> = Results[K];

interface Ends<K extends JobKind> {
  /** The kind of job that is followed. */
  kind: K;
  /** Called once with what a job gave. */
  done: (result: ResultOf<K>, job: Job) => void | Promise<void>;
  /** Called once with what to tell, when the job failed or was stopped. */
  failed: (line: string) => void;
}

const resultOf = <K extends JobKind>(job: Job, kind: K) => (job.kind === kind ? (job.result as Results[K] | null) : null);

export const ended = (job: Job) => job.state === "done" || job.state === "failed" || job.state === "cancelled";
export const whyNot = (job: Job) => (job.error ? new Failure(400, job.error).line : "Stopped. Nothing was written.");

/** Says that work waits because nobody is there to do it, for as long as that is so. */
function useNoWorker(none: boolean): void {
  const { message } = App.useApp();
  useEffect(() => {
    if (!none) return;
    void message.warning({ key: "no-worker", content: "No worker is running: the work waits until there is one.", duration: 0 });
    return () => message.destroy("no-worker");
  }, [none, message]);
}

export function useJob<K extends JobKind>({ kind, done, failed }: Ends<K>) {
  const [id, setId] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: ["job", id],
    queryFn: async () => {
      const now = dataOf(await api.GET("/api/jobs/{job_id}", { params: { path: { job_id: id! } } }));
      if (!ended(now)) return now;
      const result = resultOf(now, kind);
      if (now.state === "done" && result) await done(result, now);
      else failed(whyNot(now));
      setId(null);
      return now;
    },
    enabled: id !== null,
    refetchInterval: 400,
    gcTime: 0,
  });
  useNoWorker(id !== null && data?.no_worker === true);
  return {
    id,
    running: id !== null,
    progress: Math.round(100 * (data?.progress ?? 0)),
    follow: (job: Job) => setId(job.id),
    stop: () => id && stopJob(id),
  };
}

export function stopJob(id: string): void {
  void api.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: id } } });
}

/** What is asked for as the project stands: a computed road, or the survey alone. */
type WorkKind = "register" | "sheets" | "sheets_pdf" | "sheets_dxf" | "sheets_dxf_flat" | "volume_check" | "depth_surfaces" | "survey_landxml" | "survey_dxf";
/** Work whose one file is saved. */
export type FileKind = Extract<WorkKind, "sheets_pdf" | "sheets_dxf" | "sheets_dxf_flat" | "survey_landxml" | "survey_dxf">;
/** Work that is looked at: where the server stopped it for a newer state of the project, it is asked for again. */
const LOOKED_AT: readonly WorkKind[] = ["register", "sheets"];
const OF_SURVEY: readonly WorkKind[] = ["survey_landxml", "survey_dxf"];

/**
 * Work for the project as it is: asked for while `wanted`, again when the project changes; the server computes it once.
 * drawing: of which the sheets are asked for.
 */
export function useWork<K extends WorkKind>(kind: K, wanted: boolean, drawing = "") {
  const { path, query: road } = useOfRoad();
  const summary = useSummary().data;
  const gaveWay = (of: Job) => of.state === "cancelled" && LOOKED_AT.includes(kind);
  const ready = wanted && summary !== undefined && (OF_SURVEY.includes(kind) || summary.missing.length === 0);
  const query = useQuery({
    queryKey: modelKey(path.project_id, "work", summary?.stamp, kind, drawing),
    queryFn: async () => dataOf(await api.POST("/api/projects/{project_id}/jobs/{kind}", { params: { path: { ...path, kind }, query: { drawing, ...road } } })),
    enabled: ready,
    staleTime: Infinity,
    refetchInterval: (q) => (q.state.data && (!ended(q.state.data) || gaveWay(q.state.data)) ? 400 : false),
  });
  const job = query.data;
  const failed = job && (job.state === "failed" || job.state === "cancelled") && !gaveWay(job) ? whyNot(job) : null;
  useNoWorker(job?.no_worker === true);
  return {
    id: job?.id ?? null,
    result: job?.state === "done" ? resultOf(job, kind) : null,
    running: ready && !failed && !query.isError && job?.state !== "done",
    progress: Math.round(100 * (job?.progress ?? 0)),
    error: query.isError ? lineOf(query.error) : failed,
  };
}
