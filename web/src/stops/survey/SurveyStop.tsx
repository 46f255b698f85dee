/** Survey in plan: points, coded lines, surfaces, structures; import of another, and out again. */
import { App, Button, Segmented } from "antd";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, dataOf, lineOf } from "../../api/client";
import { useMayEdit, useProjectId, useRefresh, useSummary } from "../../api/hooks";
import { useJob } from "../../api/jobs";
import { usePlace } from "../../base/place";
import { startTour } from "../../base/tour";
import { Choices, useShown } from "../../common/Choices";
import { pointId, pointOf } from "../../plan/features";
import { Figures, Inspector } from "../../common/Inspector";
import { SaveAs, useSave } from "../../common/SaveWork";
import { Plan } from "../../plan/Plan";
import { type Box, nearestRow, useFoundPoints, useBackground, useInView, useRoadPlan, useSurvey, useSurveyLines } from "../../plan/hooks";
import { useLook } from "../../plan/look";
import { useStructureMarks } from "../../plan/structures";
import { ChosenLine } from "./ChosenLine";
import { ChosenPoint } from "./ChosenPoint";
import { type Point, useSurveyInUse } from "./edits";
import { EditsList } from "./EditsList";
import { ImportsPanel } from "./ImportsPanel";
import { SurfacePanel } from "./SurfacePanel";
import { later } from "../../common/later";

const CodePanel = later(() => import("./CodePanel").then((m) => m.CodePanel));
const DrawLine = later(() => import("./DrawLine").then((m) => m.DrawLine));
const ImportSurvey = later(() => import("./ImportSurvey").then((m) => m.ImportSurvey));
const StructurePanel = later(() => import("./StructurePanel").then((m) => m.StructurePanel));

const LAYERS = ["Points", "Lines", "Background", "Triangles", "Contours", "Structures", "Alignment"] as const;
/** A surveyed line that is chosen, in the address. */
const LINE = "surveyed:";
/** Of a point in the address, before its number and code. */
const POINT = "point:";
const PANELS = ["Survey", "Codes", "Surfaces", "Pipes"] as const;

/** The import keeps its place while a project gets its first survey: the dialog must not begin anew when that arrives. */
export default function SurveyStop() {
  const summary = useSummary().data;
  const [importing, setImporting] = useState(false);
  const begin = () => setImporting(true);
  return (
    <>
      {summary?.missing.includes("survey") ? <NoSurvey begin={begin} /> : <Surveyed begin={begin} />}
      {importing && <ImportSurvey onClose={() => setImporting(false)} />}
    </>
  );
}

/** What an empty project may begin with. */
function NoSurvey({ begin }: { begin: () => void }) {
  const mayEdit = useMayEdit();
  const navigate = useNavigate();
  const { search } = useLocation();
  const project = useProjectId();
  const { message } = App.useApp();
  const refresh = useRefresh();
  const failed = (line: string) => void message.error(line, 8);
  const job = useJob({
    kind: "demo_road",
    done: async () => {
      await refresh();
      startTour();
    },
    failed,
  });
  const fill = async () => {
    try {
      job.follow(dataOf(await api.POST("/api/projects/{project_id}/demo-road", { params: { path: { project_id: project } } })));
    } catch (e) {
      failed(lineOf(e));
    }
  };
  return (
    <div className="empty" style={{ gridColumn: "1 / -1" }}>
      <h2>No survey yet</h2>
      <p style={{ maxWidth: 440, margin: 0 }}>
        Import a CSV file with one point a row (number, easting, northing, level, code, and for lines their name and order), a LandXML file, or a DXF drawing.
      </p>
      {mayEdit && (
        <span style={{ display: "flex", gap: 8 }}>
          <Button type="primary" onClick={begin}>
            Import a survey
          </Button>
          <Button loading={job.running} onClick={() => void fill()}>
            Look at a demo road
          </Button>
          <Button onClick={() => void navigate({ pathname: `/p/${project}/templates`, search: withLibrary(search) })}>Bring in a library</Button>
        </span>
      )}
      <p className="quiet" style={{ maxWidth: 440, margin: 0 }}>
        The demo road is a copy of your own, in this project: try everything on it. Nothing in it is real.
      </p>
    </div>
  );
}

function withLibrary(search: string): string {
  const next = new URLSearchParams(search);
  next.set("sel", "library");
  return next.toString();
}

