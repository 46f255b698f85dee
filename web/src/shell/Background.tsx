/** Jobs whose dialog was left: how far they are, a way to stop them, and what became of them. */
import { CloseOutlined } from "@ant-design/icons";
import { useQuery } from "@tanstack/react-query";
import { App, Button } from "antd";
import { type Going, hasEnded, useGoing } from "../api/background";
import { api, dataOf } from "../api/client";
import { useRefresh } from "../api/hooks";
import { ended, stopJob, whyNot } from "../api/jobs";

export function Background() {
  return useGoing().map((job) => <Following key={job.id} job={job} />);
}

function Following({ job }: { job: Going }) {
  const { message } = App.useApp();
  const refresh = useRefresh();
  const { data } = useQuery({
    queryKey: ["background", job.id],
    queryFn: async () => {
      const now = dataOf(await api.GET("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } }));
      if (ended(now)) {
        await refresh();
        hasEnded(job.id);
        if (now.state === "done") void message.success(`${job.words} is done.`, 6);
        else void message.error(`${job.words}: ${whyNot(now)}`, 10);
      }
      return now;
    },
    refetchInterval: 500,
    gcTime: 0,
  });
  return (
    <span role="status" aria-label={job.words} className="fresh">
      {job.words}, {data?.no_worker ? "waits for a worker" : `${Math.round(100 * (data?.progress ?? 0))} %`}
      <Button type="text" size="small" aria-label={`Stop ${job.words}`} icon={<CloseOutlined />} onClick={() => stopJob(job.id)} />
    </span>
  );
}
