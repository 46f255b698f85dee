/** Removing a document: asked once more, and shut with the reason where others name it. */
import { Button } from "antd";
import { useState } from "react";
import { type Kind, useDocuments } from "../api/hooks";
import { useRemove } from "../api/save";

interface Props {
  document: { kind: Kind; key: string; version: number };
  label?: string;
  /** Why it must stay, besides what uses it. */
  must?: string;
  onRemoved?: () => void;
}

export function Remove({ document, label = "Remove", must, onRemoved }: Props) {
  const used = useDocuments().data?.used[`${document.kind} ${document.key}`] ?? [];
  const remove = useRemove();
  const [asking, setAsking] = useState(false);
  const why = must ?? (used.length ? `Used by: ${used.slice(0, 6).join(", ")}${used.length > 6 ? ` and ${used.length - 6} more` : ""}` : undefined);
  const press = () => (asking ? remove.mutate(document, { onSuccess: onRemoved, onSettled: () => setAsking(false) }) : setAsking(true));
  return (
    <span title={why} style={{ display: "inline-flex", alignSelf: "center" }}>
      <Button size="small" danger disabled={why !== undefined || remove.isPending} onClick={press} onBlur={() => setAsking(false)}>
        {asking ? "Really remove it?" : label}
      </Button>
    </span>
  );
}
