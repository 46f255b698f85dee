/** The template bench: outline, drawing, test bench and inspector of one template. */
import { Alert, Button, Segmented } from "antd";
import { useMemo, useState } from "react";
import { type AnyDocument, type SectionView, type SpecOf, useDocumentsOf, useMayEdit, useProjectId, useSummary } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { usePlace } from "../../base/place";
import type { Vertex } from "../../drawing/scale";
import { SectionDrawing } from "../../drawing/SectionDrawing";
import { ApplyDialog } from "./ApplyDialog";
import { BenchInspector } from "./BenchInspector";
import { BringDialog } from "./BringDialog";
import { bundleText } from "./library";
import { BenchMarks } from "./BenchMarks";
import { adding, dragged } from "./edits";
import { insertedAt, jointsOf, type Put, stripFrom } from "./insert";
import { OnTheRoad } from "./OnTheRoad";
import { Outline } from "./Outline";
import { drawnSide, halfOf, type Sel, selOf, type SelKind, selText, type Side, type Template, withHalf } from "./spec";
import { TableView } from "./TableView";
import { FIRST_TRIAL, trialOf, type TrialState } from "./trial";
import { TrialPanel } from "./TrialPanel";
import { type BenchView, useTryOut } from "./useTryOut";

/** Trials outlive a visit to another stop. */
const trials = new Map<string, TrialState>();

/** How a template is looked at; it stays while one steps through templates. */
export type BenchMode = "draw" | "table" | "road";

interface Props {
  document: Extract<AnyDocument, { kind: "template" }>;
  openLibrary: () => void;
  mode: BenchMode;
  setMode: (mode: BenchMode) => void;
}

/** The template in the hand, tried out on its ground, and what is put into it. */
function useBench({ document, openLibrary, mode, setMode }: Props) {
  const place = usePlace();
  const mayEdit = useMayEdit();
  const kerbs = useDocumentsOf("kerb");
  const materials = useDocumentsOf("material");
  const makeUps = useDocumentsOf("make_up");
  const summary = useSummary().data;
  const { spec, change, drag } = useDraft("template", document.key, document as { spec: SpecOf<"template">; version: number });
  const [trial, setTrial] = useState<TrialState>(trials.get(document.key) ?? FIRST_TRIAL);
  const [dragging, setDragging] = useState(false);
  const [side, setSide] = useState<Side>("right");
  const [whole, setWhole] = useState(false);
  const [placing, setPlacing] = useState<string | null>(null);
  const [inserting, setInserting] = useState<string | null>(null);
  const [applying, setApplying] = useState(false);
  const [keeping, setKeeping] = useState<string | null>(null);
  const project_id = useProjectId();
  const asked = useMemo(() => (spec ? trialOf(trial, spec, !dragging) : undefined), [trial, spec, dragging]);
  const { answer, error } = useTryOut(spec, asked!);
  const [built, setBuilt] = useState<BenchView>();
  if (answer?.built && answer !== built) setBuilt(answer);
  /** What cannot be built is shown as it last stood, with what is wrong with it now. */
  const view = useMemo(
    () => (answer && !answer.built && built ? { ...built, built: false, faults: answer.faults, sentences: answer.sentences } : answer),
    [answer, built],
  );
  const section = useMemo(() => (view ? asSection(view, trial) : undefined), [view, trial]);
  if (!spec) return null;
  const sel = selOf(place.selection);
  const shownSide = sel && spec.left ? sel.side : side;
  const select = (s: Sel | null) => {
    place.select(selText(document.key, s));
    if (s && spec.left) setSide(s.side);
  };
  const changeTrial = (next: TrialState, moving: boolean) => {
    trials.set(document.key, next);
    setTrial(next);
    setDragging(moving);
  };
  const uses = new Map(
    (summary?.rung_uses ?? []).filter((u) => u.template === document.key && u.side === shownSide).map((u) => [u.rung, `${u.sections}/${u.of}`]),
  );
  const keep = async () => setKeeping(await bundleText(project_id, [`template:${document.key}`]));
  const add = (kind: SelKind) => {
    const drawn = drawnSide(spec, shownSide);
    if (kind === "point") {
      setPlacing(sel?.kind === "point" ? sel.name : "hinge");
      return;
    }
    const made = adding(kind, halfOf(spec, drawn), kerbs, { kerb: kerbs[0]?.key ?? "", makeUp: makeUps[0]?.key ?? "" });
    change(withHalf(spec, drawn, made.half));
    select({ kind, side: drawn, name: made.name });
  };
  const insert = (what: Put) => {
    const drawn = drawnSide(spec, shownSide);
    const made = insertedAt(halfOf(spec, drawn), kerbs, inserting!, what, { kerb: kerbs[0]?.key ?? "", makeUp: makeUps[0]?.key ?? "" });
    change(withHalf(spec, drawn, made.half));
    setInserting(null);
    select({ kind: made.kind, side: drawn, name: made.name });
  };
  const placePoint = (at: Vertex) => {
    if (!placing || !answer) return;
    const clicked: Side = at[0] < 0 ? "left" : "right";
    const drawn = drawnSide(spec, clicked);
    const parent = answer.points.find((p) => p.name === placing && (p.side === clicked || p.side === "hinge"));
    const made = adding("point", halfOf(spec, drawn), kerbs, {
      kerb: "",
      makeUp: makeUps[0]?.key ?? "",
      parent: placing,
      width: Math.abs(at[0] - (parent?.offset ?? 0)),
      rise: at[1] - (parent?.level ?? 0),
    });
    change(withHalf(spec, drawn, made.half));
    setPlacing(null);
    select({ kind: "point", side: drawn, name: made.name });
  };
  return {
    document,
    openLibrary,
    mode,
    setMode,
    mayEdit,
    kerbs,
    materials,
    summary,
    spec,
    change,
    drag,
    trial,
    setDragging,
    setSide,
    whole,
    setWhole,
    placing,
    setPlacing,
    inserting,
    setInserting,
    applying,
    setApplying,
    keeping,
    setKeeping,
    answer,
    error,
    view,
    section,
    sel,
    shownSide,
    select,
    changeTrial,
    uses,
    keep,
    add,
    insert,
    placePoint,
  };
}
type BenchWork = NonNullable<ReturnType<typeof useBench>>;

