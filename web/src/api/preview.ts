/**
 * What is in view while the hand moves. Documents as they stand on the screen, not yet written, are put here by their drafts
 * (`useDraft`); the sections in view and the strip are asked for with them, each as quickly as it can be answered, and shown in place
 * of what is saved. When a document is written what was previewed stays until what follows from it is there.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import { createStore } from "../common/store";
import { api, dataOf, Failure, lineOf, type Schemas } from "./client";
import { type Kind, modelKey, type OfRoad, type SectionView, type SpecOf, useProjectId, useSavedSection, useSummary } from "./hooks";

export type Along = Schemas["Along"];
type Tried = Schemas["PreviewIn"]["documents"][number];

/** Documents that are not written, by kind and key. */
export type Documents = Readonly<Record<string, Tried>>;

interface Preview {
  documents: Documents;
  /** Counts the changes of them. */
  number: number;
  sections: ReadonlyMap<number, SectionView>;
  along: Along | null;
  /** To which change the strip has followed. */
  followed: number;
  /** What stands against it. */
  error: string | null;
}

const NOTHING: Preview = { documents: {}, number: 0, sections: new Map(), along: null, followed: 0, error: null };
const preview = createStore<Preview>(NOTHING);

/** Whether something is in the hand. */
const dragging = createStore(false);
export const setDragging = dragging.set;
export const useDragging = (): boolean => dragging.use((now) => now);

/** Rows of the sections in view, with how many show each. */
const inView = new Map<number, number>();
/** As many as the server takes at once. */
const MOST = 24;

/** Kinds that the road does not follow from, or only by way of a surface that is built first. */
const APART: ReadonlySet<Kind> = new Set([
  "road",
  "section_lines",
  "drawing_style",
  "drawing",
  "report",
  "title_block",
  "mapping",
  "saved_codes",
  "code_list",
  "surface",
  "survey",
  "variants",
  "left_problems",
]);

const nameOf = (kind: Kind, key: string) => `${kind} ${key}`;

/** A document is shown as it stands on the screen. */
export function show<K extends Kind>(kind: K, key: string, spec: SpecOf<K>): void {
  if (APART.has(kind)) return;
  const now = preview.get();
  const tried = { kind, key, spec, version: 0 } as Tried;
  preview.set({ ...now, documents: { ...now.documents, [nameOf(kind, key)]: tried }, number: now.number + 1 });
}

/** A document is no longer shown otherwise than it is written. */
export function drop(kind: Kind, key: string): void {
  const now = preview.get();
  const { [nameOf(kind, key)]: gone, ...documents } = now.documents;
  if (!gone) return;
  if (Object.keys(documents).length === 0) preview.set({ ...NOTHING, number: now.number + 1, followed: now.number + 1 });
  else preview.set({ ...now, documents, number: now.number + 1 });
}

/** What is on the screen and not written, for this person's other windows. */
export const onScreen = Object.assign((): Documents => preview.get().documents, {
  /** Called when it changes, and not for what is answered; returns what ends that. */
  subscribe: (tell: () => void) => {
    let last = onScreen();
    return preview.subscribe(() => {
      if (onScreen() === last) return;
      last = onScreen();
      tell();
    });
  },
});

/** What another window has on its screen. What it has no longer stays until what follows from it is there. */
export function takeScreen(documents: Documents, settled: () => boolean): void {
  const take = () => {
    const now = preview.get();
    if (Object.keys(documents).length > 0) preview.set({ ...now, documents, number: now.number + 1 });
    else if (Object.keys(now.documents).length > 0) preview.set({ ...NOTHING, number: now.number + 1, followed: now.number + 1 });
  };
  const last = preview.get().documents;
  const wait = () => {
    if (preview.get().documents !== last) return; // something else was told meanwhile
    if (settled()) take();
    else window.setTimeout(wait, SETTLES);
  };
  if (Object.keys(documents).length > 0) take();
  else if (Object.keys(last).length > 0) window.setTimeout(wait, 3 * SETTLES);
}

/** How long after a document was written its sections are looked for, ms. */
const SETTLES = 60;

/** Drops a document that is written, once nothing that follows from it is on its way any more. */
export function useSettle(project: number): (kind: Kind, key: string, spec: unknown) => void {
  const client = useQueryClient();
  return useCallback(
    (kind, key, spec) => {
      const look = () => {
        // Typed or dragged on meanwhile: that is shown now.
        if (preview.get().documents[nameOf(kind, key)]?.spec !== spec) return;
        if (client.isFetching({ predicate: ({ queryKey }) => queryKey[1] === project && queryKey[2] === "of-model" }) > 0) window.setTimeout(look, SETTLES);
        else drop(kind, key);
      };
      window.setTimeout(look, SETTLES);
    },
    [client, project],
  );
}

