/** Templates, make-ups, kerbs and materials of the project, with the section that a change makes. */
import { PlusOutlined } from "@ant-design/icons";
import { useQuery } from "@tanstack/react-query";
import { Alert, Button } from "antd";
import { useState } from "react";
import { api, dataOf, Failure } from "../../api/client";
import { type AnyDocument, type Kind, type SectionView, type SpecOf, useDocument, useDocuments, useDocumentsOf, useMayEdit, useProjectId, useSummary } from "../../api/hooks";
import { useDraft, useRemove, useSave } from "../../api/save";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { LiveSection } from "../../drawing/LiveSection";
import { KerbEditor, MakeUpEditor, MaterialEditor } from "./PartEditors";
import { TemplateEditor } from "./TemplateEditor";

type PartKind = "template" | "make_up" | "kerb" | "material";
const GROUPS: [PartKind, string, string][] = [
  ["template", "Templates", "template"],
  ["make_up", "Make-ups", "make-up"],
  ["kerb", "Kerbs", "kerb"],
  ["material", "Materials", "material"],
];

export default function TemplatesStop() {
  const documents = useDocuments().data?.documents ?? [];
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const solved = (useSummary().data?.chainage.length ?? 0) > 0;
  const parts = documents.filter((d): d is AnyDocument & { kind: PartKind } => GROUPS.some(([k]) => k === d.kind));
  const chosen = parts.find((d) => `${d.kind}:${d.key}` === place.selection) ?? parts.find((d) => d.kind === "template" && d.key === place.selection) ?? parts.find((d) => d.kind === "template");
  const add = async (kind: PartKind, word: string) => {
    const like = chosen?.kind === kind ? chosen : parts.find((d) => d.kind === kind);
    const key = `${kind.replace("_", "-")}-${Date.now().toString(36)}`;
    const spec = { ...(like?.spec as object), name: `New ${word}` };
    if ((await save({ kind, key, version: 0, spec })) !== null) place.select(`${kind}:${key}`);
  };
  return (
    <>
      <div className="stage" style={{ flexDirection: "row", gridColumn: "1 / -1" }}>
        <nav className="side-list" aria-label="Parts">
          {GROUPS.map(([kind, title, word]) => (
            <section key={kind} aria-label={title}>
              <h3 style={{ display: "flex", justifyContent: "space-between" }}>
                {title}
                {mayEdit && <Button type="text" size="small" aria-label={`New ${word}`} icon={<PlusOutlined />} onClick={() => void add(kind, word)} />}
              </h3>
              {parts
                .filter((d) => d.kind === kind)
                .map((d) => (
                  <button key={d.key} type="button" className="list-item" aria-pressed={d === chosen} onClick={() => place.select(`${d.kind}:${d.key}`)}>
                    {d.spec.name}
                  </button>
                ))}
            </section>
          ))}
        </nav>
        <div style={{ flex: 1, minWidth: 0, display: "flex", flexDirection: "column" }}>{chosen && <Editor key={`${chosen.kind}:${chosen.key}`} document={chosen} solved={solved} />}</div>
      </div>
    </>
  );
}

function Editor({ document, solved }: { document: AnyDocument & { kind: PartKind }; solved: boolean }) {
  const mayEdit = useMayEdit();
  const { spec, pending, change } = useDraft(document.kind, document.key, document as { spec: SpecOf<PartKind>; version: number });
  const preview = usePreview(document.kind, document.key, pending && solved ? spec : undefined);
  if (!spec) return null;
  const shared = { disabled: !mayEdit };
  return (
    <>
      {solved && (
        <div style={{ flex: "1 1 45%", minHeight: 200, borderBottom: "1px solid var(--tin200)" }}>
          <LiveSection instead={preview.section} />
        </div>
      )}
      {preview.error && <Alert banner type="error" title={preview.error} />}
      <div style={{ flex: "1 1 55%", minHeight: 0, overflow: "auto", background: "var(--white)" }}>
        {document.kind === "template" && <TemplateEditor spec={spec as SpecOf<"template">} change={change} {...shared} />}
        {document.kind === "make_up" && <MakeUpEditor spec={spec as SpecOf<"make_up">} change={change} {...shared} />}
        {document.kind === "kerb" && <KerbEditor spec={spec as SpecOf<"kerb">} change={change} {...shared} />}
        {document.kind === "material" && <MaterialEditor spec={spec as SpecOf<"material">} change={change} {...shared} />}
      </div>
      <PartBar chosen={document} />
    </>
  );
}

/** The current section with an unsaved document, straight from the core. */
function usePreview(kind: Kind, key: string, spec: unknown) {
  const project_id = useProjectId();
  const { index } = usePlace();
  const asked = useQuery({
    queryKey: ["project", project_id, "preview", kind, key, index, spec],
    queryFn: async () =>
      dataOf(
        await api.POST("/api/projects/{project_id}/model/preview/{key}/{index}", {
          params: { path: { project_id, key, index } },
          body: { kind, spec, version: 0 } as never,
        }),
      ) as SectionView,
    enabled: spec !== undefined && index >= 0,
    retry: false,
    gcTime: 0,
  });
  return { section: spec === undefined ? undefined : asked.data, error: spec !== undefined && asked.error instanceof Failure ? asked.error.line : null };
}

/** Where a template is applied, what is wrong with templates, and removing a part. */
function PartBar({ chosen }: { chosen: AnyDocument & { kind: PartKind } }) {
  const problems = useSummary().data?.problems.filter((p) => p.subject === "Templates") ?? [];
  const place = usePlace();
  const mayEdit = useMayEdit();
  const ranges = useDocument("template_plan")?.spec.ranges ?? [];
  const templates = useDocumentsOf("template");
  const [asking, setAsking] = useState(false);
  const remove = useRemove();
  const mine = ranges.filter((r) => r.template === chosen.key);
  return (
    <div className="toolbar" style={{ borderTop: "1px solid var(--tin200)", borderBottom: 0 }}>
      {chosen.kind === "template" && (
        <span>
          {mine.length === 0 ? "Applied nowhere yet: mark a range on the strip with Shift+drag and choose “Apply template”." : "Applied "}
          {mine.map((r) => (
            <Button key={r.from_chainage} size="small" type="link" onClick={() => place.goToChainage((r.from_chainage + r.to_chainage) / 2)}>
              {chainageText(r.from_chainage, 0)} to {chainageText(r.to_chainage, 0)}
            </Button>
          ))}
        </span>
      )}
      {problems.map((p, i) => (
        <Button key={i} size="small" danger type="link" title={p.message} onClick={() => place.goToChainage(p.chainage_from)}>
          {p.message.length > 60 ? `${p.message.slice(0, 58)}…` : p.message}
        </Button>
      ))}
      <span style={{ flex: 1 }} />
      {mayEdit && (chosen.kind !== "template" || templates.length > 1) && (
        <Button size="small" danger onClick={() => (asking ? remove.mutate(chosen, { onSettled: () => setAsking(false) }) : setAsking(true))} onBlur={() => setAsking(false)}>
          {asking ? "Really remove it?" : "Remove"}
        </Button>
      )}
    </div>
  );
}
