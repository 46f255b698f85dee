/** The shared library and bundles, as the server speaks of them. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { api, csrfToken, dataOf, Failure, failureOf, type Schemas, lineOf } from "../../api/client";
import { useProjectId, useRefresh } from "../../api/hooks";

export type Entry = Schemas["EntryOut"];
export type Compared = Schemas["ComparedOut"];
export type LibraryKind = Entry["kind"];
export type Choice = Schemas["ChoiceIn"]["choice"];
/** Where a bundle is brought: into this project, or into the library. */
export type Target = "project" | "library";

export const KIND_WORDS: Record<LibraryKind, [string, string]> = {
  template: ["Template", "Templates"],
  median: ["Median", "Medians"],
  make_up: ["Make-up", "Make-ups"],
  kerb: ["Kerb", "Kerbs"],
  material: ["Material", "Materials"],
  report: ["Report", "Reports"],
  drawing_style: ["Drawing style", "Drawing styles"],
  mapping: ["Column mapping", "Column mappings"],
  saved_codes: ["List of codes", "Lists of codes"],
};

export function useLibrary() {
  return useQuery({ queryKey: ["library"], queryFn: async () => dataOf(await api.GET("/api/library")), placeholderData: keepPreviousData });
}

/** The text of a bundle: of the library, or of a project (all of it without items). */
export async function bundleText(from: "library" | number, items: string[]): Promise<string> {
  const query = items.map((i) => `items=${encodeURIComponent(i)}`).join("&");
  const response = await fetch(`${from === "library" ? "/api/library" : `/api/projects/${from}`}/bundle?${query}`, { headers: { "X-CSRFToken": csrfToken() } });
  if (!response.ok) throw await failureOf(response);
  return response.text();
}

export async function checkBundle(target: Target, project_id: number, text: string): Promise<Compared[]> {
  if (target === "library") return dataOf(await api.POST("/api/library/check", { body: { text } }));
  return dataOf(await api.POST("/api/projects/{project_id}/bundle/check", { params: { path: { project_id } }, body: { text } }));
}

export function useBring(target: Target) {
  const project_id = useProjectId();
  const refresh = useRefresh();
  const client = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: async (body: { text: string; choices: { kind: LibraryKind; key: string; choice: Choice }[] }) =>
      target === "library"
        ? dataOf(await api.POST("/api/library", { body }))
        : dataOf(await api.POST("/api/projects/{project_id}/bundle", { params: { path: { project_id } }, body })),
    onSuccess: async (done) => {
      await (target === "library" ? client.invalidateQueries({ queryKey: ["library"] }) : refresh());
      message.success(
        done.written.length === 0 ? "Nothing was changed" : `${done.written.length} brought ${target === "library" ? "into the library" : "into the project"}`,
      );
    },
    onError: (e) => message.error(e instanceof Failure ? e.line : "The server cannot be reached. Nothing was changed.", 6),
  });
}

/** Changes of the library itself. */
export function useLibraryChange<A>(change: (argument: A) => Promise<unknown>) {
  const client = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: change,
    onSuccess: () => client.invalidateQueries({ queryKey: ["library"] }),
    onError: (e) => message.error(lineOf(e), 6),
  });
}
