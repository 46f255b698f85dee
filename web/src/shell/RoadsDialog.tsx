/** The roads of the project: name, alignment, order; a new one; one removed with all that is decided along it. */
import { ArrowDownOutlined, ArrowUpOutlined } from "@ant-design/icons";
import { Alert, Button, Input, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../api/client";
import { type DocumentOf, useChange, useDocumentsOf, useMayEdit, useRoadKey, useRoads, useToldRoads } from "../api/hooks";
import { MAIN } from "../api/kinds";
import { useSave, useSaveTogether } from "../api/save";
import { RoadEnds } from "./RoadEnds";
import { useGoToRoad } from "../base/roads";
import { Dialog } from "../common/Dialog";
import { NameField } from "../common/NameField";
import { Remove } from "../common/Remove";

type Road = DocumentOf<"road">;
type Told = Schemas["RoadOut"];
/** The alignment of a new road that is set out later; no key has a blank. */
const LATER = "set out later";

export function RoadsDialog({ close }: { close: () => void }) {
  const roads = useRoads();
  const mayEdit = useMayEdit();
  const told = useToldRoads();
  const save = useSave();
  const key = useRoadKey();
  const here = roads.find((r) => r.key === key);
  return (
    <Dialog title="Roads" open saves footer={null} width={760} onCancel={close}>
      <table className="grid-table" aria-label="Roads of the project" style={{ width: "100%" }}>
        <thead>
          <tr>
            <th>Road</th>
            <th>Alignment</th>
            <th className="num">Length</th>
            <th className="num">Problems</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {roads.map((road, i) => (
            <RoadRow key={road.key} road={road} roads={roads} place={i} told={told?.find((t) => t.key === road.key)} mayEdit={mayEdit} close={close} />
          ))}
        </tbody>
      </table>
      {roads.length > 1 && here && (
        <RoadEnds
          road={here}
          roads={roads}
          disabled={!mayEdit}
          change={(beside) => void save({ kind: "road", key: here.key, version: here.version, spec: { ...here.spec, beside } })}
        />
      )}
      {mayEdit && <AddRoad roads={roads} close={close} />}
    </Dialog>
  );
}

interface RowProps {
  road: Road;
  roads: Road[];
  place: number;
  told: Told | undefined;
  mayEdit: boolean;
  close: () => void;
}

function RoadRow({ road, roads, place, told, mayEdit, close }: RowProps) {
  const here = useRoadKey();
  const go = useGoToRoad();
  const save = useSave();
  const together = useSaveTogether();
  const write = (spec: Partial<Road["spec"]>) => void save({ kind: "road", key: road.key, version: road.version, spec: { ...road.spec, ...spec } });
  /** The roads keep the places that they have among them, this one a place further up or down. */
  const move = (by: 1 | -1) => {
    const order = roads.filter((r) => r !== road);
    order.splice(place + by, 0, road);
    const documents = order.flatMap((r, at) =>
      r.spec.place === at ? [] : [{ kind: "road" as const, key: r.key, version: r.version, spec: { ...r.spec, place: at } }],
    );
    together.mutate({ title: `Road “${road.spec.name}” moved in the list`, documents });
  };
  return (
    <tr aria-current={road.key === here}>
      <td>
        <NameField
          label={`Name of ${road.spec.name}`}
          value={road.spec.name}
          disabled={!mayEdit}
          taken={roads.map((r) => r.spec.name)}
          onChange={(name) => write({ name })}
        />
      </td>
      <td>
        <AlignmentOf label={`Alignment of ${road.spec.name}`} value={road.spec.alignment} disabled={!mayEdit} choose={(alignment) => write({ alignment })} />
      </td>
      <td className="num">{told?.start != null && told.end != null ? `${(told.end - told.start).toFixed(1)} m` : ""}</td>
      <td className="num" title={told?.fault}>
        {told?.problems ?? (told?.fault ? "not computed" : "")}
      </td>
      <td style={{ whiteSpace: "nowrap" }}>
        <Button size="small" disabled={road.key === here} onClick={() => (close(), go(road.key))}>
          Work on it
        </Button>
        {mayEdit && (
          <>
            <Button size="small" type="text" aria-label={`${road.spec.name} up`} icon={<ArrowUpOutlined />} disabled={place === 0} onClick={() => move(-1)} />
            <Button
              size="small"
              type="text"
              aria-label={`${road.spec.name} down`}
              icon={<ArrowDownOutlined />}
              disabled={place === roads.length - 1}
              onClick={() => move(1)}
            />
            <Remove
              document={road}
              must={road.key === MAIN ? "The road that the project began with stays" : undefined}
              onRemoved={() => road.key === here && go(MAIN)}
            />
          </>
        )}
      </td>
    </tr>
  );
}

interface AlignmentProps {
  label: string;
  value: string;
  disabled?: boolean;
  choose: (key: string) => void;
  more?: { value: string; label: string }[];
}

function AlignmentOf({ label, value, disabled, choose, more = [] }: AlignmentProps) {
  const alignments = useDocumentsOf("alignment").map((d) => ({ value: d.key, label: d.spec.name }));
  const options = [...more, ...alignments];
  return (
    <Select
      size="small"
      style={{ width: "100%", minWidth: 150 }}
      aria-label={label}
      disabled={disabled}
      value={options.some((o) => o.value === value) ? value : null}
      placeholder="none yet"
      options={options}
      onChange={choose}
    />
  );
}

function AddRoad({ roads, close }: { roads: Road[]; close: () => void }) {
  const here = useRoadKey();
  const go = useGoToRoad();
  const [name, setName] = useState("");
  const [alignment, setAlignment] = useState(LATER);
  const [like, setLike] = useState("");
  const add = useChange(async ({ path }) => {
    const body = { name: name.trim(), alignment: alignment === LATER ? null : alignment, like: like || null };
    return dataOf(await api.POST("/api/projects/{project_id}/roads", { params: { path }, body }));
  });
  const taken = roads.some((r) => r.spec.name === name.trim());
  const make = () =>
    add.mutate(undefined, {
      onSuccess: ({ key }) => {
        close();
        go(key, alignment === LATER ? "alignment" : undefined);
      },
    });
  return (
    <section className="card" aria-label="Add a road" style={{ marginTop: 14 }}>
      <h3>Add a road</h3>
      <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr auto", gap: 8, alignItems: "end" }}>
        <label>
          <span className="quiet">Name</span>
          <Input size="small" aria-label="Name of the new road" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span className="quiet">Alignment</span>
          <AlignmentOf label="Alignment of the new road" value={alignment} choose={setAlignment} more={[{ value: LATER, label: "its own, set out later" }]} />
        </label>
        <label>
          <span className="quiet">Begins</span>
          <Select
            size="small"
            style={{ width: "100%" }}
            aria-label="What the new road begins with"
            value={like}
            options={[{ value: "", label: "with nothing" }, ...roads.map((r) => ({ value: r.key, label: `like ${r.spec.name}` }))]}
            onChange={setLike}
          />
        </label>
        <Button type="primary" size="small" disabled={name.trim() === "" || taken} loading={add.isPending} onClick={make}>
          Add a road
        </Button>
      </div>
      {taken && <Alert style={{ marginTop: 8 }} type="warning" title={`There is a road called ${name.trim()} already.`} />}
      <p className="quiet" style={{ margin: "8px 0 0" }}>
        What is decided along a road is its own: sections, treatments, templates over ranges, follow rules, crossfalls, levels, milling, remarks. Guides and
        profiles belong to the alignment, so that roads on one alignment share them; survey, templates, materials and drawings belong to the project.
        {roads.length > 1 && ` You work on ${roads.find((r) => r.key === here)?.spec.name ?? "no road"}.`}
      </p>
    </section>
  );
}
