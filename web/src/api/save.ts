/** Saving a document, with the choice between two versions when somebody else was quicker. */
import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { createElement, useCallback, useEffect, useRef, useState } from "react";
import { api, dataOf, Failure, isAway } from "./client";
import { Differences, differencesOf } from "../common/differences";
import { NOT_DONE, type AnyDocument, type Documents, type Kind, type SpecOf, useChange, useProjectId, useRefresh } from "./hooks";
import { useCounted } from "./pending";
import { drop as dropPreview, setDragging, show as showPreview, useSettle } from "./preview";
import type { paths } from "./schema";

type Address = "/api/projects/{project_id}/documents/{kind}/{key}";
type Sent = paths[Address]["put"]["requestBody"]["content"]["application/json"];
/** A document as it is to be: its kind and spec belong together. */
type Body = { [K in Kind]: { kind: K; key: string; spec: Spec<K>; version: number; base?: Spec<K> } }[Kind];
type Spec<K extends Kind> = Extract<Sent, { kind: K }>["spec"];
/** What the server holds after a save: with `base` sent along it may hold somebody else's change too. */
interface Written {
  version: number;
  spec: unknown;
}

/** A key for a new document that nothing has yet. */
export function freshKey(kind: string): string {
  return `${kind.replaceAll("_", "-")}-${Date.now().toString(36)}`;
}

/** A new document like another one. */
export function likeIt(d: AnyDocument, key: string, name: string): Body {
  return { kind: d.kind, key, version: 0, spec: { ...d.spec, name } } as Body;
}

function put(projectId: number, body: Body, keepalive = false) {
  const { kind, key, spec, version, base = null } = body;
  return api.PUT("/api/projects/{project_id}/documents/{kind}/{key}", {
    params: { path: { project_id: projectId, kind, key } },
    body: { kind, spec, version, base } as Sent,
    keepalive,
  });
}

/** Writes a document; the answer is its new version, or null when it was not written. */
export function useSave() {
  const save = useSaving();
  const { message } = App.useApp();
  return useCallback(
    async (body: Body): Promise<number | null> => {
      const found = await save(body);
      if (found !== "unreachable") return found?.version ?? null;
      void message.error({ key: "unreachable", content: NOT_DONE, duration: 8 });
      return null;
    },
    [save, message],
  );
}

/** The same, told apart: null when it was refused, or that the server could not be reached. */
function useSaving() {
  const { modal } = App.useApp();
  const refresh = useRefresh();
  const client = useQueryClient();
  const id = useProjectId();
  const save = useChange(async (projectId, body: Body) => {
    const written = dataOf(await put(projectId, body));
    // At once, not only when all documents have been fetched again: what was written must not show as it was before for a moment,
    // nor may an answer that was asked for before it put back the old version, with which the next save would meet a conflict with itself.
    await client.cancelQueries({ queryKey: ["project", id, "documents"] });
    client.setQueryData<Documents>(["project", projectId, "documents"], (now) => now && withWritten(now, written as AnyDocument));
    return written;
  }, true);
  const { mutateAsync } = save;
  return useCallback(
    async (body: Body): Promise<Written | null | "unreachable"> => {
      try {
        return await mutateAsync(body);
      } catch (error) {
        // Who was signed out meanwhile signs in again, and what was typed is saved then.
        if (isAway(error) || (error instanceof Failure && error.status === 401)) return "unreachable";
        if (!(error instanceof Failure) || error.status !== 409) return null;
        const theirs = error.told.current as { version: number; spec: unknown } | null;
        const mine = await modal.confirm({
          title: "Two versions",
          width: 560,
          content: createElement("div", null, createElement("p", null, error.line), createElement(Differences, { of: differencesOf(theirs?.spec, body.spec) })),
          okText: "Keep mine",
          cancelText: "Take theirs",
        });
        await refresh();
        if (!mine) return null;
        const now = client.getQueryData<Documents>(["project", id, "documents"]);
        const version = now?.documents.find((d) => d.kind === body.kind && d.key === body.key)?.version ?? 0;
        return await mutateAsync({ ...body, version });
      }
    },
    [mutateAsync, modal, refresh, client, id],
  );
}

function withWritten(now: Documents, written: AnyDocument): Documents {
  const held = now.documents.find((d) => d.kind === written.kind && d.key === written.key);
  if (held && held.version >= written.version) return now;
  return { ...now, documents: held ? now.documents.map((d) => (d === held ? written : d)) : [...now.documents, written] };
}

/** The last change under way of each document that is changed in steps. */
const turns = new Map<string, Promise<unknown>>();

/**
 * Changes of a document as they come, one after another: each is made of what the one before it left, so that a quick second one neither
 * conflicts with oneself nor takes the first one back. The answer is the new version, or null when it was not written.
 */
