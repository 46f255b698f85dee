/** Medians, make-ups, kerbs or materials of the project: a list, and the one that is chosen. */
import { type AnyDocument, type SpecOf, useMayEdit } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { Remove } from "../../common/Remove";
import { KerbEditor } from "./KerbEditor";
import { MedianEditor } from "./MedianEditor";
import { MakeUpEditor, MaterialEditor } from "./PartEditors";

export type PartKind = "median" | "make_up" | "kerb" | "material";

export function PartEditor({ document }: { document: AnyDocument & { kind: PartKind } }) {
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft(document.kind, document.key, document as { spec: SpecOf<PartKind>; version: number });
  if (!spec) return null;
  const disabled = !mayEdit;
  return (
    <div style={{ flex: 1, minWidth: 0, display: "flex", flexDirection: "column" }}>
      <div tabIndex={0} className="scroll">
        {document.kind === "median" && <MedianEditor spec={spec as SpecOf<"median">} change={change} disabled={disabled} />}
        {document.kind === "make_up" && <MakeUpEditor spec={spec as SpecOf<"make_up">} change={change} disabled={disabled} />}
        {document.kind === "kerb" && <KerbEditor spec={spec as SpecOf<"kerb">} change={change} disabled={disabled} />}
        {document.kind === "material" && <MaterialEditor spec={spec as SpecOf<"material">} change={change} disabled={disabled} />}
      </div>
      {mayEdit && (
        <div className="toolbar" style={{ borderTop: "1px solid var(--tin200)", borderBottom: 0, justifyContent: "flex-end" }}>
          <Remove document={document} />
        </div>
      )}
    </div>
  );
}
