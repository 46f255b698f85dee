/** All versions of an entry of the shared library: any of them into the project; of one's own, any of them made the newest again. */
import { useQuery } from "@tanstack/react-query";
import { Alert, Button } from "antd";
import { api, dataOf, lineOf } from "../../api/client";
import { useMayEdit } from "../../api/hooks";
import { when } from "../../common/when";
import { type Entry, useLibraryChange } from "./library";
import { Dialog } from "../../common/Dialog";

export function VersionsDialog({ entry, bring, close }: { entry: Entry; bring: (item: string, title: string) => void; close: () => void }) {
  const { kind, key } = entry;
  const mayEdit = useMayEdit();
  const asked = useQuery({
    queryKey: ["library", "versions", kind, key],
    queryFn: async () => dataOf(await api.GET("/api/library/{kind}/{key}/versions", { params: { path: { kind, key } } })),
  });
  const again = useLibraryChange(async (number: number) =>
    dataOf(await api.POST("/api/library/{kind}/{key}/versions/{number}", { params: { path: { kind, key, number } } })),
  );
  const newest = asked.data?.[0]?.number;
  return (
    <Dialog title={`Versions of “${entry.name}”`} open width={680} footer={<Button onClick={close}>Close</Button>} onCancel={close}>
      {asked.error && <Alert type="error" title={lineOf(asked.error)} />}
      <div tabIndex={0} className="scroll" style={{ maxHeight: 380 }}>
        <table className="grid-table" aria-label="Versions">
          <thead>
            <tr>
              <th>Version</th>
              <th>When</th>
              <th>Who</th>
              <th>Name</th>
              <th aria-label="Actions" />
            </tr>
          </thead>
          <tbody>
            {asked.data?.map((v) => (
              <tr key={v.number}>
                <td className="mono">{v.number}</td>
                <td>{when(v.at)}</td>
                <td>{v.by || "an account that is gone"}</td>
                <td className={v.name === null ? "quiet" : undefined}>{v.name ?? "taken out of the library"}</td>
                <td style={{ textAlign: "right", whiteSpace: "nowrap" }}>
                  {v.name !== null && mayEdit && (
                    <Button size="small" onClick={() => bring(`${kind}:${key}@${v.number}`, `Version ${v.number} of “${v.name}” into the project`)}>
                      Bring into the project
                    </Button>
                  )}{" "}
                  {v.name !== null && entry.mine && v.number !== newest && (
                    <Button size="small" loading={again.isPending} onClick={() => again.mutate(v.number)}>
                      Make it the newest
                    </Button>
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
