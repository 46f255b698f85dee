/**
 * The pulse: once a second the browser tells where the person is, and hears who else is there and what state the project is in.
 * A state that is not the one shown is fetched; what is being typed stays (drafts are put together with it when they are saved).
 */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { api, dataOf, Failure, type Schemas } from "./client";
import { type OfRoad, useOfRoad, useSummary, useUnsaved } from "./hooks";

export type Other = Schemas["Other"];
type Pulse = Schemas["Pulse"];

/** How often, ms: what a colleague saves is to be seen within two seconds. */
const EVERY = 1200;
/** Of this browser tab, for as long as it is open, also when the page is loaded again. */
const tab = sessionStorage.getItem("tin-saddle tab") ?? crypto.randomUUID();
sessionStorage.setItem("tin-saddle tab", tab);

const keyOf = ({ path, query }: OfRoad) => ["pulse", path.project_id, query.road];

/** The stop of an address: the part behind the project. */
function stopOf(path: string): string {
  return path.split("/")[3] ?? "";
}

/** What a field is known by to others: stop, selection and label. */
function nameOf(label: string): string {
  return [stopOf(window.location.pathname), new URLSearchParams(window.location.search).get("sel") ?? "", label].join("|");
}

/** The field that the person is in, empty for none. */
function typedIn(): string {
  const at = document.activeElement;
  const label = at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement ? at.getAttribute("aria-label") : null;
  return label && at?.closest("main") ? nameOf(label).slice(0, 200) : "";
}

/** Runs the pulse; for the frame alone. */
export function usePulse(chainage: number | null): void {
  const of = useOfRoad();
  const { pathname } = useLocation();
  const client = useQueryClient();
  const saving = useUnsaved();
  const summary = useSummary();
  const shown = summary.data?.stamp;
  /** A state that cannot be computed is asked for once, not every second. */
  const asked = useRef("");
  const { data, error, dataUpdatedAt } = useQuery({
    queryKey: keyOf(of),
    queryFn: async () =>
      dataOf(
        await api.POST("/api/projects/{project_id}/pulse", {
          params: of,
          body: { tab, stop: stopOf(pathname), chainage, field: typedIn() },
        }),
      ),
    refetchInterval: (query) => (query.state.error instanceof Failure && query.state.error.status < 500 ? false : EVERY),
    retry: false,
    staleTime: 0,
  });
  // Who was signed out, by doing nothing for long or from another browser, comes to the door.
  const out = error instanceof Failure && error.status === 401;
  useEffect(() => {
    if (out) void client.invalidateQueries({ queryKey: ["me"] });
  }, [out, client]);
  const now = data?.stamp;
  // What was heard before the summary came, or while one is on its way, may be older than it, as after one's own save.
  const news = !summary.isFetching && dataUpdatedAt > summary.dataUpdatedAt;
  useEffect(() => {
    if (!now || !shown || now === shown || now === asked.current || saving || !news) return;
    asked.current = now;
    // What follows from the model is asked for under its stamp anyway.
    void client.invalidateQueries({ queryKey: ["project", of.path.project_id], predicate: (query) => query.queryKey[2] !== "of-model" });
  }, [now, shown, saving, news, client, of]);
}

/** Other people in this project now. */
export function useOthers(): Other[] {
  return useHeard((pulse) => pulse.others) ?? [];
}

/** Who else is typing in the field with this label, null for nobody. */
export function useTyping(label: string): string | null {
  return useHeard((pulse) => (pulse.others.length > 0 ? (pulse.others.find((o) => o.field === nameOf(label))?.name ?? null) : null)) ?? null;
}

/** Part of what the last pulse heard. */
function useHeard<T>(select: (pulse: Pulse) => T): T | undefined {
  return useQuery<Pulse, Error, T>({ queryKey: keyOf(useOfRoad()), enabled: false, select }).data;
}