/** What of the survey is shown, and where. */
function useSurveyed({ begin }: { begin: () => void }) {
  const survey = useSurvey().data;
  const lines = useSurveyLines().data;
  const road = useRoadPlan().data;
  const place = usePlace();
  const mayEdit = useMayEdit();
  const look = useLook();
  const project = useProjectId();
  const marks = useStructureMarks();
  const [shown, toggle] = useShown<(typeof LAYERS)[number]>(["Points", "Lines", "Background", "Structures", "Alignment"]);
  const [panel, setPanel] = useState<(typeof PANELS)[number]>("Survey");
  const [surface, setSurface] = useState("main");
  const [box, setBox] = useState<Box | null>(null);
  const [near, setNear] = useState<number[] | null>(null);
  const line = place.selection?.startsWith(LINE) ? place.selection.slice(LINE.length) : null;
  const { number, code } = pointOf(place.selection?.startsWith(POINT) ? place.selection.slice(POINT.length) : "");
  const point = useFoundPoints(number).data?.find((p) => p.number === number && (code === null || p.code === code));
  const [drawing, setDrawing] = useState<Point[] | null>(null);
  /** The point that was met last: one that is found elsewhere is shown, one that was clicked lies where it is. */
  const [met, setMet] = useState<string | null>(null);
  const choosePoint = (of: string, as: string) => {
    setMet(pointId(of, as));
    place.select(`${POINT}${pointId(of, as)}`);
  };
  const setLine = (id: string | null) => place.select(id && `${LINE}${id}`);
  const points = useInView("points", box, shown.has("Points") && survey !== undefined).points;
  const background = useBackground(box, shown.has("Background"));
  const edges = useInView("edges", box, shown.has("Triangles") && survey !== undefined, surface).edges;
  const contours = useInView("contours", box, shown.has("Contours") && survey !== undefined, surface).contours;
  const extent = survey?.extent;
  if (point && pointId(point.number, point.code) !== met) {
    setMet(pointId(point.number, point.code));
    setNear(around(point.east, point.north));
  }
  const beneath = useSurveyInUse().spec?.beside.some((b) => b.background) ?? false;
  const marked = drawing?.at(-1) ?? point;
  const thinned = points?.more || edges?.more || contours?.more;
  const showPlace = (east: number, north: number) => setNear(around(east, north));
  const drawThrough = async (of: string, as: string | null) => {
    const found = dataOf(await api.GET("/api/projects/{project_id}/survey/find", { params: { path: { project_id: project }, query: { number: of } } }));
    const next = found.find((p) => p.number === of && p.code === as);
    if (next) setDrawing((now) => [...(now ?? []), next]);
  };
  const chosen = lines?.find((l) => `${l.code} ${l.name}` === line);
  return {
    begin,
    survey,
    lines,
    road,
    place,
    mayEdit,
    look,
    marks,
    shown,
    toggle,
    panel,
    setPanel,
    surface,
    setSurface,
    setBox,
    near,
    setNear,
    line,
    point,
    drawing,
    setDrawing,
    choosePoint,
    setLine,
    points,
    background,
    edges,
    contours,
    extent,
    beneath,
    marked,
    thinned,
    showPlace,
    drawThrough,
    chosen,
  };
}
type SurveyedWork = ReturnType<typeof useSurveyed>;