export function useSteps<K extends Kind>(kind: K, key = "main") {
  const save = useSave();
  const client = useQueryClient();
  const id = useProjectId();
  return useCallback(
    (next: (now: SpecOf<K> | undefined) => SpecOf<K> | null) => {
      const name = `${id} ${kind} ${key}`;
      const turn = (turns.get(name) ?? Promise.resolve()).then(() => {
        const saved = client.getQueryData<Documents>(["project", id, "documents"])?.documents.find((d) => d.kind === kind && d.key === key);
        const spec = next(saved?.spec as SpecOf<K> | undefined);
        return spec && save({ kind, key, version: saved?.version ?? 0, spec } as Body);
      });
      turns.set(
        name,
        turn.catch(() => null),
      );
      return turn;
    },
    [save, client, id, kind, key],
  );
}

/** Writes several documents as one step of the history, all or nothing. */
export function useSaveTogether() {
  const client = useQueryClient();
  return useChange(async (project_id, step: { title: string; documents: Body[] }) => {
    const body = { title: step.title, documents: step.documents };
    const written = dataOf(await api.POST("/api/projects/{project_id}/changes", { params: { path: { project_id } }, body }));
    client.setQueryData<Documents>(["project", project_id, "documents"], (now) => now && (written as AnyDocument[]).reduce(withWritten, now));
    return written;
  });
}

/** Removes a document that nothing else names. */
export function useRemove() {
  return useChange(async (project_id, d: { kind: Kind; key: string; version: number }) =>
    dataOf(
      await api.DELETE("/api/projects/{project_id}/documents/{kind}/{key}", {
        params: { path: { project_id, kind: d.kind, key: d.key }, query: { version: d.version } },
      }),
    ),
  );
}

/** After how long a save is tried again when the server cannot be reached, ms. */
const AGAIN = 3000;

/** What was typed and not saved, kept by the browser while the server is away or the page is closed. */
const shelf = {
  name: (project: number, kind: Kind, key: string) => `tin-saddle ${project} ${kind} ${key}`,
  put: (name: string, kept: unknown) => {
    try {
      localStorage.setItem(name, JSON.stringify(kept));
    } catch {
      // A browser that keeps nothing still saves to the server.
    }
  },
  take: <T>(name: string): T | null => {
    const text = localStorage.getItem(name);
    if (text) localStorage.removeItem(name);
    return text ? (JSON.parse(text) as T) : null;
  },
};

/**
 * A document being edited: what is typed shows at once and is saved after `wait` ms, one save after another. What is dragged shows as
 * well, and is saved when it is let go; Escape goes back. Meanwhile everything in view is previewed with it (see preview.ts).
 * While nothing is pending it follows the saved version. While the server cannot be reached what is typed stays and is tried again,
 * and it is there when the page is opened again.
 */
