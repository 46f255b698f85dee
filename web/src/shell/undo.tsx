/** Undo and redo of one's own edits, also where somebody else changed the document since. */
import { App } from "antd";
import { useCallback } from "react";
import { api, dataOf, Failure, isAway, lineOf } from "../api/client";
import { NOT_DONE, useChange } from "../api/hooks";

type Way = "undo" | "redo";
type How = "exactly" | "beside" | "pass_over";

export function useUndoRedo(): Record<Way, () => void> {
  const { modal, message } = App.useApp();
  const { mutateAsync } = useChange(
    async ({ path }, { way, how }: { way: Way; how: How }) => dataOf(await api.POST(`/api/projects/{project_id}/${way}`, { params: { path, query: { how } } })),
    true,
  );
  const go = useCallback(
    async (way: Way) => {
      for (let how: How | null = "exactly"; how;) {
        try {
          await mutateAsync({ way, how });
          return;
        } catch (error) {
          if (isAway(error)) void message.error({ key: "unreachable", content: NOT_DONE, duration: 8 });
          if (!(error instanceof Failure) || error.status !== 409) return;
          // Where the two changes touch, only passing over is left.
          const touching = (error.told.current as { touching: string[] }).touching;
          const beside = touching.length === 0;
          const sure = await modal.confirm({
            title: beside ? `${NAMES[way]} beside somebody else's change?` : "Pass over this edit?",
            width: 520,
            content: (
              <>
                <p>{lineOf(error)}</p>
                <p>
                  {beside
                    ? "Only what your edit changed is put back; the other change stays."
                    : `Both changed ${touching.join(", ")}. Passed over, your edit stays as it is and the one before it is next.`}
                </p>
              </>
            ),
            okText: beside ? `${NAMES[way]} beside it` : "Pass over it",
          });
          how = sure ? (beside ? "beside" : "pass_over") : null;
        }
      }
    },
    [mutateAsync, modal, message],
  );
  const undo = useCallback(() => void go("undo"), [go]);
  const redo = useCallback(() => void go("redo"), [go]);
  return { undo, redo };
}

const NAMES: Record<Way, string> = { undo: "Undo", redo: "Redo" };
