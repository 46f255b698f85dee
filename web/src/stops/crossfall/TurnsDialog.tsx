/** How every curve turns by the project's standard: figures and key chainages, to read and to copy. */
import { Button } from "antd";
import { useState } from "react";
import { api, dataOf } from "../../api/client";
import { useDocument, useModel } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { CopyRows } from "../../common/CopyRows";
import { StandardsDialog } from "../../common/StandardsDialog";
import type { Operation } from "./operations";
import { Dialog } from "../../common/Dialog";

type Asked = Extract<Operation, { kind: "superelevate" }>;

export function TurnsDialog({ asked }: { asked: Asked }) {
  const place = usePlace();
  const standard = useDocument("standards")?.spec.superelevation.name;
  const [open, setOpen] = useState(false);
  const [editing, setEditing] = useState(false);
  const found =
    useModel("superelevation", async (of) => dataOf(await api.POST("/api/projects/{project_id}/crossfalls/superelevation", { params: of, body: asked })), [
      asked,
    ]).data ?? [];
  const remarks = found.flatMap((c) => c.remarks).length;
  return (
    <>
      <p className="quiet" style={{ margin: "6px 0" }}>
        By {standard ?? "the standard"}: {found.filter((c) => c.e_pct > 0).length} of {found.length} curves turn
        {remarks > 0 ? `, ${remarks} remark${remarks === 1 ? "" : "s"}` : ""}.
      </p>
      <span style={{ display: "flex", gap: 6, marginBottom: 6 }}>
        <Button size="small" onClick={() => setOpen(true)}>
          Key chainages
        </Button>
        <Button size="small" onClick={() => setEditing(true)}>
          Standards
        </Button>
      </span>
      {editing && <StandardsDialog page="superelevation" close={() => setEditing(false)} />}
      <Dialog
        open={open}
        onCancel={() => setOpen(false)}
        width={1000}
        title="How the curves turn"
        footer={
          <span style={{ display: "flex", gap: 6, justifyContent: "flex-end" }}>
            <CopyRows
              head={["From", "To", "R m", "e %", "Key", "Chainage"]}
              rows={found.flatMap((c) => c.keys.map((k) => [c.start, c.end, c.radius.toFixed(2), c.e_pct, k.name, k.chainage.toFixed(3)]))}
            />
            <Button size="small" onClick={() => setOpen(false)}>
              Close
            </Button>
          </span>
        }
      >
        <div tabIndex={0} style={{ maxHeight: 480, overflow: "auto" }}>
          <table className="grid-table" aria-label="Key chainages">
            <thead>
              <tr>
                <th>Curve</th>
                <th className="num">R m</th>
                <th>turns</th>
                <th className="num">e %</th>
                <th className="num">runoff m</th>
                <th className="num">transitions m</th>
                <th>Key chainages</th>
                <th>Remarks</th>
              </tr>
            </thead>
            <tbody>
              {found.map((c) => (
                <tr key={c.start}>
                  <td className="mono" style={{ whiteSpace: "nowrap" }}>
                    <button type="button" className="link" onClick={() => place.goToChainage(c.start)}>
                      {chainageText(c.start, 1)}
                    </button>
                    {" to "}
                    {chainageText(c.end, 1)}
                  </td>
                  <td className="num">{c.radius.toFixed(1)}</td>
                  <td>{c.right ? "right" : "left"}</td>
                  <td className="num">{c.e_pct > 0 ? c.e_pct.toFixed(1) : "crown"}</td>
                  <td className="num">{c.e_pct > 0 ? c.runoff.toFixed(1) : ""}</td>
                  <td className="num">{c.transitions.map((t) => t.toFixed(0)).join(" / ")}</td>
                  <td className="mono" style={{ fontSize: 11 }}>
                    {c.keys.map((k, i) => (
                      <div key={i}>
                        {chainageText(k.chainage, 2)} {k.name}
                      </div>
                    ))}
                  </td>
                  <td style={{ color: "var(--fault)" }}>{c.remarks.join("; ")}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </Dialog>
    </>
  );
}