export function Bench(props: Props) {
  const work = useBench(props);
  if (!work) return null;
  const {
    document,
    mode,
    mayEdit,
    kerbs,
    spec,
    change,
    trial,
    setSide,
    placing,
    setPlacing,
    inserting,
    setInserting,
    applying,
    setApplying,
    keeping,
    setKeeping,
    answer,
    error,
    view,
    sel,
    shownSide,
    select,
    changeTrial,
    uses,
    add,
    insert,
  } = work;
  return (
    <div className="bench">
      <div className="bench-main">
        <Outline spec={spec} side={shownSide} kerbs={kerbs} view={view} sel={sel} uses={uses} mayEdit={mayEdit} select={select} add={add} />
        <div className="bench-stage">
          {error && <Alert banner type="error" title={error} />}
          {answer && !answer.built && (
            <Alert banner type="error" title={answer.faults[0]?.message ?? "The template cannot be built"} description={answer.faults[0]?.hint} />
          )}
          {placing && (
            <Alert
              banner
              type="info"
              title={`Click where the new point is to lie; it is tied to ${placing}.`}
              action={
                <Button size="small" onClick={() => setPlacing(null)}>
                  Never mind
                </Button>
              }
            />
          )}
          {inserting && jointsOf(halfOf(spec, drawnSide(spec, shownSide)), kerbs).includes(inserting) && (
            <InsertBar
              at={inserting}
              strip={stripFrom(halfOf(spec, drawnSide(spec, shownSide)), inserting)?.name}
              kerb={kerbs.length > 0}
              put={insert}
              close={() => setInserting(null)}
            />
          )}
          <div style={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
            {mode === "road" ? (
              <OnTheRoad name={spec.name} />
            ) : mode === "table" ? (
              <TableView spec={spec} side={drawnSide(spec, shownSide)} kerbs={kerbs} view={view} disabled={!mayEdit} change={change} />
            ) : (
              <BenchPicture {...work} />
            )}
          </div>
        </div>
        <BenchPanel {...work} />
      </div>
      <TrialPanel
        spec={spec}
        state={trial}
        view={view}
        side={shownSide}
        setSide={(s) => {
          setSide(s);
          if (spec.left) select({ kind: "template", side: s, name: "" });
        }}
        change={changeTrial}
      />
      {keeping && <BringDialog target="library" title={`Keep “${spec.name}” in the library`} text={keeping} close={() => setKeeping(null)} />}
      {applying && <ApplyDialog template={document.key} spec={spec} close={() => setApplying(false)} />}
    </div>
  );
}

function BenchPicture({
  document,
  mayEdit,
  kerbs,
  materials,
  spec,
  drag,
  trial,
  setDragging,
  whole,
  setWhole,
  placing,
  setInserting,
  view,
  section,
  sel,
  shownSide,
  select,
  changeTrial,
  placePoint,
}: BenchWork) {
  return (
    <SectionDrawing
      section={section}
      materials={materials}
      title={spec.name}
      beginHigh={2}
      fitTo={`${document.key} ${shownSide} ${whole}`}
      within={whole || !section ? undefined : extentOf(section, trial, shownSide)}
      onPick={(l) => !placing && select({ kind: kindOf(spec, l), side: drawnSide(spec, l.side), name: l.element })}
      controls={
        <Button size="small" aria-pressed={whole} onClick={() => setWhole(!whole)}>
          {whole ? "Whole section" : "One half"}
        </Button>
      }
      onPlace={placing ? placePoint : undefined}
      overlay={(scale) =>
        view && (
          <BenchMarks
            scale={scale}
            view={view}
            spec={spec}
            sel={sel}
            side={shownSide}
            ground={trial.ground}
            boundary={trial.boundary}
            mayEdit={mayEdit}
            adding={placing !== null}
            kerbs={kerbs}
            insert={setInserting}
            select={select}
            drag={(point, to, level, done) => {
              setDragging(!done);
              drag(dragged(spec, point, to, level, view), done);
            }}
            setGround={(g, done) => changeTrial({ ...trial, ground: g }, !done)}
            setBoundary={(s, offset, done) => changeTrial({ ...trial, boundary: { ...trial.boundary, [s]: offset } }, !done)}
          />
        )
      }
    />
  );
}

function BenchPanel({
  document,
  openLibrary,
  mode,
  setMode,
  mayEdit,
  kerbs,
  summary,
  spec,
  change,
  setSide,
  setApplying,
  view,
  sel,
  shownSide,
  select,
  keep,
}: BenchWork) {
  return (
    <BenchInspector
      documentKey={document.key}
      spec={spec}
      side={drawnSide(spec, shownSide)}
      sel={sel}
      view={view}
      kerbs={kerbs}
      mayEdit={mayEdit}
      change={change}
      select={select}
      extra={
        <div className="bench-actions">
          <Segmented<BenchMode>
            size="small"
            value={mode}
            options={[
              { value: "draw", label: "Draw" },
              { value: "table", label: "Table" },
              { value: "road", label: "On the road" },
            ]}
            onChange={setMode}
          />
          {spec.left && (
            <Segmented<Side>
              size="small"
              value={shownSide}
              options={[
                { value: "left", label: "Left half" },
                { value: "right", label: "Right half" },
              ]}
              onChange={(s) => {
                setSide(s);
                if (sel) select({ kind: "template", side: s, name: "" });
              }}
            />
          )}
        </div>
      }
      actions={
        <div style={{ display: "flex", gap: 6, flexWrap: "wrap" }}>
          {mayEdit && (
            <Button type="primary" size="small" disabled={!summary || summary.chainage.length === 0} onClick={() => setApplying(true)}>
              Apply to a range
            </Button>
          )}
          <Button size="small" onClick={() => void keep()}>
            Keep in library
          </Button>
          <Button size="small" onClick={openLibrary}>
            Open library
          </Button>
        </div>
      }
    />
  );
}

interface InsertProps {
  at: string;
  /** The strip that begins there. */
  strip: string | undefined;
  kerb: boolean;
  put: (what: Put) => void;
  close: () => void;
}

/** What is put at a joint: what lies further out makes room for it, in one step. */
function InsertBar({ at, strip, kerb, put, close }: InsertProps) {
  return (
    <div className="toolbar" role="group" aria-label={`Insert at ${at}`}>
      <span>Insert at {at}:</span>
      <Button size="small" autoFocus type="primary" onClick={() => put("strip")}>
        Strip
      </Button>
      <Button size="small" disabled={!kerb} onClick={() => put("kerb")}>
        Kerb
      </Button>
      {strip && (
        <Button size="small" onClick={() => put("split")}>
          Point in the middle of {strip}
        </Button>
      )}
      <Button size="small" type="text" onClick={close}>
        Never mind
      </Button>
    </div>
  );
}

function kindOf(spec: Template, layer: SectionView["layers"][number]): SelKind {
  const half = halfOf(spec, layer.side);
  if (half.kerbs.some((k) => k.name === layer.element)) return "kerb";
  if (half.floors.some((f) => f.name === layer.element)) return "floor";
  return half.strips.some((s) => s.name === layer.element) ? "strip" : "template";
}

/** Offsets from a little past the hinge to what lies furthest out on a side. */
function extentOf(section: SectionView, trial: TrialState, side: Side): [number, number] {
  const out = section.design.map(([o]) => (side === "left" ? -o : o));
  const boundary = Math.abs(trial.boundary[side] ?? 0);
  const far = Math.max(3, ...out, boundary <= 14 ? boundary : 0) + 0.6;
  return side === "left" ? [-far, 0.9] : [-0.9, far];
}

/** The answer in the shape that the section drawing takes. */
function asSection(view: BenchView, trial: TrialState): SectionView {
  return {
    index: 0,
    chainage: 0,
    shown: 0,
    side: "plain",
    curvature: 0,
    boundaries: [],
    roads: [],
    treatment: null,
    missing: null,
    template: null,
    existing: [view.ground],
    design: view.design,
    layers: view.layers,
    points: view.points,
    slopes: view.slopes,
    dimensions: {},
    hinge: view.design.length > 0 ? [0, 0] : null,
    left_edge: null,
    right_edge: null,
    left_pct: trial.left_pct,
    right_pct: trial.right_pct,
    floors: view.floors,
    milled: [],
    least_cover: null,
    depth: null,
    bands: [],
    structures: [],
    remarks: [],
    cut: null,
    fill: null,
    milled_area: null,
  };
}
