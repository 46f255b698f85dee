/** Section lines: groups in plan, the road along the chosen line, its levels. */
import { App, Button, Segmented } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, dataOf, lineOf } from "../../api/client";
import { useDocumentsOf, useMayEdit, useOfRoad } from "../../api/hooks";
import { useNewest } from "../../api/latest";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { Choices, useShown } from "../../common/Choices";
import { CopyRows } from "../../common/CopyRows";
import { remarkFlags } from "../../drawing/marks";
import { SectionDrawing } from "../../drawing/SectionDrawing";
import { signed } from "../../common/signed";
import { useRoadPlan, useSurveyLines } from "../../plan/hooks";
import { useLook } from "../../plan/look";
import { RoadPlan } from "../../plan/RoadPlan";
import { useStructureMarks } from "../../plan/structures";
import { LinesInspector } from "./LinesInspector";
import { angleText, chosenOf, type Line, type LineView, titleOf, useLine, useLineGroups } from "./lines";
import { handlesOf, moved, type Picking, WORDS } from "./picking";

const LAYERS = ["Lines", "Structures", "Design sections"] as const;

/** The groups, the chosen line of one and what is shown of it */
function useChosenLine({ pages }: { pages: React.ReactNode }) {
  const place = usePlace();
  const of = useOfRoad();
  const mayEdit = useMayEdit();
  const { message } = App.useApp();
  const groups = useLineGroups().data;
  const documents = useDocumentsOf("section_lines");
  const chosen = chosenOf(place.selection);
  const key = documents.some((d) => d.key === chosen?.key) ? chosen!.key : documents[0]?.key;
  const saved = documents.find((d) => d.key === key);
  const { spec, change, drag, giveUp } = useDraft("section_lines", key ?? "none", saved);
  const placed = groups?.find((g) => g.key === key);
  const part = Math.min(chosen?.part ?? 0, Math.max(0, (placed?.lines.length ?? 1) - 1));
  const line = placed?.lines[part];
  const [others, setOthers] = useState<string[]>([]);
  const view = useLine(key ?? "", part, others, line !== undefined);
  const shown = line && view.data?.group === key ? view.data : undefined;
  const [layers, toggle] = useShown<(typeof LAYERS)[number]>(["Lines", "Structures"]);
  const [picking, setPicking] = useState<Picking | null>(null);
  const road = useRoadPlan().data;
  const surveyLines = useSurveyLines().data;
  const look = useLook();
  const marks = useStructureMarks();
  const materials = useDocumentsOf("material");
  const select = (k: string, p: number) => {
    place.select(`lines:${k}:${p}`);
    const at = groups?.find((g) => g.key === k)?.lines[p]?.chainage;
    if (at != null) place.goToChainage(at);
  };
  return {
    pages,
    of,
    mayEdit,
    message,
    groups,
    documents,
    key,
    saved,
    spec,
    change,
    drag,
    giveUp,
    placed,
    part,
    line,
    others,
    setOthers,
    shown,
    layers,
    toggle,
    picking,
    setPicking,
    road,
    surveyLines,
    look,
    marks,
    materials,
    select,
  };
}

