/** Saving a document, with the choice between two versions when somebody else was quicker. */
import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { createElement, useCallback } from "react";
import { api, dataOf, Failure, isAway } from "./client";
import { Differences, differencesOf } from "../common/differences";
import type { Written } from "./draft";
import { NOT_DONE, type AnyDocument, type Documents, type Kind, type SpecOf, useChange, useOwnKey, useProjectId, useRefresh } from "./hooks";
import type { paths } from "./schema";

type Address = "/api/projects/{project_id}/documents/{kind}/{key}";
type Sent = paths[Address]["put"]["requestBody"]["content"]["application/json"];
/** A document as it is to be: its kind and spec belong together. */
type Body = { [K in Kind]: { kind: K; key: string; spec: Spec<K>; version: number; base?: Spec<K> } }[Kind];
type Spec<K extends Kind> = Extract<Sent, { kind: K }>["spec"];

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

/** Writes a document of a page that is going: the browser finishes it alone, if it is not too large. */
export const putLast = (projectId: number, body: Body) => put(projectId, body, true);

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
export function useSaving() {
  const { modal } = App.useApp();
  const refresh = useRefresh();
  const client = useQueryClient();
  const id = useProjectId();
  const save = useChange(async ({ path }, body: Body) => {
    const written = dataOf(await put(path.project_id, body));
    // At once, not only when all documents have been fetched again: what was written must not show as it was before for a moment,
    // nor may an answer that was asked for before it put back the old version, with which the next save would meet a conflict with itself.
    await client.cancelQueries({ queryKey: ["project", id, "documents"] });
    client.setQueryData<Documents>(["project", id, "documents"], (now) => now && withWritten(now, written as AnyDocument));
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
export function useSteps<K extends Kind>(kind: K) {
  const key = useOwnKey(kind);
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
  return useChange(async ({ path }, step: { title: string; documents: Body[] }) => {
    const body = { title: step.title, documents: step.documents };
    const written = dataOf(await api.POST("/api/projects/{project_id}/changes", { params: { path }, body }));
    client.setQueryData<Documents>(["project", path.project_id, "documents"], (now) => now && (written as AnyDocument[]).reduce(withWritten, now));
    return written;
  });
}

/** Removes a document that nothing else names. */
export function useRemove() {
  return useChange(async ({ path }, { kind, key, version }: { kind: Kind; key: string; version: number }) =>
    dataOf(
      // A road goes with all that is decided along it.
      kind === "road"
        ? await api.DELETE("/api/projects/{project_id}/roads/{key}", { params: { path: { ...path, key } } })
        : await api.DELETE("/api/projects/{project_id}/documents/{kind}/{key}", { params: { path: { ...path, kind, key }, query: { version } } }),
    ),
  );
}
