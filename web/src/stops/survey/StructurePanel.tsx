/** Pits and pipes as tables; taken from the survey, then completed by hand. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Input } from "antd";
import { api, dataOf } from "../../api/client";
import { type SpecOf, useDocument, useMayEdit, useProjectId } from "../../api/hooks";
import { useDraft } from "../../api/save";
import { NumberField } from "../../common/NumberField";

type Spec = SpecOf<"structures">;
type Pit = NonNullable<Spec["pits"]>[number];
type Pipe = NonNullable<Spec["pipes"]>[number];

export function StructurePanel({ showPlace }: { showPlace: (east: number, north: number) => void }) {
  const project_id = useProjectId();
  const saved = useDocument("structures");
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("structures", "main", saved);
  if (!spec) return null;
  const pits = spec.pits;
  const pipes = spec.pipes;
  const take = async () => {
    const found = dataOf(await api.GET("/api/projects/{project_id}/survey/structures", { params: { path: { project_id } } }));
    const known = new Set([...pits, ...pipes].map((s) => s.name));
    change({ pits: [...pits, ...found.pits.filter((p) => !known.has(p.name))], pipes: [...pipes, ...found.pipes.filter((p) => !known.has(p.name))] });
  };
  const setPit = (i: number, fields: Partial<Pit>) => change({ ...spec, pits: pits.map((p, j) => (j === i ? { ...p, ...fields } : p)) });
  const setPipe = (i: number, fields: Partial<Pipe>) => change({ ...spec, pipes: pipes.map((p, j) => (j === i ? { ...p, ...fields } : p)) });
  return (
    <>
      {mayEdit && (
        <Button size="small" onClick={() => void take()}>
          Take pits and pipes from the survey
        </Button>
      )}
      {pits.length + pipes.length === 0 && (
        <p className="quiet">No structures yet. Points whose code means pit and lines whose code means pipe can be taken from the survey.</p>
      )}
      {pits.map((p, i) => (
        <div key={i} className="card" style={{ padding: 8, margin: "8px 0" }}>
          <Head
            name={p.name}
            label="Pit"
            disabled={!mayEdit}
            onName={(name) => setPit(i, { name })}
            onShow={() => showPlace(p.east, p.north)}
            onRemove={() => change({ ...spec, pits: pits.filter((_, j) => j !== i) })}
          />
          <Pair>
            <NumberField label={`Cover of ${p.name}`} unit="m" value={p.cover ?? 0} disabled={!mayEdit} onChange={(cover) => setPit(i, { cover })} />
            <NumberField
              label={`Invert of ${p.name}`}
              unit="m"
              value={p.invert ?? (p.cover ?? 0) - 1}
              disabled={!mayEdit}
              onChange={(invert) => setPit(i, { invert })}
            />
            <NumberField label={`Size of ${p.name}`} unit="mm" least={1} value={p.size_mm} disabled={!mayEdit} onChange={(size_mm) => setPit(i, { size_mm })} />
          </Pair>
          <span className="quiet">cover · invert · size</span>
        </div>
      ))}
      {pipes.map((p, i) => (
        <div key={i} className="card" style={{ padding: 8, margin: "8px 0" }}>
          <Head
            name={p.name}
            label="Pipe"
            disabled={!mayEdit}
            onName={(name) => setPipe(i, { name })}
            onShow={() => showPlace(p.points[0]!.east, p.points[0]!.north)}
            onRemove={() => change({ ...spec, pipes: pipes.filter((_, j) => j !== i) })}
          />
          <Pair>
            <NumberField
              label={`Inlet of ${p.name}`}
              unit="m"
              value={p.points[0]!.level}
              disabled={!mayEdit}
              onChange={(level) => setPipe(i, { points: p.points.map((q, j) => (j === 0 ? { ...q, level } : q)) })}
            />
            <NumberField
              label={`Outlet of ${p.name}`}
              unit="m"
              value={p.points.at(-1)!.level}
              disabled={!mayEdit}
              onChange={(level) => setPipe(i, { points: p.points.map((q, j) => (j === p.points.length - 1 ? { ...q, level } : q)) })}
            />
            <NumberField
              label={`Diameter of ${p.name}`}
              unit="mm"
              least={1}
              value={p.diameter_mm}
              disabled={!mayEdit}
              onChange={(diameter_mm) => setPipe(i, { diameter_mm })}
            />
          </Pair>
          <span className="quiet">invert in · invert out · diameter</span>
        </div>
      ))}
    </>
  );
}

function Pair({ children }: { children: React.ReactNode }) {
  return <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 4, marginTop: 4 }}>{children}</div>;
}

function Head({
  name,
  label,
  disabled,
  onName,
  onShow,
  onRemove,
}: {
  name: string;
  label: string;
  disabled: boolean;
  onName: (n: string) => void;
  onShow: () => void;
  onRemove: () => void;
}) {
  return (
    <div style={{ display: "flex", gap: 6, alignItems: "center" }}>
      <span className="quiet">{label}</span>
      <Input
        size="small"
        aria-label={`Name of ${label.toLowerCase()} ${name}`}
        disabled={disabled}
        maxLength={60}
        value={name}
        onChange={(e) => e.target.value && onName(e.target.value)}
      />
      <Button size="small" onClick={onShow}>
        Show
      </Button>
      <Button size="small" type="text" aria-label={`Remove ${name}`} icon={<DeleteOutlined />} disabled={disabled} onClick={onRemove} />
    </div>
  );
}
