/** The shared library: what is in it, favourites first; into the project, from other projects, as a file out and in. */
import { DeleteOutlined, StarFilled, StarOutlined } from "@ant-design/icons";
import { useQuery } from "@tanstack/react-query";
import { App, Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf } from "../../api/client";
import { useDocuments, useMayEdit, useProject, useProjectId } from "../../api/hooks";
import { OpenFile } from "../../common/OpenFile";
import { BringDialog } from "./BringDialog";
import { VersionsDialog } from "./VersionsDialog";
import { bundleText, type Entry, KIND_WORDS, type LibraryKind, type Target, useLibrary, useLibraryChange } from "./library";

const KINDS = Object.keys(KIND_WORDS) as LibraryKind[];

/** What is known of an item of a project: nobody put it into the library. */
const PLAIN = { by: "", mine: false, version: 0, taken_out: false, favourite: false, needs: [] };

/** The entries of a library, which of them are chosen, and what is done with those. */
function useLibraryPage() {
  const project = useProject().data;
  const id = useProjectId();
  const mayEdit = useMayEdit();
  const { message } = App.useApp();
  const entries = useLibrary().data ?? [];
  const documents = useDocuments().data?.documents ?? [];
  const projects = useQuery({ queryKey: ["projects"], queryFn: async () => dataOf(await api.GET("/api/projects")) }).data ?? [];
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [from, setFrom] = useState<"library" | number>("library");
  const [search, setSearch] = useState("");
  const [bring, setBring] = useState<{ target: Target; text: string; title: string } | null>(null);
  const [versions, setVersions] = useState<Entry | null>(null);
  const like = useLibraryChange(async (e: Entry) =>
    api.PUT("/api/library/favourites/{kind}/{key}", { params: { path: { kind: e.kind, key: e.key } }, body: { on: !e.favourite } }),
  );
  const remove = useLibraryChange(async (e: Entry) => api.DELETE("/api/library/{kind}/{key}", { params: { path: { kind: e.kind, key: e.key } } }));
  const theirs = useQuery({
    queryKey: ["project", from, "bundle"],
    queryFn: async () => (JSON.parse(await bundleText(from, [])) as { items: { kind: LibraryKind; key: string; spec: { name: string } }[] }).items,
    enabled: from !== "library" && from !== id,
  }).data;
  const own = documents.filter((d): d is typeof d & { kind: LibraryKind; spec: { name: string } } => KINDS.includes(d.kind as LibraryKind));
  const listed: Entry[] =
    from === "library" ? entries : (from === id ? own : (theirs ?? [])).map((d) => ({ kind: d.kind, key: d.key, name: d.spec.name, ...PLAIN }));
  const found = listed.filter((e) => e.name.toLowerCase().includes(search.trim().toLowerCase())).sort((a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind));
  const itemOf = (e: Entry) => `${e.kind}:${e.key}`;
  const items = [...chosen].filter((c) => listed.some((e) => itemOf(e) === c && !e.taken_out));
  const toggle = (item: string) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(item)) next.add(item);
      return next;
    });
  const begin = async (target: Target, source: "library" | number, title: string, what = items) => {
    try {
      setBring({ target, text: await bundleText(source, what), title });
    } catch (e) {
      message.error(lineOf(e));
    }
  };
  const save = async () => {
    const text = await bundleText(from, items);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = `${(from === "library" ? "library" : (projects.find((p) => p.id === from)?.name ?? "project")).replace(/[^A-Za-z0-9]+/g, "-")}_templates.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return {
    project,
    id,
    mayEdit,
    projects,
    chosen,
    setChosen,
    from,
    setFrom,
    search,
    setSearch,
    bring,
    setBring,
    versions,
    setVersions,
    like,
    remove,
    found,
    itemOf,
    items,
    toggle,
    begin,
    save,
  };
}
type LibraryPageWork = ReturnType<typeof useLibraryPage>;

export function LibraryPage() {
  const work = useLibraryPage();
  const { bring, setBring, versions, setVersions, begin } = work;
  return (
    <div style={{ flex: 1, minWidth: 0, display: "flex", flexDirection: "column" }}>
      <LibraryTools {...work} />
      <LibraryTable {...work} />
      {versions && <VersionsDialog entry={versions} close={() => setVersions(null)} bring={(item, title) => void begin("project", "library", title, [item])} />}
      {bring && <BringDialog {...bring} close={() => setBring(null)} />}
    </div>
  );
}

function LibraryTools({ project, id, mayEdit, projects, setChosen, from, setFrom, search, setSearch, setBring, items, begin, save }: LibraryPageWork) {
  return (
    <div className="toolbar">
      <Select
        size="small"
        style={{ width: 240 }}
        aria-label="Where from"
        value={from}
        options={[
          { value: "library", label: "Shared library" },
          { value: id, label: `This project (${project?.name ?? ""})` },
          ...projects.filter((p) => p.id !== id).map((p) => ({ value: p.id, label: `Project ${p.name}` })),
        ]}
        onChange={(v) => {
          setFrom(v);
          setChosen(new Set());
        }}
      />
      <Input
        size="small"
        style={{ width: 160 }}
        allowClear
        aria-label="Find in the list"
        placeholder="Find"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
      />
      <span style={{ flex: 1 }} />
      {from !== id && mayEdit && (
        <Button size="small" type="primary" disabled={items.length === 0} onClick={() => void begin("project", from, "Bring into the project")}>
          Bring into the project
        </Button>
      )}
      {from !== "library" && (
        <Button
          size="small"
          type={from === id ? "primary" : "default"}
          disabled={items.length === 0}
          onClick={() => void begin("library", from, "Keep in the library")}
        >
          Keep in the library
        </Button>
      )}
      <Button size="small" disabled={items.length === 0} onClick={() => void save()}>
        Save as file
      </Button>
      <OpenFile
        label="Open file"
        accept=".json,application/json"
        disabled={from !== "library" && (!mayEdit || from !== id)}
        take={async (file) =>
          setBring({
            target: from === "library" ? "library" : "project",
            text: await file.text(),
            title: `From ${file.name} into ${from === "library" ? "the library" : "the project"}`,
          })
        }
      />
    </div>
  );
}

function LibraryTable({ chosen, from, setVersions, like, remove, found, itemOf, toggle }: LibraryPageWork) {
  return (
    <div tabIndex={0} className="scroll">
      <table className="grid-table" aria-label="Library">
        <thead>
          <tr>
            <th aria-label="Chosen" />
            <th>Name</th>
            <th>What</th>
            <th>Comes with</th>
            <th>Put in by</th>
            <th>Version</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {found.map((e) => (
            <tr key={itemOf(e)} className={chosen.has(itemOf(e)) ? "now" : undefined}>
              <td>
                <Checkbox aria-label={`Choose ${e.name}`} disabled={e.taken_out} checked={chosen.has(itemOf(e))} onChange={() => toggle(itemOf(e))} />
              </td>
              <td className={e.taken_out ? "quiet" : undefined}>
                {e.name}
                {e.taken_out && ", taken out"}
              </td>
              <td className="quiet">{KIND_WORDS[e.kind][0]}</td>
              <td className="quiet">{e.needs.join("\u2002·\u2002")}</td>
              <td className="quiet" style={{ whiteSpace: "nowrap" }}>
                {from === "library" ? e.by || "starting library" : ""}
              </td>
              <td>
                {e.version > 0 && (
                  <Button type="link" size="small" aria-label={`Versions of ${e.name}`} onClick={() => setVersions(e)}>
                    {e.version}
                  </Button>
                )}
              </td>
              <td style={{ whiteSpace: "nowrap" }}>
                {from === "library" && (
                  <Button
                    type="text"
                    size="small"
                    aria-pressed={e.favourite}
                    aria-label={`Favourite ${e.name}`}
                    icon={e.favourite ? <StarFilled style={{ color: "var(--saddle500)" }} /> : <StarOutlined />}
                    onClick={() => like.mutate(e)}
                  />
                )}
                {from === "library" && e.mine && !e.taken_out && (
                  <Button
                    type="text"
                    size="small"
                    aria-label={`Take ${e.name} out of the library`}
                    icon={<DeleteOutlined />}
                    onClick={() => remove.mutate(e)}
                  />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