export interface Shown {
  /** As it would be with what is on the screen, or as it is saved. */
  section: SectionView | undefined;
  /** As it was before the last change, where that was seen. */
  before: SectionView | undefined;
}

/** A section in view: it follows what is dragged and typed before anything is written. */
export function useSection(index: number): Shown {
  useInView(index);
  const project = useProjectId();
  const client = useQueryClient();
  const saved = useSavedSection(index).data;
  const tried = preview.use((now) => now.sections.get(index));
  const last = before.use((stamp) => stamp);
  const earlier = last === null ? undefined : client.getQueryData<SectionView>(modelKey(project, "section", last, index));
  const section = tried ?? saved;
  const was = tried ? saved : earlier;
  // Where the sections were moved the same row stands elsewhere: another section is no former state of this one.
  const same = section && was && was.side === section.side && Math.abs(was.chainage - section.chainage) < 1e-3;
  return { section, before: same ? was : undefined };
}

/** The state of the road before the one that is saved now. */
const before = createStore<string | null>(null);

/** Keeps the state before the last change; for the frame alone. */
function useBefore(stamp: string | undefined): void {
  const last = useRef<string>(undefined);
  useEffect(() => {
    if (stamp === undefined) return;
    if (last.current !== undefined && last.current !== stamp) before.set(last.current);
    last.current = stamp;
  }, [stamp]);
}

/** The road along its chainage as it would be, and whether it has followed the last change. */
export function usePreviewedAlong(): { along: Along | null; behind: boolean } {
  const along = preview.use((now) => now.along);
  const behind = preview.use((now) => now.followed !== now.number);
  return { along, behind };
}

export const usePreviewError = (): string | null => preview.use((now) => now.error);

/** Tells that a section is in view, so that it is among what is asked for. */
function useInView(index: number): void {
  useEffect(() => {
    inView.set(index, (inView.get(index) ?? 0) + 1);
    if (Object.keys(preview.get().documents).length > 0) preview.set({ ...preview.get(), number: preview.get().number + 1 });
    return () => {
      const left = (inView.get(index) ?? 1) - 1;
      if (left > 0) inView.set(index, left);
      else inView.delete(index);
    };
  }, [index]);
}

/** Asks, one question after another, always with what is newest; for the frame alone. */
export function usePreview(params: OfRoad): void {
  useBefore(useSummary().data?.stamp);
  useEffect(() => {
    const ask = async () => {
      const sections = [...inView.keys()].filter((i) => i >= 0).slice(0, MOST);
      const documents = Object.values(preview.get().documents);
      return dataOf(await api.POST("/api/projects/{project_id}/model/preview/sections", { params, body: { documents, sections } })).sections as SectionView[];
    };
    const askAlong = async () => {
      const documents = Object.values(preview.get().documents);
      return dataOf(await api.POST("/api/projects/{project_id}/model/preview/along", { params, body: { documents, sections: [] } }));
    };
    const sections = follow(ask, (found) => ({ sections: new Map(found.map((s) => [s.index, s])), error: null }));
    // The strip may take longer: it waits until the sections of the newest change are drawn, and leaves them as much time as it took.
    const strip = follow(askAlong, (along, number) => ({ along, followed: number }), { after: sections });
    return () => {
      sections.stop();
      strip.stop();
      preview.set({ ...NOTHING, number: preview.get().number + 1, followed: preview.get().number + 1 });
      before.set(null);
    };
  }, [params]);
}

interface Follower {
  /** Resolves when nothing is being asked. */
  idle: () => Promise<void>;
  stop: () => void;
}

/** Keeps something up with the documents on the screen; `after` goes first at every change. */
function follow<T>(ask: () => Promise<T>, take: (answer: T, number: number) => Partial<Preview>, { after }: { after?: Follower } = {}): Follower {
  let answered = preview.get().number;
  let round = Promise.resolve();
  let busy = false;
  let ended = false;
  const work = async () => {
    if (busy) return;
    busy = true;
    await after?.idle();
    while (!ended && answered !== preview.get().number && Object.keys(preview.get().documents).length > 0) {
      const { number } = preview.get();
      const begun = performance.now();
      try {
        const answer = await ask();
        if (Object.keys(preview.get().documents).length > 0) preview.set({ ...preview.get(), ...take(answer, number) });
      } catch (error) {
        // What the server cannot say now is seen when it is saved; what is wrong with it is told.
        if (error instanceof Failure) preview.set({ ...preview.get(), error: lineOf(error) });
      }
      answered = number;
      if (after) {
        await new Promise((go) => window.setTimeout(go, performance.now() - begun));
        await after.idle();
      }
    }
    busy = false;
  };
  const unsubscribe = preview.subscribe(() => {
    if (!busy) round = work();
  });
  return {
    idle: async () => {
      await round;
      await new Promise((drawn) => requestAnimationFrame(drawn));
    },
    stop: () => {
      ended = true;
      unsubscribe();
    },
  };
}
