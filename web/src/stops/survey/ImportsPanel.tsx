/** Every import that the project keeps: which one counts, what changed between two, and back to an older one. */
import { useQuery } from "@tanstack/react-query";
import { Button, Tag } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf } from "../../api/client";
import { useDocument, useMayEdit, useProjectId } from "../../api/hooks";
import { useSave } from "../../api/save";
import { Figures } from "../../common/Inspector";
import { when } from "../../common/when";

export function ImportsPanel({ showPlace }: { showPlace: (east: number, north: number) => void }) {
  const project_id = useProjectId();
  const inUse = useDocument("survey");
  const mayEdit = useMayEdit();
  const save = useSave();
  const [compared, setCompared] = useState<number | null>(null);
  const imports = useQuery({
    queryKey: ["project", project_id, "imports", inUse?.version],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/surveys", { params: { path: { project_id } } })),
  });
  const current = imports.data?.find((i) => i.in_use)?.id;
  return (
    <section aria-label="Imports" style={{ marginTop: 16 }}>
      <h3>Imports</h3>
      {(imports.data ?? []).map((i) => (
        <div className="card" key={i.id}>
          <div style={{ display: "flex", gap: 8, alignItems: "baseline" }}>
            <b style={{ overflowWrap: "anywhere" }}>{i.name}</b>
            {i.in_use && <Tag className="sound-tag">in use</Tag>}
          </div>
          <p className="quiet" style={{ margin: "2px 0 6px" }}>
            {i.points.toLocaleString("en")} points, {i.who}, {when(i.at)}
          </p>
          {!i.in_use && (
            <div style={{ display: "flex", gap: 8 }}>
              {mayEdit && (
                <Button
                  size="small"
                  onClick={() =>
                    void save({ kind: "survey", key: "main", version: inUse?.version ?? 0, spec: { unit: "metre", ...inUse?.spec, survey: i.id } })
                  }
                >
                  Use this one
                </Button>
              )}
              <Button size="small" aria-expanded={compared === i.id} onClick={() => setCompared(compared === i.id ? null : i.id)}>
                Compare
              </Button>
            </div>
          )}
          {compared === i.id && current !== undefined && current !== i.id && <Changes first={i.id} second={current} showPlace={showPlace} />}
        </div>
      ))}
      <p className="quiet">All imports are kept. Taking another one is an edit like any other: undo brings this one back.</p>
    </section>
  );
}

/** What changed from one import to the one in use. */
function Changes({ first, second, showPlace }: { first: number; second: number; showPlace: (east: number, north: number) => void }) {
  const project_id = useProjectId();
  const { data, error } = useQuery({
    queryKey: ["project", project_id, "import changes", first, second],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/surveys/changes", { params: { path: { project_id }, query: { first, second } } })),
    staleTime: Infinity,
  });
  if (error) return <p role="alert">{lineOf(error)}</p>;
  if (!data) return <p className="quiet">Comparing…</p>;
  return (
    <div role="group" aria-label="Changes" style={{ marginTop: 8 }}>
      <p className="quiet" style={{ margin: "0 0 4px" }}>
        From this import to the one in use, by point number:
      </p>
      <Figures
        of={[
          ["the same", String(data.same), ""],
          ["moved", String(data.moved), ""],
          ["farthest", data.farthest.toFixed(3), "m"],
          ["greatest rise", data.rise.toFixed(3), "m"],
          ["other code", String(data.recoded), ""],
          ["gone", String(data.only_first), ""],
          ["new", String(data.only_second), ""],
        ]}
      />
      {data.listed.slice(0, 20).map((m) => (
        <Button key={m.number} type="link" size="small" onClick={() => showPlace(m.east, m.north)}>
          {m.number}: {m.by.toFixed(3)} m, {m.rise >= 0 ? "+" : "−"}
          {Math.abs(m.rise).toFixed(3)} m
        </Button>
      ))}
      {data.moved > 20 && <p className="quiet">and {data.moved - 20} more</p>}
    </div>
  );
}
