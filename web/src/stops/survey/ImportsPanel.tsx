/** Every import that the project keeps: which of them count, beside each other, what changed between two, and back to an older one. */
import { useQuery } from "@tanstack/react-query";
import { Button, Dropdown, Select, Switch, Tag } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf, type Schemas } from "../../api/client";
import { type SpecOf, useMayEdit, useProjectId } from "../../api/hooks";
import { Figures, Row } from "../../common/Inspector";
import { when } from "../../common/when";
import { useSurvey } from "../../plan/hooks";
import { SystemSelect } from "./SystemSelect";
import { useSurveyInUse } from "./edits";

type Import = Schemas["ImportOut"];
type Beside = SpecOf<"survey">["beside"][number];

export function ImportsPanel({ showPlace }: { showPlace: (east: number, north: number) => void }) {
  const project_id = useProjectId();
  const mayEdit = useMayEdit();
  const { spec, write } = useSurveyInUse();
  const imports = useQuery({
    queryKey: ["project", project_id, "imports", spec?.survey, spec?.beside.length],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/surveys", { params: { path: { project_id } } })),
  });
  if (!spec || !imports.data) return null;
  const beside = spec.beside;
  const inUse = [spec.survey, ...beside.map((b) => b.survey)].flatMap((id) => imports.data.find((i) => i.id === id) ?? []);
  const others = imports.data.filter((i) => !inUse.includes(i));
  return (
    <>
      <section aria-label="Imports that count" style={{ marginTop: 16 }}>
        <h3>Imports that count</h3>
        <div style={{ marginBottom: 8 }}>
          <span className="quiet">in the reference system</span>
          <SystemSelect
            label="Reference system of the project"
            value={spec.system}
            none="not known"
            disabled={!mayEdit}
            onChange={(system) => void write(() => ({ system }))}
          />
        </div>
        {inUse.map((i) => (
          <div className="card" key={i.id} role="group" aria-label={i.name}>
            <Named of={i} tag={i.id === spec.survey ? "first" : beside.find((b) => b.survey === i.id)?.background ? "background" : null} />
            {beside.some((b) => b.survey === i.id) && <Layer of={i} beside={beside} />}
          </div>
        ))}
      </section>
      {others.length > 0 && (
        <section aria-label="Other imports" style={{ marginTop: 16 }}>
          <h3>Other imports</h3>
          {others.map((i) => (
            <div className="card" key={i.id} role="group" aria-label={i.name}>
              <Named of={i} tag={null} />
              <Other of={i} inUse={inUse} showPlace={showPlace} />
            </div>
          ))}
        </section>
      )}
      <p className="quiet">All imports are kept. Taking another one is an edit like any other: undo brings this one back.</p>
    </>
  );
}

function Named({ of, tag }: { of: Import; tag: string | null }) {
  return (
    <>
      <div style={{ display: "flex", gap: 8, alignItems: "baseline" }}>
        <b style={{ overflowWrap: "anywhere" }}>{of.name}</b>
        {tag && <Tag className="sound-tag">{tag}</Tag>}
      </div>
      <p className="quiet" style={{ margin: "2px 0 6px" }}>
        {of.points.toLocaleString("en")} points, {of.who}, {when(of.at)}
      </p>
    </>
  );
}

/** An import beside the first: whether it counts, and what it is cut to. */
function Layer({ of, beside }: { of: Import; beside: Beside[] }) {
  const mayEdit = useMayEdit();
  const { write } = useSurveyInUse();
  const codes = useSurvey().data?.codes.filter((c) => c.lines > 0) ?? [];
  const mine = beside.find((b) => b.survey === of.id)!;
  const put = (next: Partial<Beside>) => void write((now) => ({ beside: now.beside.map((b) => (b.survey === of.id ? { ...b, ...next } : b)) }));
  return (
    <>
      <Row label={mine.background ? "Shown" : "Counts"}>
        <Switch
          size="small"
          aria-label={`${of.name} ${mine.background ? "is shown" : "counts"}`}
          disabled={!mayEdit}
          checked={mine.on}
          onChange={(on) => put({ on })}
        />
      </Row>
      {!mine.background && (
        <Row label="Cut to line">
          <Select
            size="small"
            aria-label={`${of.name} is cut to`}
            disabled={!mayEdit}
            value={mine.within ?? null}
            options={[
              { value: null, label: "all of it" },
              ...[...new Set([...codes.map((c) => c.code), ...(mine.within ? [mine.within] : [])])].map((code) => ({ value: code, label: code })),
            ]}
            onChange={(within: string | null) => put({ within })}
          />
        </Row>
      )}
      {mayEdit && (
        <Button size="small" onClick={() => void write((now) => ({ beside: now.beside.filter((b) => b.survey !== of.id) }))}>
          Take it out
        </Button>
      )}
    </>
  );
}

/** An import that does not count: beside those that do, or in place of one. */
function Other({ of, inUse, showPlace }: { of: Import; inUse: Import[]; showPlace: (east: number, north: number) => void }) {
  const mayEdit = useMayEdit();
  const { write } = useSurveyInUse();
  const [compared, setCompared] = useState(false);
  const take = (instead: string) =>
    void write((now) => {
      if (instead === "beside") return { beside: [...now.beside, { survey: of.id, on: true, background: false }] };
      if (Number(instead) === now.survey) return { survey: of.id };
      return { beside: now.beside.map((b) => (b.survey === Number(instead) ? { ...b, survey: of.id } : b)) };
    });
  return (
    <>
      <div style={{ display: "flex", gap: 8 }}>
        {mayEdit && (
          <Dropdown
            trigger={["click"]}
            autoFocus
            menu={{
              items: [...inUse.map((i) => ({ key: String(i.id), label: `in place of ${i.name}` })), { key: "beside", label: "beside what counts" }],
              onClick: ({ key }) => take(key),
            }}
          >
            <Button size="small">Use it</Button>
          </Dropdown>
        )}
        <Button size="small" aria-expanded={compared} onClick={() => setCompared(!compared)}>
          Compare
        </Button>
      </div>
      {compared && inUse[0] && <Changes first={of.id} second={inUse[0].id} showPlace={showPlace} />}
    </>
  );
}

/** What changed from one import to the first that counts. */
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
        From this import to the first that counts, by point number:
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