function Surveyed(props: { begin: () => void }) {
  const work = useSurveyed(props);
  const { begin, survey, lines, mayEdit, panel, setPanel, surface, setSurface, line, point, drawing, setDrawing, choosePoint, setLine, showPlace, chosen } =
    work;
  return (
    <>
      <SurveyPlan {...work} />
      <Inspector title="Survey">
        <Segmented size="small" block aria-label="Panel" value={panel} options={[...PANELS]} onChange={setPanel} style={{ marginBottom: 10 }} />
        {survey && panel === "Survey" && (
          <>
            <p className="quiet" style={{ margin: 0 }}>
              {survey.name}
            </p>
            <div className="card">
              <Figures
                of={[
                  ["points", survey.points.toLocaleString("en"), ""],
                  ["lines", String(lines?.length ?? "–"), ""],
                  ["problems", String(survey.skipped_total), ""],
                ]}
              />
            </div>
            {drawing && (
              <DrawLine
                lines={lines ?? []}
                points={drawing}
                setPoints={setDrawing}
                done={(made) => {
                  setDrawing(null);
                  if (made) setLine(made);
                }}
              />
            )}
            {chosen && !drawing && <ChosenLine key={line} line={chosen} lines={lines ?? []} showPlace={showPlace} />}
            {point && !drawing && <ChosenPoint point={point} lines={lines ?? []} choose={choosePoint} />}
            <EditsList survey={survey} />
            {survey.skipped.length > 0 && (
              <details className="card">
                <summary>Left out at the import</summary>
                {survey.skipped.map((s, i) => (
                  <p key={i} style={{ margin: "4px 0" }} className="quiet">
                    {s.row ? `Row ${s.row}: ` : ""}
                    {s.reason}
                  </p>
                ))}
              </details>
            )}
            <div style={{ display: "flex", gap: 6, marginTop: 12 }}>
              {mayEdit && (
                <Button size="small" type="primary" onClick={begin}>
                  Import another survey
                </Button>
              )}
              {mayEdit && !drawing && (
                <Button size="small" onClick={() => setDrawing([])}>
                  Draw line
                </Button>
              )}
              <SaveSurvey />
            </div>
            <ImportsPanel showPlace={showPlace} />
            <p className="quiet">
              Click a line in plan to see what it is, or zoom in and click a point. Where several lie on top of each other you are asked which.
            </p>
          </>
        )}
        {survey && panel === "Codes" && <CodePanel codes={survey.codes} />}
        {survey && panel === "Surfaces" && <SurfacePanel codes={survey.codes} chosen={surface} choose={setSurface} showPlace={showPlace} />}
        {panel === "Pipes" && <StructurePanel showPlace={showPlace} />}
      </Inspector>
    </>
  );
}

function SurveyPlan({
  lines,
  road,
  place,
  look,
  marks,
  shown,
  toggle,
  setPanel,
  setBox,
  near,
  setNear,
  line,
  drawing,
  choosePoint,
  setLine,
  points,
  background,
  edges,
  contours,
  extent,
  beneath,
  marked,
  thinned,
  drawThrough,
}: SurveyedWork) {
  return (
    <div className="stage">
      <div className="fill">
        <Plan
          extent={near ?? (extent && [extent[0]!, extent[1]!, extent[3]!, extent[4]!])}
          lines={shown.has("Lines") ? lines : undefined}
          look={look}
          points={points}
          background={background}
          edges={edges}
          contours={contours}
          structures={shown.has("Structures") ? marks : undefined}
          road={shown.has("Alignment") ? road : undefined}
          current={shown.has("Alignment") ? { index: place.index, chainage: place.chainage } : undefined}
          chosenLine={line}
          chosenPoint={marked && [marked.east, marked.north]}
          sketch={drawing && drawing.length > 1 ? drawing.map((p) => [p.east, p.north]) : undefined}
          onlyPoints={drawing !== null}
          onView={setBox}
          onPick={(e, n) => {
            if (drawing) return;
            setLine(null);
            if (road) place.goTo(nearestRow(road.sections, e, n));
          }}
          onChoose={(what) => {
            const of = pointOf(what.id);
            if (what.kind === "survey point" && drawing) void drawThrough(of.number, of.code);
            else if (what.kind === "survey point") choosePoint(of.number, of.code ?? "");
            else if (what.kind === "survey line") setLine(what.id);
            else return;
            setPanel("Survey");
          }}
        />
        <div className="over-plan">
          <Choices of={LAYERS.filter((l) => l !== "Background" || beneath)} shown={shown} toggle={toggle} />
          {near && (
            <Button size="small" onClick={() => setNear(null)}>
              Whole survey
            </Button>
          )}
          {thinned ? (
            <span className="quiet" style={{ background: "var(--white)", padding: "2px 6px" }}>
              more in view than drawn: zoom in
            </span>
          ) : null}
        </div>
      </div>
    </div>
  );
}

/** A piece of the plan about a place, m. */
const around = (east: number, north: number) => [east - 25, north - 12, east + 25, north + 12];

function SaveSurvey() {
  const project = useProjectId();
  const file = (name: string) => `/api/projects/${project}/files/${name}`;
  return (
    <SaveAs
      ways={[
        { label: "CSV: points and lines", href: file("survey.csv") },
        { label: "LandXML: with surfaces and alignments", made: useSave("survey_landxml") },
        { label: "DXF: with surfaces and alignments", made: useSave("survey_dxf") },
        { label: "The file as it came", href: file("survey-original") },
      ]}
    />
  );
}
