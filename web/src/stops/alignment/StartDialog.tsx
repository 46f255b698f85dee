/** Another start chainage: what stands along the road moves with it, or stays at the chainages that are written there. */
import { Button } from "antd";
import { api, dataOf } from "../../api/client";
import { type DocumentOf, useChange, useDocument } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { Dialog } from "../../common/Dialog";

interface Props {
  document: DocumentOf<"alignment">;
  /** The chainage typed. */
  start: number;
  /** Only the alignment's own start is written. */
  leave: () => void;
  close: () => void;
}

/** Whether something stands along the road whose place depends on the start chainage. */
export function useStandsAlong(): boolean {
  const treatments = useDocument("treatments")?.spec.ranges.length ?? 0;
  const templates = useDocument("template_plan")?.spec.ranges.length ?? 0;
  return treatments + templates > 0;
}

export function StartDialog({ document, start, leave, close }: Props) {
  const move = useChange(async (of, start_chainage: number) =>
    dataOf(await api.POST("/api/projects/{project_id}/alignment/start", { params: of, body: { start_chainage, version: document.version } })),
  );
  return (
    <Dialog
      open
      title={`The road begins at ${chainageText(start)}`}
      onCancel={close}
      footer={
        <>
          <Button onClick={close}>Cancel</Button>
          <Button onClick={() => (leave(), close())}>Leave it where it is</Button>
          <Button type="primary" loading={move.isPending} onClick={() => move.mutate(start, { onSettled: close })}>
            Move it along
          </Button>
        </>
      }
    >
      <p>
        It begins at {chainageText(document.spec.start_chainage)} now. Treatments, templates, levels, guides and all else that stands along the road can move
        with it, as one step, or stay at the chainages that are written there: what then lies beyond the road is among the problems.
      </p>
    </Dialog>
  );
}
