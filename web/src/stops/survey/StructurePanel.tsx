/** Pits and pipes as tables; taken from the survey, completed and added by hand. */
import { Button } from "antd";
import { useState } from "react";
import { api, dataOf } from "../../api/client";
import { type SpecOf, useDocument, useMayEdit, useProjectId } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { usePlace } from "../../base/place";
import { CellTable } from "../../common/cells/CellTable";
import { numbers, numbersOrNone, words } from "../../common/cells/columns";
import { useRoadPlan } from "../../plan/hooks";

type Spec = SpecOf<"structures">;
type Pit = Spec["pits"][number];
type Pipe = Spec["pipes"][number];

const UNKNOWN = "not known";
const last = (p: Pipe) => p.points.length - 1;

const PIT = [
  words<Pit>({ title: "Pit", width: 84, most: 60, wrong: named, of: (p) => p.name, put: (p, name) => ({ ...p, name }), label: (p) => `Name of pit ${p.name}` }),
  ...(["cover", "invert"] as const).map((which) =>
    numbersOrNone<Pit>({
      title: which === "cover" ? "Cover m" : "Invert m",
      unit: "m",
      none: UNKNOWN,
      width: 72,
      of: (p) => p[which] ?? null,
      put: (p, level) => ({ ...p, [which]: level }),
      label: (p) => `${which === "cover" ? "Cover" : "Invert"} of ${p.name}`,
    }),
  ),
  numbers<Pit>({
    title: "Size mm",
    unit: "mm",
    least: 1,
    most: 100_000,
    width: 64,
    of: (p) => p.size_mm,
    put: (p, size_mm) => ({ ...p, size_mm }),
    label: (p) => `Size of ${p.name}`,
  }),
  ...(["east", "north"] as const).map((which) =>
    numbers<Pit>({
      title: which === "east" ? "Easting m" : "Northing m",
      unit: "m",
      decimals: 3,
      width: 104,
      of: (p) => p[which],
      put: (p, v) => ({ ...p, [which]: v }),
      label: (p) => `${which === "east" ? "Easting" : "Northing"} of ${p.name}`,
    }),
  ),
];

const PIPE = [
  words<Pipe>({
    title: "Pipe",
    width: 84,
    most: 60,
    wrong: named,
    of: (p) => p.name,
    put: (p, name) => ({ ...p, name }),
    label: (p) => `Name of pipe ${p.name}`,
  }),
  ...(["Inlet", "Outlet"] as const).map((which) =>
    numbers<Pipe>({
      title: `${which} m`,
      help: `Level of the invert at its ${which === "Inlet" ? "first" : "last"} point`,
      unit: "m",
      width: 72,
      of: (p) => p.points[which === "Inlet" ? 0 : last(p)]!.level,
      put: (p, level) => ({ ...p, points: p.points.map((q, j) => (j === (which === "Inlet" ? 0 : last(p)) ? { ...q, level } : q)) }),
      label: (p) => `${which} of ${p.name}`,
    }),
  ),
  numbers<Pipe>({
    title: "Bore mm",
    help: "Inside diameter",
    unit: "mm",
    least: 1,
    most: 20_000,
    width: 64,
    of: (p) => p.diameter_mm,
    put: (p, diameter_mm) => ({ ...p, diameter_mm }),
    label: (p) => `Diameter of ${p.name}`,
  }),
];

function named(text: string): string | null {
  return text === "" ? "it needs a name" : null;
}

export function StructurePanel({ showPlace }: { showPlace: (east: number, north: number) => void }) {
  const project_id = useProjectId();
  const saved = useDocument("structures");
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("structures", "main", saved);
  const place = usePlace();
  const across = useRoadPlan().data?.sections[place.index];
  const [pit, setPit] = useState(-1);
  const [pipe, setPipe] = useState(-1);
  if (!spec) return null;
  const { pits, pipes } = spec;
  const take = async () => {
    const found = dataOf(await api.GET("/api/projects/{project_id}/survey/structures", { params: { path: { project_id } } }));
    const known = new Set([...pits, ...pipes].map((s) => s.name));
    change({ pits: [...pits, ...found.pits.filter((p) => !known.has(p.name))], pipes: [...pipes, ...found.pipes.filter((p) => !known.has(p.name))] });
  };
  /** A new one begins on the section in view. */
  const [x1, y1, x2, y2] = across ?? [0, 0, 10, 0];
  const freeOf = (word: string) => {
    let n = 1;
    while ([...pits, ...pipes].some((s) => s.name === `${word} ${n}`)) n++;
    return `${word} ${n}`;
  };
  const show = (at: { east: number; north: number } | undefined) => (
    <Button size="small" disabled={!at} title={at ? undefined : "Choose one first"} onClick={() => at && showPlace(at.east, at.north)}>
      Show
    </Button>
  );
  return (
    <>
      {mayEdit && (
        <Button size="small" onClick={() => void take()}>
          Take pits and pipes from the survey
        </Button>
      )}
      <p className="quiet">
        Points whose code means pit and lines whose code means pipe are taken; a new one stands on the section in view. A level that is not known stays empty.
      </p>
      <CellTable<Pit>
        label="Pits"
        rows={pits}
        columns={PIT}
        disabled={!mayEdit}
        change={(next) => change({ ...spec, pits: next })}
        keyed="Pit"
        fresh={() => ({ name: freeOf("Pit"), east: round((x1! + x2!) / 2), north: round((y1! + y2!) / 2), cover: null, invert: null, size_mm: 600 })}
        current={pit}
        onRow={setPit}
        empty="No pits yet."
        also={show(pits[pit])}
      />
      <div style={{ height: 12 }} />
      <CellTable<Pipe>
        label="Pipes"
        rows={pipes}
        columns={PIPE}
        disabled={!mayEdit}
        change={(next) => change({ ...spec, pipes: next })}
        keyed="Pipe"
        current={pipe}
        onRow={setPipe}
        empty="No pipes yet."
        also={show(pipes[pipe]?.points[0])}
      />
    </>
  );
}

const round = (v: number) => Number(v.toFixed(3));