/** Lines drawn, picked and moved in plan. */
function useLinesPage(props: { pages: React.ReactNode }) {
  const given = useChosenLine(props);
  const { of, mayEdit, message, groups, key, spec, change, drag, giveUp, part, line, picking, setPicking, surveyLines } = given;

  useEffect(() => {
    if (!picking) return;
    const onKey = (e: KeyboardEvent) => {
      if (e.key === "Escape") setPicking(null);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [picking, setPicking]);

  const add = (line: Line) => {
    if (!spec || !key) return;
    change({ ...spec, lines: [...spec.lines, line] });
    setPicking(null);
  };
  const base = { name: "", remark: "", left: null, right: null };
  const square = async (at: [number, number]) => dataOf(await api.POST("/api/projects/{project_id}/lines/square", { params: of, body: { at } }));
  const pick = async (east: number, north: number) => {
    if (!picking) return;
    const at: [number, number] = [east, north];
    try {
      if (picking.what === "square") add({ ...base, kind: "at", ...(await square(at)) });
      else if (picking.what === "path") setPicking({ what: "path", points: [...picking.points, at] });
      else if (!picking.first) setPicking({ what: "skew", first: at });
      else
        add({
          ...base,
          kind: "at",
          ...dataOf(await api.POST("/api/projects/{project_id}/lines/angle", { params: of, body: { first: picking.first, last: at } })),
        });
    } catch (e) {
      void message.error(lineOf(e), 6);
    }
  };
  const chooseSurveyLine = (id: string) => {
    const found = surveyLines?.find((l) => `${l.code} ${l.name}` === id);
    if (!found || !picking) return;
    const points = found.points.map((p) => [p[0]!, p[1]!] as [number, number]);
    if (picking.what === "path") return add({ ...base, kind: "path", name: id.slice(0, 80), points });
    void pick(...middleOf(points));
  };

  const drawn = spec && line ? spec.lines[line.number] : undefined;
  const handles = useMemo(() => (mayEdit && !picking && line && drawn ? handlesOf(drawn, line) : undefined), [mayEdit, picking, line, drawn]);
  /** The line in the hand, as the drag began with it. */
  const grasped = useRef<{ spec: NonNullable<typeof spec>; line: NonNullable<typeof line>; drawn: Line } | null>(null);
  const move = useNewest(async ({ index, at, done }: { index: number; at: [number, number]; done: boolean }) => {
    grasped.current ??= spec && line && drawn ? { spec, line, drawn } : null;
    const from = grasped.current;
    if (!from) return;
    if (done) grasped.current = null;
    try {
      const next = await moved(from.drawn, from.line, index, at, square);
      drag({ ...from.spec, lines: from.spec.lines.map((l, i) => (i === from.line.number ? next : l)) }, done);
    } catch (e) {
      giveUp();
      void message.error(lineOf(e), 6);
    }
  });
  const cuts = useMemo(
    () =>
      (groups ?? []).flatMap((g) =>
        g.lines.map((l) => ({ id: `${g.key}:${l.part}`, name: titleOf(l), path: l.path, chosen: g.key === key && l.part === part })),
      ),
    [groups, key, part],
  );
  const near = line && [
    Math.min(...line.path.map((p) => p[0])) - 12,
    Math.min(...line.path.map((p) => p[1])) - 12,
    Math.max(...line.path.map((p) => p[0])) + 12,
    Math.max(...line.path.map((p) => p[1])) + 12,
  ];
  return { ...given, add, base, pick, chooseSurveyLine, handles, move, cuts, near };
}
type LinesPageWork = ReturnType<typeof useLinesPage>;

export default function LinesPage(props: { pages: React.ReactNode }) {
  const work = useLinesPage(props);
  const { pages, documents, key, saved, spec, change, placed, part, line, others, setOthers, shown, setPicking, materials, select } = work;
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          {pages}
          <span style={{ flex: 1 }} />
          {placed && placed.lines.length > 1 && (
            <>
              <Button size="small" disabled={part === 0} onClick={() => select(key!, part - 1)}>
                Previous line
              </Button>
              <span className="mono">
                {part + 1} of {placed.lines.length}
              </span>
              <Button size="small" disabled={part >= placed.lines.length - 1} onClick={() => select(key!, part + 1)}>
                Next line
              </Button>
            </>
          )}
        </div>
        <div className="fill" style={{ flex: "1 1 52%" }}>
          {shown ? (
            <SectionDrawing
              section={shown}
              materials={materials}
              title={`Line ${titleOf(line!)}`}
              about={
                shown.crosses
                  ? "Distances along the line. Quantities come from the design's own sections."
                  : "It does not cross the alignment: distances are from its beginning."
              }
              designs={shown.designs}
              flags={[...shown.marks, ...remarkFlags(shown)]}
              others={shown.others}
              within={[shown.start - 0.5, shown.end + 0.5]}
            />
          ) : (
            <p className="quiet" style={{ padding: 24 }}>
              {documents.length === 0
                ? "No section lines yet. A group of lines shows the road along other ways than its own sections: skewed, bent, at a pipe, along a drive."
                : !placed || line
                  ? "Computing"
                  : "Add a line to this group, or choose one in the plan."}
            </p>
          )}
        </div>
        <div style={{ flex: "1 1 48%", minHeight: 0, display: "grid", gridTemplateColumns: "minmax(0, 1fr) 452px", borderTop: "1px solid var(--tin200)" }}>
          <LinesPlan {...work} />
          <Levels view={shown} />
        </div>
      </div>
      <LinesInspector
        key={key}
        groupKey={key}
        saved={saved}
        spec={spec ?? undefined}
        change={change}
        placed={placed}
        part={part}
        select={select}
        pick={setPicking}
        others={others}
        setOthers={setOthers}
      />
    </>
  );
}

function LinesPlan({
  layers,
  toggle,
  picking,
  setPicking,
  road,
  surveyLines,
  look,
  marks,
  select,
  add,
  base,
  pick,
  chooseSurveyLine,
  handles,
  move,
  cuts,
  near,
}: LinesPageWork) {
  return (
    <div style={{ position: "relative", minHeight: 0 }}>
      <RoadPlan
        road={road}
        lines={layers.has("Lines") || picking ? surveyLines : undefined}
        look={look}
        structures={layers.has("Structures") ? marks : undefined}
        showSections={layers.has("Design sections")}
        cuts={cuts}
        extent={near}
        sketch={picking?.what === "path" && picking.points.length > 0 ? picking.points : undefined}
        handles={handles}
        onMoveHandle={(index, at, done) => move({ index, at, done })}
        onPick={(e, n) => void pick(e, n)}
        onChoose={(what) => {
          if (what.kind === "section line" && !picking) {
            const [k, p] = what.id.split(":");
            select(k!, Number(p));
          } else if (what.kind === "survey line") chooseSurveyLine(what.id);
        }}
      />
      <div className="over-plan">
        {picking ? (
          <span role="status" aria-label="Picking" style={{ background: "var(--white)", padding: "2px 8px", display: "inline-flex", gap: 6 }}>
            {WORDS(picking)}
            {picking.what === "path" && picking.points.length > 1 && (
              <Button size="small" type="primary" onClick={() => add({ ...base, kind: "path", points: picking.points })}>
                Take the path
              </Button>
            )}
            <Button size="small" onClick={() => setPicking(null)}>
              Cancel
            </Button>
          </span>
        ) : (
          <Choices of={LAYERS} shown={layers} toggle={toggle} />
        )}
      </div>
    </div>
  );
}

/** The place halfway along a line. */
function middleOf(points: [number, number][]): [number, number] {
  const steps = points.slice(1).map((p, i) => Math.hypot(p[0] - points[i]![0], p[1] - points[i]![1]));
  let left = steps.reduce((a, b) => a + b, 0) / 2;
  for (const [i, step] of steps.entries()) {
    if (left <= step && step > 0) {
      const [a, b] = [points[i]!, points[i + 1]!];
      return [a[0] + (left / step) * (b[0] - a[0]), a[1] + (left / step) * (b[1] - a[1])];
    }
    left -= step;
  }
  return points[0]!;
}

function NotKnown({ what, where, why }: { what: string; where: [number, number][]; why: string }) {
  if (where.length === 0) return null;
  return (
    <p role="status" aria-label="Not known" style={{ padding: "0 8px", color: "var(--fault)" }}>
      {what} not known from {where.map(([a, b]) => `${signed(a, 2)} to ${signed(b, 2)} m`).join(", ")}: {why}.
    </p>
  );
}

const ROWS = ["Every bend", "As asked"] as const;

function Levels({ view }: { view: LineView | undefined }) {
  const [which, setWhich] = useState<(typeof ROWS)[number]>("Every bend");
  const rows = view?.rows.filter((r) => which === "Every bend" || r.at === "asked") ?? [];
  const figure = (v: number | null, decimals = 3) => (v === null ? "–" : v.toFixed(decimals));
  return (
    <div tabIndex={0} className="scroll" style={{ borderLeft: "1px solid var(--tin200)" }}>
      <div className="toolbar">
        <Segmented size="small" options={[...ROWS]} value={which} onChange={setWhich} />
        <span style={{ flex: 1 }} />
        <CopyRows
          head={["Distance m", "Chainage", "Offset m", "Existing m", "Design m"]}
          rows={rows.map((r) => [
            r.distance.toFixed(3),
            r.chainage === null ? null : chainageText(r.chainage),
            r.offset?.toFixed(3) ?? null,
            r.existing?.toFixed(3) ?? null,
            r.design?.toFixed(3) ?? null,
          ])}
        />
      </div>
      <table className="grid-table" aria-label="Levels on the line">
        <thead>
          <tr>
            <th className="num">Distance m</th>
            <th className="num">Chainage</th>
            <th className="num">Offset m</th>
            <th className="num">Existing m</th>
            <th className="num">Design m</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.distance}>
              <td className="num">{signed(r.distance, 3)}</td>
              <td className="num">{r.chainage === null ? "–" : chainageText(r.chainage)}</td>
              <td className="num">{r.offset === null ? "–" : signed(r.offset, 3)}</td>
              <td className="num">{figure(r.existing)}</td>
              <td className="num">{figure(r.design)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {view && rows.length === 0 && (
        <p className="quiet" style={{ padding: 8 }}>
          No offsets are asked for. The group says at which levels are listed.
        </p>
      )}
      {view && <NotKnown what="The design is" where={view.unknown} why="sections beside it have no template in common, or could not be solved" />}
      {view && <NotKnown what="What is milled is" where={view.milling_unknown} why="a limit of the milling is not known on a section beside it" />}
      {view?.angle_deg != null && Math.abs(view.angle_deg) > 5e-4 && (
        <p className="quiet" style={{ padding: "0 8px" }}>
          The line stands {angleText(view.angle_deg)}: distances are true along it, offsets square to the road.
        </p>
      )}
    </div>
  );
}