export function useDraft<K extends Kind>(kind: K, key: string, saved: { spec: SpecOf<K>; version: number } | undefined, wait = 600) {
  const project = useProjectId();
  const [draft, setDraft] = useState<Draft<K> | null>(null);
  const [held, setHeld] = useState<Draft<K> | null>(null);
  const save = useSaving();
  const settle = useSettle(project);
  const { message } = App.useApp();
  const timer = useRef<number>(undefined);
  const latest = useRef<Draft<K> | null>(null);
  const sent = useRef<Draft<K> | null>(null);
  const saving = useRef(Promise.resolve());
  const base = useRef<Base<K>>({ key, version: 0 });
  useEffect(() => {
    // One that is removed and made anew counts its versions from the beginning.
    if (!saved && !latest.current) base.current = { key, version: 0 };
  }, [saved, key]);
  const flush = useCallback(() => {
    window.clearTimeout(timer.current);
    const send = async (): Promise<void> => {
      const now = latest.current;
      if (!now || now === sent.current) return;
      sent.current = now;
      const written = await save({ kind, ...now, version: base.current.version, base: base.current.spec } as Body);
      if (written === "unreachable") {
        void message.warning({
          key: "unreachable",
          content: "Not saved yet: the server cannot be reached, or you are signed out. What you typed is kept.",
          duration: 6,
        });
        sent.current = null;
        shelf.put(shelf.name(project, kind, now.key), { draft: now, base: base.current });
        timer.current = window.setTimeout(() => (saving.current = saving.current.then(send)), AGAIN);
        return;
      }
      localStorage.removeItem(shelf.name(project, kind, now.key));
      if (written) {
        // One's own save counts one version on; the server may also write what was sent in another way.
        const merged = written.version > base.current.version + 1 && differencesOf(written.spec, now.spec).length > 0;
        if (merged) void message.info("Somebody else changed this meanwhile; both changes are in.", 6);
        // What is typed on knows nothing of the other change: it is put together with it again, from what was sent.
        base.current = { key: now.key, version: merged ? base.current.version : written.version, spec: now.spec };
      }
      if (latest.current === now) latest.current = null;
      setDraft((d) => (d === now ? null : d));
      if (written) settle(kind, now.key, now.spec);
      else if (!latest.current) dropPreview(kind, now.key);
    };
    saving.current = saving.current.then(send);
  }, [kind, save, project, message, settle]);
  const begin = useCallback(
    (next: Draft<K>, from: Base<K>) => {
      // What is shown may still be as it was before one's own last save: that one is known to be newer.
      const newer = base.current.key === from.key && base.current.version > from.version;
      if (!latest.current && !newer) base.current = from;
      latest.current = next;
      setDraft(next);
      showPreview(kind, next.key, next.spec);
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(flush, wait);
    },
    [flush, wait, kind],
  );
  const change = useCallback(
    (spec: SpecOf<K>) => {
      if (!saved) return;
      begin({ key, spec }, { key, version: saved.version, spec: saved.spec });
    },
    [saved, key, begin],
  );
  /** A drag that was given up: what is dragged on counts for nothing until the next press. */
  const givenUp = useRef(false);
  /** What the drag began on: a colleague's change that arrives meanwhile is put together with it, not written over. */
  const grasped = useRef<Base<K> | null>(null);
  const drag = useCallback(
    (spec: SpecOf<K>, done: boolean) => {
      if (!saved) return;
      const over = done || givenUp.current;
      const from = grasped.current ?? { key, version: saved.version, spec: saved.spec };
      grasped.current = over ? null : from;
      setHeld(over ? null : { key, spec });
      if (givenUp.current) return;
      if (done) begin({ key, spec }, from);
      else showPreview(kind, key, spec);
    },
    [kind, key, saved, begin],
  );
  /** Back to where the drag began. */
  const giveUp = useCallback(() => {
    givenUp.current = true;
    grasped.current = null;
    setHeld(null);
    // What was typed before and is still on its way stays shown.
    if (latest.current) showPreview(kind, latest.current.key, latest.current.spec);
    else dropPreview(kind, key);
  }, [kind, key]);
  const dragging = held !== null;
  useEffect(() => {
    if (!dragging) return;
    setDragging(true);
    return () => {
      setDragging(false);
      grasped.current = null;
      // Whoever leaves the stop with something in the hand has not let it go: nothing of it stays on the screen.
      if (!latest.current) dropPreview(kind, key);
    };
  }, [dragging, kind, key]);
  useEffect(() => {
    if (!dragging) return;
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== "Escape") return;
      e.stopPropagation();
      giveUp();
    };
    window.addEventListener("keydown", onKey, true);
    window.addEventListener("pointercancel", giveUp);
    return () => {
      window.removeEventListener("keydown", onKey, true);
      window.removeEventListener("pointercancel", giveUp);
    };
  }, [dragging, giveUp]);
  useEffect(() => {
    const onPress = () => (givenUp.current = false);
    window.addEventListener("pointerdown", onPress, true);
    return () => window.removeEventListener("pointerdown", onPress, true);
  }, []);
  useEffect(() => {
    if (!saved) return;
    const soon = window.setTimeout(() => {
      const kept = shelf.take<{ draft: Draft<K>; base: Base<K> }>(shelf.name(project, kind, key));
      // What a closing page sent may have arrived after all.
      if (kept && differencesOf(saved.spec, kept.draft.spec).length > 0) begin(kept.draft, kept.base);
    });
    return () => window.clearTimeout(soon);
  }, [saved, project, kind, key, begin]);
  useEffect(() => {
    const leave = () => {
      const now = latest.current;
      if (!now || now === sent.current) return;
      // What was sent before may be on its way still: this rests on it, whether it has arrived or not.
      const rests = sent.current?.key === now.key ? { ...base.current, spec: sent.current.spec } : base.current;
      // The browser finishes this request after the page is gone; what is too large for that waits on the shelf.
      shelf.put(shelf.name(project, kind, now.key), { draft: now, base: rests });
      void put(project, { kind, ...now, version: rests.version, base: rests.spec } as Body, true).then(
        () => localStorage.removeItem(shelf.name(project, kind, now.key)),
        () => undefined,
      );
    };
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [project, kind]);
  useEffect(() => flush, [flush, key]);
  useCounted(draft !== null);
  const now = held?.key === key ? held : draft?.key === key ? draft : saved;
  return { spec: now?.spec, pending: draft !== null, change, drag, giveUp };
}

interface Draft<K extends Kind> {
  key: string;
  spec: SpecOf<K>;
}
/** What a draft rests on: the version, and the spec that it had. */
interface Base<K extends Kind> {
  key: string;
  version: number;
  spec?: SpecOf<K>;
}
