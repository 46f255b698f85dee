/** Server state. What depends on the documents is asked for again under the stamp of the model. */
import { keepPreviousData, useIsFetching, useIsMutating, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { createContext, useCallback, useContext, useEffect, useMemo } from "react";
import { api, dataOf, Failure, isAway, lineOf, type Schemas } from "./client";
import { MAIN, OF_ROAD } from "./kinds";
import { useAnyPending } from "./pending";

export type Documents = Schemas["Documents"];
export type AnyDocument = Documents["documents"][number];
export type Kind = AnyDocument["kind"];
export type DocumentOf<K extends Kind> = Extract<AnyDocument, { kind: K }>;
type Specs = { [D in AnyDocument as D["kind"]]: D["spec"] };
export type SpecOf<K extends Kind> = Specs[K];
export type Summary = Schemas["Summary"];
export type SectionView = Schemas["SectionView"];

/** What a question about a road says of it. */
export interface OfRoad {
  path: { project_id: number };
  query: { road: string };
}

/**
 * The project and the road that an address names. What asks for it is not rendered anew at every step along the road, which is a new
 * address too. With another project or road all that is beneath begins anew, so that an answer never comes under another one's name.
 */
export const RoadContext = createContext<OfRoad>({ path: { project_id: Number.NaN }, query: { road: MAIN } });

export function useOfRoad(): OfRoad {
  return useContext(RoadContext);
}

export function useProjectId(): number {
  return useOfRoad().path.project_id;
}

/** The key of the road that is worked on. */
export function useRoadKey(): string {
  return useOfRoad().query.road;
}

export function useMe() {
  return useQuery({ queryKey: ["me"], queryFn: async () => dataOf(await api.GET("/api/session")) });
}

export function useProject() {
  const id = useProjectId();
  return useQuery({
    queryKey: ["project", id],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}", { params: { path: { project_id: id } } })),
  });
}

/** Whether the person may change the project. */
export function useMayEdit(): boolean {
  const role = useProject().data?.role;
  return role === "designer" || role === "owner";
}

export function useDocuments() {
  const id = useProjectId();
  return useQuery({
    queryKey: ["project", id, "documents"],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/documents", { params: { path: { project_id: id } } })),
  });
}

/** The roads of the project in their order. */
export function useRoads(): DocumentOf<"road">[] {
  const documents = useDocuments().data?.documents;
  return useMemo(
    () =>
      (documents ?? [])
        .filter((d): d is DocumentOf<"road"> => d.kind === "road")
        .sort((a, b) => a.spec.place - b.spec.place || Number(b.key === MAIN) - Number(a.key === MAIN)),
    [documents],
  );
}

/** What is known of all roads: length, problems. */
export function useToldRoads(wanted = true) {
  const { path } = useOfRoad();
  const stamp = useSummary().data?.stamp;
  return useQuery({
    queryKey: modelKey(path.project_id, "roads", stamp),
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/roads", { params: { path } })),
    enabled: wanted && stamp !== undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  }).data;
}

/** The key of the alignment of the road that is worked on. */
export function useAlignmentKey(): string {
  const road = useRoadKey();
  return useRoads().find((d) => d.key === road)?.spec.alignment ?? road;
}

/** The key of the one document of a kind that the road has, or the project where all roads share it. */
export function useOwn(): (kind: Kind) => string {
  const road = useRoadKey();
  const alignment = useAlignmentKey();
  return useCallback((kind) => (kind === "alignment" ? alignment : kind === "road" || OF_ROAD.has(kind) ? road : MAIN), [road, alignment]);
}

export function useOwnKey(kind: Kind): string {
  return useOwn()(kind);
}

/** The one document of a kind that the road has, or the project. */
export function useDocument<K extends Kind>(kind: K): DocumentOf<K> | undefined {
  const { data } = useDocuments();
  const key = useOwnKey(kind);
  return data?.documents.find((d): d is DocumentOf<K> => d.kind === kind && d.key === key);
}

