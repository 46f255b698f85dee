/** What a new release reckons otherwise than the one before, told at the first opening: the bill before and after, with the rules that changed. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../api/client";
import { useChange, useMayEdit, useProjectId } from "../api/hooks";
import { Dialog } from "../common/Dialog";

type Item = Schemas["ChangedFigure"];

const UNITS: Record<string, string> = { m3: "m³", m2: "m²", "m not known": "m not known" };
const figure = (v: number | null) => (v === null ? "" : v.toLocaleString("en", { minimumFractionDigits: 1, maximumFractionDigits: 1 }));

/** The rules behind some figures, each once, numbered as the rows name them. */
function numbered(items: readonly Item[]): string[] {
  return [...new Set(items.flatMap((i) => i.rules))];
}

function difference({ before, after }: Item): string {
  const by = (after ?? 0) - (before ?? 0);
  const share = before ? ` (${by > 0 ? "+" : "−"}${Math.abs((100 * by) / before).toFixed(1)} %)` : "";
  return `${by > 0 ? "+" : "−"}${figure(Math.abs(by))}${share}`;
}

export function SinceRelease() {
  const id = useProjectId();
  const mayEdit = useMayEdit();
  const [later, setLater] = useState(false);
  const { data: found } = useQuery({
    queryKey: ["since-release", id],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/since-release", { params: { path: { project_id: id } } })) ?? null,
    staleTime: Infinity,
    retry: false,
  });
  const seen = useChange(async ({ path }) => dataOf(await api.POST("/api/projects/{project_id}/since-release", { params: { path } })));
  if (!found || later || found.items.length === 0) return null;
  const rules = numbered(found.items);
  const close = () => setLater(true);
  return (
    <Dialog
      title={`Figures that release ${found.now} reckons otherwise than ${found.before}`}
      open
      width={760}
      okText={mayEdit ? "Seen: go on with these figures" : "Close"}
      cancelText="Tell me again next time"
      cancelButtonProps={mayEdit ? undefined : { style: { display: "none" } }}
      confirmLoading={seen.isPending}
      onCancel={close}
      onOk={() => (mayEdit ? void seen.mutateAsync(undefined).then(close, () => undefined) : close())}
    >
      {found.edited && <p>Documents were changed since release {found.before} reckoned these figures: not all that differs comes of the new release.</p>}
      <div style={{ maxHeight: 300, overflow: "auto" }} tabIndex={0} role="group" aria-label="Figures that differ">
        <table className="grid-table" aria-label="Figures before and after">
          <thead>
            <tr>
              <th>Item</th>
              <th>Material</th>
              <th className="num">Before</th>
              <th className="num">Now</th>
              <th>Unit</th>
              <th className="num">Difference</th>
              <th>Rules</th>
            </tr>
          </thead>
          <tbody>
            {found.items.map((item) => (
              <tr key={`${item.name} ${item.material} ${item.unit}`}>
                <td>{item.name}</td>
                <td className="quiet">{item.material}</td>
                <td className="num">{figure(item.before)}</td>
                <td className="num">{figure(item.after)}</td>
                <td>{UNITS[item.unit] ?? item.unit}</td>
                <td className="num">{difference(item)}</td>
                <td>{item.rules.map((r) => rules.indexOf(r) + 1).join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <ol aria-label="Rules that changed">
        {rules.map((words) => (
          <li key={words}>{words}.</li>
        ))}
      </ol>
    </Dialog>
  );
}
