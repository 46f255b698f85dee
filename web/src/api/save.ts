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
    // At once, not only when all documents have been fetched again: what was written must not show as it was before for a moment.
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

/** Writes several documents as one step of the history, all or nothing. */
export function useSaveTogether() {
  return useChange(async (project_id, step: { title: string; documents: Body[] }) =>
    dataOf(await api.POST("/api/projects/{project_id}/changes", { params: { path: { project_id } }, body: { title: step.title, documents: step.documents } })),
  );
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