/** The documents of a kind; of what lies along a road or an alignment those of the road that is worked on. */
export function useDocumentsOf<K extends Kind>(kind: K): DocumentOf<K>[] {
  const documents = useDocuments().data?.documents;
  const road = useRoadKey();
  const alignment = useAlignmentKey();
  return useMemo(
    () =>
      ((documents ?? []) as AnyDocument[]).filter(
        (d): d is DocumentOf<K> =>
          d.kind === kind &&
          (d.kind !== "guide" || d.spec.alignment === alignment) &&
          (d.kind !== "profile" || d.spec.alignment === alignment) &&
          (d.kind !== "section_lines" || d.spec.road === road),
      ),
    [documents, kind, road, alignment],
  );
}

export function useSummary() {
  const of = useOfRoad();
  return useQuery({
    queryKey: ["project", of.path.project_id, "model", of.query.road],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/model", { params: of })),
  });
}

/** What depends on the documents stands under the stamp of the model, which is another one for every road. */
export const modelKey = (project: number, name: string, stamp: string | undefined, ...extra: readonly unknown[]) => [
  "project",
  project,
  "of-model",
  name,
  stamp,
  ...extra,
];

/** A query of something that follows from the model; asked for again when the stamp changes. */
export function useModel<T>(name: string, ask: (of: OfRoad) => Promise<T>, extra: readonly unknown[] = [], wanted = true) {
  const of = useOfRoad();
  const summary = useSummary().data;
  return useQuery({
    queryKey: modelKey(of.path.project_id, name, summary?.stamp, ...extra),
    queryFn: () => ask(of),
    enabled: wanted && summary !== undefined && summary.missing.length === 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

const askSection = async ({ path, query }: OfRoad, index: number) =>
  dataOf(await api.GET("/api/projects/{project_id}/model/sections/{index}", { params: { path: { ...path, index }, query } })) as SectionView;

/** A section as it is saved. When it is there its neighbours are asked for, so that a step shows at once what it leads to. */
export function useSavedSection(index: number) {
  const client = useQueryClient();
  const of = useOfRoad();
  const { stamp, chainage } = useSummary().data ?? {};
  const section = useModel("section", (road) => askSection(road, index), [index]);
  const there = section.isSuccess && !section.isPlaceholderData;
  const last = (chainage?.length ?? 0) - 1;
  useEffect(() => {
    if (!there) return;
    for (const next of [index + 1, index - 1])
      if (next >= 0 && next <= last)
        void client.prefetchQuery({
          queryKey: modelKey(of.path.project_id, "section", stamp, next),
          queryFn: () => askSection(of, next),
          staleTime: Infinity,
        });
  }, [client, of, stamp, there, index, last]);
  return section;
}

/** Whether anything of the project is being fetched; asked in one place, as it goes through all that is kept. */
export function useComputing(): boolean {
  return useIsFetching({ predicate: ({ queryKey }) => queryKey[0] === "project" }) > 0;
}

/** Whether anything is being saved, or waits for it. */
export function useUnsaved(): boolean {
  return [useIsMutating() > 0, useAnyPending()].some(Boolean);
}

export function useRefresh() {
  const client = useQueryClient();
  const id = useProjectId();
  return useCallback(
    async ({ drawnFirst = false } = {}) => {
      const drawn = client.invalidateQueries({ queryKey: ["project", id, "model"] });
      // One server answers both: documents that are known already wait for what is drawn.
      if (drawnFirst) await drawn;
      await Promise.all([drawn, client.invalidateQueries({ queryKey: ["project", id, "documents"] })]);
    },
    [client, id],
  );
}

/** What is told where a change could not reach the server, and is not tried again by itself. */
export const NOT_DONE = "The server cannot be reached: this was not changed. Do it again when it answers.";

/**
 * Runs a change, refreshes what follows from it, and tells the person when it is refused.
 * With `asks`, whoever calls deals with a conflict of versions and with a server out of reach, so they are not told here, and has put
 * what was written among the documents.
 */
export function useChange<A, T>(change: (of: OfRoad, argument: A) => Promise<T>, asks = false) {
  const of = useOfRoad();
  const refresh = useRefresh();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: (argument: A) => change(of, argument),
    onSuccess: () => refresh({ drawnFirst: asks }),
    onError: (error) => {
      const conflict = error instanceof Failure && error.status === 409;
      if ((conflict || isAway(error)) && asks) return;
      if (isAway(error)) void message.error({ key: "unreachable", content: NOT_DONE, duration: 8 });
      else void message.error(lineOf(error), 6);
      if (conflict) void refresh();
    },
  });
}
