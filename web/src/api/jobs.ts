/** Following a job to its end. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, dataOf, Failure, type Schemas } from "./client";

type Job = Schemas["JobOut"];

interface Ends {
  /** Called once with a job that is done. */
  done: (job: Job) => void | Promise<void>;
  /** Called once with what to tell, when the job failed or was stopped. */
  failed: (line: string) => void;
}

export function useJob({ done, failed }: Ends) {
  const [id, setId] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: ["job", id],
    queryFn: async () => {
      const now = dataOf(await api.GET("/api/jobs/{job_id}", { params: { path: { job_id: id! } } }));
      if (now.state === "done") await done(now);
      else if (now.state === "failed" || now.state === "cancelled") failed(now.error ? new Failure(400, now.error).line : "Stopped. Nothing was written.");
      else return now;
      setId(null);
      return now;
    },
    enabled: id !== null,
    refetchInterval: 400,
    gcTime: 0,
  });
  return {
    running: id !== null,
    progress: Math.round(100 * (data?.progress ?? 0)),
    follow: (job: Job) => setId(job.id),
    stop: () => void (id && api.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: id } } })),
  };
}
