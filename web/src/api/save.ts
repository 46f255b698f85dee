/** Saving a document, with the choice between two versions when somebody else was quicker. */
import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { createElement, useCallback, useEffect, useRef, useState } from "react";
import { api, dataOf, Failure } from "./client";
import { type Documents, type Kind, type SpecOf, useChange, useProjectId, useRefresh } from "./hooks";
import { useCounted } from "./pending";

type Body = Parameters<typeof put>[1];

function put(projectId: number, body: { kind: Kind; key: string; spec: unknown; version: number }) {
  const { key, ...payload } = body;
  return api.PUT("/api/projects/{project_id}/documents/{key}", {
    params: { path: { project_id: projectId, key } },
    body: payload as never,
  });
}

/** Writes a document; the answer is its new version, or null when it was not written. */
export function useSave() {
  const { modal } = App.useApp();
  const refresh = useRefresh();
  const client = useQueryClient();
  const id = useProjectId();
  const save = useChange(async (projectId, body: Body) => dataOf(await put(projectId, body)), true);
  const { mutateAsync } = save;
  return useCallback(
    async (body: Body): Promise<number | null> => {
      try {
        return (await mutateAsync(body)).version;
      } catch (error) {
        if (!(error instanceof Failure) || error.status !== 409) return null;
        const theirs = error.told.current as { version: number; spec: unknown } | null;
        const mine = await modal.confirm({
          title: "Two versions",
          width: 560,
          content: createElement(
            "div",
            null,
            createElement("p", null, error.line),
            createElement("pre", { className: "mono", style: { maxHeight: 240, overflow: "auto" } }, differences(theirs?.spec, body.spec)),
          ),
          okText: "Keep mine",
          cancelText: "Take theirs",
        });
        await refresh();
        if (!mine) return null;
        const now = client.getQueryData<Documents>(["project", id, "documents"]);
        const version = now?.documents.find((d) => d.kind === body.kind && d.key === body.key)?.version ?? 0;
        return (await mutateAsync({ ...body, version })).version;
      }
    },
    [mutateAsync, modal, refresh, client, id],
  );
}

/** Writes several documents as one step of the history, all or nothing. */
export function useSaveTogether() {
  return useChange(async (project_id, step: { title: string; documents: Body[] }) => dataOf(await api.POST("/api/projects/{project_id}/changes", { params: { path: { project_id } }, body: step as never })));
}

/** Removes a document that nothing else names. */
export function useRemove() {
  return useChange(async (project_id, d: { kind: Kind; key: string; version: number }) =>
    dataOf(await api.DELETE("/api/projects/{project_id}/documents/{kind}/{key}", { params: { path: { project_id, kind: d.kind, key: d.key }, query: { version: d.version } } })),
  );
}

/** Lines that differ between two specs, theirs and mine. */
function differences(theirs: unknown, mine: unknown): string {
  const flat = (value: unknown, path: string, out: Map<string, string>): Map<string, string> => {
    if (value !== null && typeof value === "object") {
      for (const [key, inner] of Object.entries(value)) flat(inner, path ? `${path}.${key}` : key, out);
    } else out.set(path, JSON.stringify(value));
    return out;
  };
  const a = flat(theirs, "", new Map());
  const b = flat(mine, "", new Map());
  const paths = [...new Set([...a.keys(), ...b.keys()])].filter((p) => a.get(p) !== b.get(p));
  return paths.map((p) => `${p}\n  theirs ${a.get(p) ?? "–"}\n  mine   ${b.get(p) ?? "–"}`).join("\n") || "no difference";
}

/**
 * A document being edited: what is typed shows at once and is saved shortly after, one save after another.
 * While nothing is pending it follows the saved version.
 */
export function useDraft<K extends Kind>(kind: K, key: string, saved: { spec: SpecOf<K>; version: number } | undefined) {
  const [draft, setDraft] = useState<Draft<K> | null>(null);
  const save = useSave();
  const timer = useRef<number>(undefined);
  const latest = useRef<Draft<K> | null>(null);
  const sent = useRef<Draft<K> | null>(null);
  const saving = useRef(Promise.resolve());
  /** The version that what is typed rests on. */
  const base = useRef({ key, version: 0 });
  const flush = useCallback(() => {
    window.clearTimeout(timer.current);
    saving.current = saving.current.then(async () => {
      const now = latest.current;
      if (!now || now === sent.current) return;
      sent.current = now;
      const version = await save({ kind, key: now.key, spec: now.spec, version: base.current.version });
      if (version !== null) base.current = { key: now.key, version };
      if (latest.current === now) latest.current = null;
      setDraft((d) => (d === now ? null : d));
    });
  }, [kind, save]);
  const change = useCallback(
    (spec: SpecOf<K>) => {
      if (!saved) return;
      if (!latest.current) base.current = { key, version: base.current.key === key ? Math.max(base.current.version, saved.version) : saved.version };
      latest.current = { key, spec };
      setDraft(latest.current);
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(flush, 600);
    },
    [saved, key, flush],
  );
  useEffect(() => flush, [flush, key]);
  useCounted(draft !== null);
  return { spec: draft?.key === key ? draft.spec : saved?.spec, pending: draft !== null, change };
}

interface Draft<K extends Kind> {
  key: string;
  spec: SpecOf<K>;
}
