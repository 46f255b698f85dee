/**
 * A window of sections keeps together with the windows of work on the same project: it goes where they go, previews what is on their
 * screen and not yet written, and leads them where a section is chosen in it. Windows of work go their own ways: two of them side by
 * side do not pull at each other. They talk within the browser; nothing of it goes to the server.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import { useOfRoad, useSummary } from "../api/hooks";
import { searchOfRoad } from "../base/roads";
import { type Documents, onScreen, takeScreen } from "../api/preview";

interface Told {
  project: number;
  road: string;
  /** Whether a window of work says it. */
  leads: boolean;
  /** A window that has just been opened asks the others. */
  asks?: boolean;
  at: string;
  side: string;
  documents: Documents;
  stamp: string;
}

/** Keeps this window together with those of the other kind. leads: it is one of work. */
export function useWindows(leads: boolean): void {
  const { path, query } = useOfRoad();
  const [project, road] = [path.project_id, query.road];
  const client = useQueryClient();
  const stamp = useSummary().data?.stamp ?? "";
  const [search, setSearch] = useSearchParams();
  const at = search.get("at") ?? "";
  const side = search.get("side") ?? "";
  const channel = useRef<BroadcastChannel>(undefined);
  const now = useRef({ at, side, stamp });
  /** What another window told last: it is not told back. */
  const heard = useRef(`${at} ${side}`);
  useEffect(() => {
    now.current = { at, side, stamp };
  });

  useEffect(() => {
    const opened = new BroadcastChannel("tin-saddle windows");
    channel.current = opened;
    const tell = () => opened.postMessage({ project, road, leads, ...now.current, documents: onScreen() } satisfies Told);
    opened.onmessage = ({ data }: MessageEvent<Told>) => {
      if (data.project !== project || data.leads === leads) return;
      if (data.asks) return tell();
      if (data.road !== road) {
        // Where one goes to another road the other follows, and begins anew there.
        if (!leads) void setSearch(new URLSearchParams(searchOfRoad(window.location.search, data.road)), { replace: true });
        return;
      }
      const place = `${data.at} ${data.side}`;
      // A window of work that tells something else, and is where it was, does not call back who has just gone elsewhere to lead it.
      const moved = leads || place !== heard.current;
      heard.current = place;
      if (moved && (data.at !== now.current.at || data.side !== now.current.side)) {
        const next = new URLSearchParams(window.location.search);
        next.set("at", data.at);
        if (data.side) next.set("side", data.side);
        else next.delete("side");
        setSearch(next, { replace: true });
      }
      if (leads) return;
      takeScreen(data.documents, () => client.isFetching({ predicate: ({ queryKey }) => queryKey[0] === "project" && queryKey[1] === project }) === 0);
      if (data.stamp && now.current.stamp && data.stamp !== now.current.stamp) {
        void client.invalidateQueries({ queryKey: ["project", project], predicate: (query) => query.queryKey[2] !== "of-model" });
      }
    };
    if (!leads) opened.postMessage({ project, road, leads, asks: true, at: "", side: "", documents: {}, stamp: "" } satisfies Told);
    const stop = leads ? onScreen.subscribe(tell) : undefined;
    return () => {
      stop?.();
      opened.close();
    };
  }, [project, road, leads, client, setSearch]);

  useEffect(() => {
    if (heard.current === `${at} ${side}` && !leads) return;
    channel.current?.postMessage({ project, road, leads, at, side, stamp, documents: onScreen() } satisfies Told);
  }, [project, road, at, side, stamp, leads]);
}
