/** Guides in plan and in the straightened diagram, the chosen one as a form, and what template points follow. */
import { App, Button, Segmented } from "antd";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { useDocumentsOf, useMayEdit, useOwnKey, useSummary } from "../../api/hooks";
import { freshKey, useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { usePlace } from "../../base/place";
import { Choices, useShown } from "../../common/Choices";
import { Inspector } from "../../common/Inspector";
import { MissingInputs } from "../../common/MissingInputs";
import { LivePane } from "../../drawing/LivePane";
import { LiveSection } from "../../drawing/LiveSection";
import { RoadPlan } from "../../plan/RoadPlan";
import { nearestRow, useRoadPlan, useSurveyLines } from "../../plan/hooks";
import { useLook } from "../../plan/look";
import { Diagram } from "./Diagram";
import { FollowedTable, FollowPanel } from "./FollowPanel";
import { GuideForm } from "./GuideForm";
import { jointsOf, withJoint, type GuideDocument, layPieces, useDiagram, useFollowed } from "./hooks";
import { NewGuide } from "./NewGuide";
import { Remove } from "../../common/Remove";

const LAYERS = ["Survey lines", "Section lines"] as const;
const BELOW = ["Section", "Followed points"] as const;
/** Height of the straightened diagram, and what the plan keeps however low the window is, px. */
const CHART = 178;
const PLAN = 150;

export default function GuidesStop() {
  const summary = useSummary().data;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  return <Stop />;
}

function Stop() {
  const summary = useSummary().data!;
  const place = usePlace();
  const guides = useDocumentsOf("guide");
  const diagram = useDiagram().data;
  const road = useRoadPlan().data;
  const lines = useSurveyLines().data;
  const look = useLook();
  const mayEdit = useMayEdit();
  const save = useSave();
  const { message } = App.useApp();
  const [shown, toggle] = useShown<(typeof LAYERS)[number]>(["Survey lines"]);
  const [below, setBelow] = useState<(typeof BELOW)[number]>("Section");
  const [panel, setPanel] = useState<"Guide" | "Follow rules">("Guide");
  const [whole, setWhole] = useState(false);
  const document = guides.find((g) => g.key === place.selection) ?? guides[0];
  const { spec, change, drag } = useDraft("guide", document?.key ?? "none", document);
  const drawn = diagram?.guides.find((g) => g.key === document?.key);
  const shownGuides = useMemo(
    () =>
      diagram?.guides.map((g) => {
        const doc = guides.find((d) => d.key === g.key);
        return { key: g.key, name: doc?.spec.name ?? g.key, plan: g.plan, chosen: g.key === document?.key, boundary: doc?.spec.use === "boundary" };
      }),
    [diagram, guides, document],
  );
  const joints = useMemo(() => (spec && mayEdit ? jointsOf(spec, drawn) : null), [spec, drawn, mayEdit]);
  const handles = useMemo(
    () => (spec?.source.by === "polyline" && mayEdit ? spec.source.points.map((p, i) => ({ at: [p[0], p[1]], label: String(i + 1) })) : undefined),
    [spec, mayEdit],
  );
  const following = useFollowed().data;
  const followed = useMemo(
    () => following?.map((f) => ({ name: `${f.point} ${f.side}`, chainage: summary.chainage, offset: f.offset })) ?? [],
    [following, summary],
  );
  const live = useMemo(() => withDraft(diagram, document, spec), [diagram, document, spec]);
  const span = whole ? summary.end - summary.start : 300;
  const low = Math.max(summary.start, Math.min(place.chainage - span / 2, summary.end - span));
  const alignment = useOwnKey("alignment");
  const fromLine = async (id: string) => {
    const line = lines?.find((l) => `${l.code} ${l.name}` === id);
    if (!line || !mayEdit) return;
    const key = freshKey("guide");
    const points = line.points.map((p) => [p[0]!, p[1]!, p[2]!] as [number, number, number]);
    if (
      (await save({ kind: "guide", key, version: 0, spec: { name: id, alignment, use: "edge", side: "right", source: { by: "polyline", points } } })) === null
    )
      return;
    place.select(key);
    message.success(`${id} is now a guide`);
  };
  return (
    <>
      <div className="stage">
        <div className="fill">
          <RoadPlan
            road={road}
            lines={shown.has("Survey lines") ? lines : undefined}
            look={look}
            guides={shownGuides}
            showSections={shown.has("Section lines")}
            current={{ index: place.index, chainage: place.chainage }}
            reach={whole ? undefined : 90}
            handles={handles}
            onMoveHandle={(i, [east, north], done) => {
              if (spec?.source.by !== "polyline") return;
              const points = spec.source.points.map((p, j) => (j === i ? ([east, north, p[2]] as typeof p) : p));
              drag({ ...spec, source: { ...spec.source, points } }, done);
            }}
            onPick={(e, n) => road && place.goTo(nearestRow(road.sections, e, n))}
            onChoose={(what) => (what.kind === "guide" ? place.select(what.id) : void fromLine(what.id))}
          />
          <div className="over-plan">
            <Choices of={LAYERS} shown={shown} toggle={toggle} />
            <Button size="small" aria-pressed={whole} onClick={() => setWhole(!whole)}>
              {whole ? "Near the section" : "Whole road"}
            </Button>
            <Segmented size="small" aria-label="Shown below" value={below} options={[...BELOW]} onChange={setBelow} />
          </div>
        </div>
        <div style={{ height: CHART, borderTop: "1px solid var(--tin200)" }}>
          <Diagram
            diagram={live}
            followed={followed}
            joints={joints}
            chosen={document?.key ?? null}
            window={[low, low + span]}
            current={place.chainage}
            onStep={place.goToChainage}
            onChoose={place.select}
            onDrag={(i, c, o, done) => {
              if (spec) drag(withJoint(spec, drawn, i - 1, c, o), done);
            }}
          />
        </div>
        <LivePane above={CHART + PLAN}>{below === "Section" ? <LiveSection /> : <FollowedTable />}</LivePane>
      </div>
      <Inspector title="Guides" extra={mayEdit ? <NewGuide onMade={place.select} /> : undefined}>
        {guides.length === 0 && <p>No guides yet. Begin one with “New guide”, or click a survey line in plan to make it one.</p>}
        {guides.map((g) => (
          <button key={g.key} type="button" className="list-item" aria-pressed={g === document} onClick={() => place.select(g.key)}>
            {g.spec.name}
            <span className="quiet" style={{ float: "right", fontWeight: 400 }}>
              {diagram?.guides.find((d) => d.key === g.key)?.wrong ? "cannot be laid" : g.spec.use}
            </span>
          </button>
        ))}
        <Segmented size="small" block aria-label="Panel" value={panel} options={["Guide", "Follow rules"]} onChange={setPanel} style={{ margin: "10px 0" }} />
        {panel === "Guide" && spec && document && (
          <>
            <GuideForm spec={spec} change={change} disabled={!mayEdit} drawn={drawn} own={document.key} />
            {mayEdit && <Remove document={document} label="Remove guide" />}
          </>
        )}
        {panel === "Follow rules" && <FollowPanel guide={document?.key ?? null} />}
      </Inspector>
    </>
  );
}

/** The diagram with the chosen guide's pieces as they are being dragged, ahead of the server's answer. */
function withDraft(
  diagram: Schemas["Diagram"] | undefined,
  document: GuideDocument | undefined,
  spec: GuideDocument["spec"] | undefined,
): Schemas["Diagram"] | undefined {
  if (!diagram || !document || spec?.source.by !== "pieces" || spec === document.spec) return diagram;
  const laid = layPieces(spec.source);
  const chainage = [spec.source.start_chainage, ...laid.map((s) => s.end)];
  const offset = [spec.source.start_offset, ...laid.map((s) => s.to)];
  return { ...diagram, guides: diagram.guides.map((g) => (g.key === document.key ? { ...g, chainage, offset } : g)) };
}
