/** What a bundle would change, with a choice for each item that differs, before anything is written. */
import { useQuery } from "@tanstack/react-query";
import { Alert, Select } from "antd";
import { useState } from "react";
import { lineOf } from "../../api/client";
import { useProjectId } from "../../api/hooks";
import { type Choice, type Compared, checkBundle, KIND_WORDS, type Target, useBring } from "./library";
import { Dialog } from "../../common/Dialog";

const STATES: Record<Compared["state"], string> = { new: "new", same: "the same is there", different: "another is there" };

export function BringDialog({ target, text, title, close }: { target: Target; text: string; title: string; close: () => void }) {
  const project = useProjectId();
  const [choices, setChoices] = useState<Record<string, Choice>>({});
  const checked = useQuery({ queryKey: ["bundle", target, project, text], queryFn: () => checkBundle(target, project, text), retry: false, gcTime: 0 });
  const bring = useBring(target);
  const items = checked.data ?? [];
  const nameOf = (c: Compared) => `${c.kind} ${c.key}`;
  const change = items.filter((c) => c.state === "new" || (c.state === "different" && (choices[nameOf(c)] ?? "keep") !== "keep")).length;
  return (
    <Dialog
      title={title}
      open
      width={640}
      okText={change === 0 ? "Nothing to bring" : `Bring ${change}`}
      okButtonProps={{ disabled: change === 0, loading: bring.isPending }}
      onCancel={close}
      onOk={() =>
        bring.mutate(
          { text, choices: items.filter((c) => c.state === "different").map((c) => ({ kind: c.kind, key: c.key, choice: choices[nameOf(c)] ?? "keep" })) },
          { onSuccess: close },
        )
      }
    >
      {checked.error && <Alert type="error" title={lineOf(checked.error)} />}
      <div tabIndex={0} style={{ maxHeight: 380, overflow: "auto" }}>
        <table className="grid-table" aria-label="What would be brought">
          <thead>
            <tr>
              <th>What</th>
              <th>Name</th>
              <th>Here</th>
              <th>Do</th>
            </tr>
          </thead>
          <tbody>
            {items.toReversed().map((c) => (
              <tr key={nameOf(c)}>
                <td>{KIND_WORDS[c.kind][0]}</td>
                <td>{c.name}</td>
                <td className="quiet">
                  {STATES[c.state]}
                  {c.state === "different" && c.theirs !== c.name && ` (“${c.theirs}”)`}
                </td>
                <td>
                  {c.state === "different" ? (
                    <Select<Choice>
                      size="small"
                      style={{ width: 170 }}
                      aria-label={`What to do with ${c.name}`}
                      value={choices[nameOf(c)] ?? "keep"}
                      options={[
                        { value: "keep", label: "keep what is here" },
                        ...(c.may_overwrite ? [{ value: "overwrite" as const, label: "overwrite it" }] : []),
                        { value: "both", label: "bring beside it" },
                      ]}
                      onChange={(v) => setChoices({ ...choices, [nameOf(c)]: v })}
                    />
                  ) : (
                    <span className="quiet">{c.state === "new" ? "bring" : "leave"}</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Dialog>
  );
}
