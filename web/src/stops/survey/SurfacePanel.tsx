/** Surfaces of the project: what they are made of, what was noticed, and the volume between two. */
import { useQuery } from "@tanstack/react-query";
import { Alert, Button, Input, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas, lineOf } from "../../api/client";
import { type DocumentOf, type SpecOf, useDocument, useDocumentsOf, useMayEdit, useProjectId } from "../../api/hooks";
import { type ResultOf, useJob } from "../../api/jobs";
import { freshKey, useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { Remove } from "../../common/Remove";

type Source = SpecOf<"surface">["source"];

export function useSurfaces() {
  const id = useProjectId();
  const specs = useDocumentsOf("surface");
  const codes = useDocument("code_list");
  const stamp = JSON.stringify([codes?.version, specs.map((s) => [s.key, s.version])]);
  return useQuery({
    queryKey: ["project", id, "survey", "surfaces", stamp],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey/surfaces", { params: { path: { project_id: id } } })),
    placeholderData: (old) => old,
  });
}

interface Props {
  codes: Schemas["CodeFound"][];
  chosen: string;
  choose: (key: string) => void;
  showPlace: (east: number, north: number) => void;
}

export function SurfacePanel({ codes, chosen, choose, showPlace }: Props) {
  const specs = useDocumentsOf("surface");
  const built = useSurfaces().data ?? [];
  const mayEdit = useMayEdit();
  const save = useSave();
  const document = specs.find((s) => s.key === chosen) ?? specs[0];
  const add = async (name: string, source: Source) => {
    const key = freshKey("surface");
    if ((await save({ kind: "surface", key, version: 0, spec: { name, source } })) !== null) choose(key);
  };
  return (
    <>
      {specs.map((s) => {
        const b = built.find((x) => x.key === s.key);
        return (
          <button key={s.key} type="button" className="list-item" aria-pressed={s.key === document?.key} onClick={() => choose(s.key)}>
            {s.spec.name}
            <span className="quiet" style={{ float: "right", fontWeight: 400 }}>
              {b ? (b.wrong ? "cannot be built" : `${b.triangles.toLocaleString("en")} triangles`) : ""}
            </span>
          </button>
        );
      })}
      {mayEdit && (
        <div style={{ display: "flex", gap: 6, margin: "8px 0" }}>
          <Button
            size="small"
            onClick={() =>
              void add("Pavement", {
                by: "survey",
                codes: codes.filter((c) => /^(CL|EP|LIP|WP)/.test(c.code)).map((c) => c.code),
                left_out: [],
                longest_edge: 20,
                boundary: null,
              })
            }
          >
            Add from codes
          </Button>
          <Button size="small" onClick={() => void add("Reference plane", { by: "plane", level: 0 })}>
            Add plane
          </Button>
        </div>
      )}
      {document && (
        <SurfaceForm
          key={document.key}
          document={document}
          built={built.find((b) => b.key === document.key)}
          codes={codes}
          disabled={!mayEdit}
          showPlace={showPlace}
        />
      )}
      {specs.length > 1 && mayEdit && <Compare specs={specs} />}
    </>
  );
}

interface FormProps {
  document: DocumentOf<"surface">;
  built: Schemas["SurfaceOut"] | undefined;
  codes: Schemas["CodeFound"][];
  disabled: boolean;
  showPlace: Props["showPlace"];
}

function SurfaceForm({ document, built, codes, disabled, showPlace }: FormProps) {
  const { spec, change } = useDraft("surface", document.key, document);
  if (!spec) return null;
  const source = spec.source;
  const set = (fields: object) => change({ ...spec, source: { ...source, ...fields } });
  const lines = codes.filter((c) => c.lines > 0);
  const leftOut = source.by === "survey" ? source.left_out : [];
  return (
    <div className="card">
      <Row label="Name">
        <Input
          size="small"
          aria-label="Name of the surface"
          disabled={disabled}
          maxLength={60}
          value={spec.name}
          onChange={(e) => e.target.value && change({ ...spec, name: e.target.value })}
        />
      </Row>
      {source.by === "plane" && (
        <Row label="Level">
          <NumberField label="Level of the plane" unit="m" value={source.level} disabled={disabled} onChange={(level) => set({ level })} />
        </Row>
      )}
      {source.by === "imported" && <p className="quiet">Triangles as they came in the file.</p>}
      {source.by === "survey" && (
        <>
          <Row label="Codes">
            <Select
              mode="multiple"
              size="small"
              aria-label="Codes of the surface"
              placeholder="all in the code list"
              disabled={disabled}
              maxTagCount="responsive"
              value={source.codes}
              options={codes.map((c) => ({ value: c.code, label: c.code || "no code" }))}
              onChange={(v) => set({ codes: v })}
            />
          </Row>
          <Row label="Longest edge">
            <NumberField
              label="Longest edge"
              unit="m"
              least={0.5}
              value={source.longest_edge ?? 60}
              disabled={disabled}
              onChange={(longest_edge) => set({ longest_edge })}
            />
          </Row>
          <Row label="Boundary">
            <Select
              size="small"
              aria-label="Boundary of the surface"
              disabled={disabled}
              value={source.boundary ?? ""}
              options={[{ value: "", label: "none" }, ...lines.map((c) => ({ value: c.code, label: `Line ${c.code}` }))]}
              onChange={(v) => set({ boundary: v || null })}
            />
          </Row>
        </>
      )}
      {built?.wrong && <Alert type="error" title={built.wrong} />}
      {(built?.crossings ?? []).length > 0 && <Details title={`${built!.crossings.length} breaklines cross`} lines={built!.crossings} />}
      {(built?.conflicts ?? []).length > 0 && <Details title={`${built!.conflicts.length} points in one place`} lines={built!.conflicts} />}
      {source.by === "survey" && (built?.spikes ?? []).length > 0 && (
        <>
          <h3 style={{ marginTop: 8 }}>Stand out of their neighbours</h3>
          <div tabIndex={0} style={{ maxHeight: 150, overflow: "auto" }}>
            {built!.spikes.map((s, i) => (
              <div key={i} style={{ display: "flex", gap: 6, alignItems: "center" }}>
                <Button type="link" size="small" style={{ padding: 0 }} onClick={() => showPlace(s.east, s.north)}>
                  point {s.number ?? "?"}
                </Button>
                <span className="mono" style={{ flex: 1, textAlign: "right" }}>{`${s.above > 0 ? "+" : "−"}${Math.abs(s.above).toFixed(2)} m`}</span>
                <Button
                  size="small"
                  disabled={disabled || !s.number}
                  aria-label={`Leave out point ${s.number}`}
                  onClick={() => set({ left_out: [...leftOut, s.number] })}
                >
                  Leave out
                </Button>
              </div>
            ))}
          </div>
        </>
      )}
      {leftOut.length > 0 && (
        <p style={{ margin: "8px 0 0" }}>
          Left out:{" "}
          {leftOut.map((n) => (
            <Button
              key={n}
              size="small"
              style={{ margin: "0 4px 4px 0" }}
              disabled={disabled}
              aria-label={`Take point ${n} back in`}
              onClick={() => set({ left_out: leftOut.filter((x) => x !== n) })}
            >
              {n} ×
            </Button>
          ))}
        </p>
      )}
      {document.key !== "main" && !disabled && (
        <p>
          <Remove document={document} label="Remove surface" />
        </p>
      )}
    </div>
  );
}

function Details({ title, lines }: { title: string; lines: string[] }) {
  return (
    <details style={{ marginTop: 6 }}>
      <summary>{title}</summary>
      {lines.map((l) => (
        <p key={l} className="quiet" style={{ margin: "4px 0" }}>
          {l}
        </p>
      ))}
    </details>
  );
}

function Compare({ specs }: { specs: DocumentOf<"surface">[] }) {
  const project_id = useProjectId();
  const [first, setFirst] = useState(specs[0]!.key);
  const [second, setSecond] = useState(specs[1]!.key);
  const [found, setFound] = useState<ResultOf<"compare_surfaces"> | null>(null);
  const [error, setError] = useState<string | null>(null);
  const job = useJob({ kind: "compare_surfaces", done: setFound, failed: setError });
  const options = specs.map((s) => ({ value: s.key, label: s.spec.name }));
  const start = async () => {
    setFound(null);
    setError(null);
    try {
      job.follow(dataOf(await api.POST("/api/projects/{project_id}/survey/compare", { params: { path: { project_id } }, body: { first, second } })));
    } catch (e) {
      setError(lineOf(e));
    }
  };
  return (
    <section className="card" aria-label="Compare surfaces">
      <h3>Volume between two surfaces</h3>
      <Row label="From">
        <Select size="small" aria-label="From surface" value={first} options={options} onChange={setFirst} />
      </Row>
      <Row label="To">
        <Select size="small" aria-label="To surface" value={second} options={options} onChange={setSecond} />
      </Row>
      <Button size="small" loading={job.running} disabled={first === second} onClick={() => void start()}>
        Compare
      </Button>
      {error && <Alert style={{ marginTop: 8 }} type="error" title={error} />}
      {found && (
        <table className="grid-table" aria-label="Volume between the surfaces" style={{ marginTop: 8 }}>
          <tbody>
            {(
              [
                ["Cut", found.cut, "m³"],
                ["Fill", found.fill, "m³"],
                ["Area of both", found.area, "m²"],
                ["Only the first", found.only_first, "m²"],
                ["Only the second", found.only_second, "m²"],
                ["Deepest cut", found.deepest_cut, "m"],
                ["Deepest fill", found.deepest_fill, "m"],
              ] as const
            ).map(([name, v, unit]) => (
              <tr key={name}>
                <td>{name}</td>
                <td className="num">
                  {v.toLocaleString("en", { minimumFractionDigits: 1, maximumFractionDigits: unit === "m" ? 3 : 1 })} {unit}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
