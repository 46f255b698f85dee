/** Plan lines: elements or intersection points, dragged in plan or typed; best fit; parts; chainage equations. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { useQueryClient } from "@tanstack/react-query";
import { Alert, App, Button, Input, Segmented, Select } from "antd";
import { useMemo, useRef, useState } from "react";
import { api, dataOf, lineOf } from "../../api/client";
import { type DocumentOf, useDocumentsOf, useMayEdit, useOwnKey, useProjectId, useSummary } from "../../api/hooks";
import { useNewest } from "../../api/latest";
import { freshKey, useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { Figures, Inspector, Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { RoadPlan } from "../../plan/RoadPlan";
import { nearestRow, useRoadPlan, useSurvey, useSurveyLines } from "../../plan/hooks";
import { useLook as useLineLook } from "../../plan/look";
import { ElementTable } from "./ElementTable";
import { type Fitted, FitPanel } from "./FitPanel";
import { fromIps, type Ip, lookAt, type Spec, useLook } from "./hooks";
import { IpTable } from "./IpTable";
import { LongSection } from "./LongSection";
import { Remove } from "../../common/Remove";
import { StartDialog, useStandsAlong } from "./StartDialog";

/** Residuals are drawn so much longer than they are. */
const EXAGGERATED = 200;
const TABLES = ["Elements", "Intersection points", "Long section"] as const;

export default function AlignmentStop() {
  const all = useDocumentsOf("alignment");
  const survey = useSurvey().data;
  const mayEdit = useMayEdit();
  const save = useSave();
  const [key, setKey] = useState<string | null>(null);
  const extent = survey?.extent;
  const own = useOwnKey("alignment");
  const document = all.find((d) => d.key === (key ?? own)) ?? all.find((d) => d.key === own) ?? all[0];
  const begin = () =>
    void save({
      kind: "alignment",
      key: own,
      version: 0,
      spec: {
        equations: [],
        name: "Main line",
        start_east: extent ? Math.round(extent[0]!) : 0,
        start_north: extent ? Math.round(extent[1]!) : 0,
        start_bearing_deg: 45,
        start_chainage: 0,
        elements: [{ kind: "straight", length: 100 }],
      },
    });
  return <Editor key={document?.key ?? "none"} document={document} all={all} choose={setKey} begin={mayEdit ? begin : null} />;
}

interface Props {
  document: DocumentOf<"alignment"> | undefined;
  all: DocumentOf<"alignment">[];
  choose: (key: string | null) => void;
  begin: (() => void) | null;
}

/** The alignment in the hand, what it looks like, and the fit through it */
function useEditedLine({ document, all, choose, begin }: Props) {
  const own = useOwnKey("alignment");
  const project_id = useProjectId();
  const summary = useSummary().data;
  const survey = useSurvey().data;
  const road = useRoadPlan().data;
  const lines = useSurveyLines().data;
  const lineLook = useLineLook();
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const { message } = App.useApp();
  const client = useQueryClient();
  const { spec, change, drag, giveUp } = useDraft("alignment", document?.key ?? own, document);
  const [speed, setSpeed] = useState(60);
  const { look, error } = useLook(spec, speed);
  const [table, setTable] = useState<(typeof TABLES)[number]>("Elements");
  const [pinned, setPinned] = useState<Set<number>>(new Set());
  const [fitted, setFitted] = useState<Fitted | null>(null);
  const proposal = useLook(fitted?.alignment, speed).look?.line;
  const main = document?.key === own;
  /** Intersection points as typed, until the server has made elements of them: the next value is typed into these. */
  const [typed, setTyped] = useState<Ip[] | null>(null);
  const ips = table === "Intersection points" ? (typed ?? look?.ips ?? undefined) : undefined;
  const handles = useMemo(() => ips?.map((p, i) => ({ at: [p.east, p.north], label: `IP ${i + 1}` })), [ips]);
  const sketch = useMemo(() => ips?.map((p) => [p.east, p.north]), [ips]);
  const residuals = useMemo(
    () =>
      fitted?.points.map((p, i) => {
        const near = fitted.points[i ? i - 1 : 1]!;
        const way = Math.atan2(p[0]! - near[0]!, p[1]! - near[1]!) + (i ? 0 : Math.PI);
        const r = fitted.residual[i]! * EXAGGERATED;
        return { at: p, to: [p[0]! + r * Math.cos(way), p[1]! - r * Math.sin(way)], beyond: fitted.beyond.includes(i) };
      }),
    [fitted],
  );
  return {
    document,
    all,
    choose,
    begin,
    own,
    project_id,
    summary,
    survey,
    road,
    lines,
    lineLook,
    place,
    mayEdit,
    save,
    message,
    client,
    spec,
    change,
    drag,
    giveUp,
    speed,
    setSpeed,
    look,
    error,
    table,
    setTable,
    pinned,
    setPinned,
    fitted,
    setFitted,
    proposal,
    main,
    setTyped,
    ips,
    handles,
    sketch,
    residuals,
  };
}

/** Its intersection points moved, parts of it made, fits kept. */
function useEditor(props: Props) {
  const given = useEditedLine(props);
  const {
    all,
    choose,
    own,
    project_id,
    survey,
    place,
    mayEdit,
    save,
    message,
    client,
    spec,
    change,
    drag,
    giveUp,
    speed,
    pinned,
    fitted,
    setFitted,
    main,
    setTyped,
    ips,
  } = given;
  const standsAlong = useStandsAlong();
  const [start, setStart] = useState<number | null>(null);
  const beginAt = (v: number) => (standsAlong ? setStart(v) : spec && change({ ...spec, start_chainage: v }));
  const makeOf = useNewest(async (next: Ip[]) => {
    try {
      const made = await fromIps(project_id, spec!, next);
      await client.fetchQuery(lookAt(project_id, made, speed));
      change(made);
    } catch (e) {
      message.error(lineOf(e), 6);
    }
    setTyped((now) => (now === next ? null : now));
  });
  const setIps = (next: Ip[]) => {
    if (!spec) return;
    setTyped(next);
    makeOf(next);
  };
  /** An intersection point in the hand, of those that the drag began with. */
  const grasped = useRef<{ spec: Spec; ips: Ip[] } | null>(null);
  const moveIp = useNewest(async ({ i, at: [east, north], done }: { i: number; at: [number, number]; done: boolean }) => {
    grasped.current ??= spec && ips ? { spec, ips } : null;
    const from = grasped.current;
    if (!from) return;
    if (done) grasped.current = null;
    try {
      drag(
        await fromIps(
          project_id,
          from.spec,
          from.ips.map((p, j) => (j === i ? { ...p, east, north } : p)),
        ),
        done,
      );
    } catch (e) {
      if (!done) return; // too near its neighbours for now
      giveUp();
      message.error(lineOf(e), 6);
    }
  });
  const keep = async (key: string, made: Spec) => {
    const there = all.find((d) => d.key === key);
    if ((await save({ kind: "alignment", key, version: there?.version ?? 0, spec: made })) === null) return;
    setFitted(null);
    choose(key);
  };
  const beside = (made: Spec) => keep(freshKey("alignment"), made);
  const part = async () => {
    if (!spec || !place.range) return;
    try {
      const body = { alignment: spec, from_chainage: place.range.from, to_chainage: place.range.to, name: `Part of ${spec.name}`.slice(0, 80) };
      await beside(dataOf(await api.POST("/api/projects/{project_id}/alignment/part", { params: { path: { project_id } }, body })));
    } catch (e) {
      message.error(lineOf(e));
    }
  };
  const turn = async () => {
    if (!spec) return;
    change(dataOf(await api.POST("/api/projects/{project_id}/alignment/reversed", { params: { path: { project_id } }, body: spec })));
  };
  const extent = survey?.extent;
  const fit = mayEdit && survey && (
    <FitPanel
      current={spec}
      pinned={pinned}
      fitted={fitted}
      onFitted={setFitted}
      onTake={(made) => void keep(own, { ...made, name: spec && main ? spec.name : "Main line" })}
      onKeepBeside={(made) => void beside(made)}
    />
  );
  return { ...given, start, setStart, beginAt, setIps, moveIp, keep, part, turn, extent, fit };
}
type EditorWork = ReturnType<typeof useEditor>;

function Editor(props: Props) {
  const work = useEditor(props);
  const { begin, road, lines, lineLook, place, mayEdit, spec, look, fitted, proposal, main, handles, sketch, residuals, moveIp, extent } = work;
  return (
    <>
      <div className="stage">
        <div className="fill">
          <RoadPlan
            road={main ? road : undefined}
            lines={lines}
            look={lineLook}
            extent={!road && extent ? [extent[0]!, extent[1]!, extent[3]!, extent[4]!] : undefined}
            current={main ? { index: place.index, chainage: place.chainage } : undefined}
            sketch={sketch ?? (main && road ? undefined : look?.line)}
            handles={mayEdit ? handles : undefined}
            onMoveHandle={(i, at, done) => moveIp({ i, at, done })}
            proposal={fitted ? proposal : undefined}
            residuals={residuals}
            onPick={(e, n) => main && road && place.goTo(nearestRow(road.sections, e, n))}
          />
          {!spec && (
            <div className="over-plan" style={{ right: 60 }}>
              <div className="card" style={{ margin: 0, maxWidth: 460 }}>
                <h2>No alignment yet</h2>
                <p>
                  A start point with bearing and chainage, then straights, arcs and clothoids one after another; typed, pasted from a spreadsheet, or fitted
                  through a surveyed crown or edge.
                </p>
                {begin && (
                  <Button type="primary" onClick={begin}>
                    Start an alignment
                  </Button>
                )}
              </div>
            </div>
          )}
        </div>
        {spec && <AlignmentTables {...work} spec={spec} />}
      </div>
      <AlignmentInspector {...work} />
    </>
  );
}

function AlignmentTables({
  road,
  place,
  mayEdit,
  spec,
  change,
  speed,
  setSpeed,
  look,
  error,
  table,
  setTable,
  pinned,
  setPinned,
  main,
  ips,
  setIps,
  part,
}: EditorWork & { spec: NonNullable<EditorWork["spec"]> }) {
  return (
    <div style={{ height: 262, borderTop: "1px solid var(--tin200)", display: "flex", flexDirection: "column" }}>
      <div className="toolbar">
        <Segmented size="small" aria-label="Table" value={table} options={[...TABLES]} onChange={setTable} />
        {table === "Intersection points" && (
          <span className="quiet">{look?.ips ? "Drag them in plan, or type." : "Not made of simple curves between straights: use the elements."}</span>
        )}
        <span style={{ flex: 1 }} />
        {table !== "Long section" && (
          <span style={{ display: "inline-flex", gap: 6, alignItems: "center" }}>
            <span className="quiet">Checked for</span>
            <NumberField label="Design speed" unit="km/h" least={10} most={200} width={92} value={speed} onChange={setSpeed} />
          </span>
        )}
        {mayEdit && place.range && (
          <Button size="small" onClick={() => void part()}>
            Make a part: {chainageText(place.range.from, 0)} to {chainageText(place.range.to, 0)}
          </Button>
        )}
      </div>
      {error && <Alert banner type="error" title={error} />}
      <div style={{ flex: 1, minHeight: 0 }}>
        {table === "Long section" ? (
          road && main && <LongSection />
        ) : table === "Elements" ? (
          <ElementTable
            spec={spec}
            checks={look?.curves ?? []}
            change={change}
            disabled={!mayEdit}
            pinned={pinned}
            pin={(i) =>
              setPinned((old) => {
                const next = new Set(old);
                if (!next.delete(i)) next.add(i);
                return next;
              })
            }
          />
        ) : (
          ips && <IpTable ips={ips} disabled={!mayEdit} change={setIps} />
        )}
      </div>
    </div>
  );
}

function AlignmentInspector({ document, all, choose, own, summary, mayEdit, spec, change, main, start, setStart, beginAt, keep, turn, fit }: EditorWork) {
  return (
    <Inspector title={spec?.name ?? "Alignment"}>
      {all.length > 1 && (
        <Row label="Shown">
          <Select
            size="small"
            aria-label="Alignment shown"
            value={document?.key}
            options={all.map((d) => ({ value: d.key, label: d.key === own ? `${d.spec.name} (of this road)` : d.spec.name }))}
            onChange={choose}
          />
        </Row>
      )}
      {spec && document && (
        <>
          <Row label="Name">
            <Input
              size="small"
              aria-label="Name of the alignment"
              disabled={!mayEdit}
              value={spec.name}
              maxLength={80}
              onChange={(e) => e.target.value && change({ ...spec, name: e.target.value })}
            />
          </Row>
          {(
            [
              ["Start chainage", "start_chainage", "m"],
              ["Start easting", "start_east", "m"],
              ["Start northing", "start_north", "m"],
              ["Start bearing", "start_bearing_deg", "°"],
            ] as const
          ).map(([label, field, unit]) => (
            <Row key={field} label={label}>
              <NumberField
                label={label}
                unit={unit}
                value={spec[field]}
                disabled={!mayEdit}
                onChange={(v) => (field === "start_chainage" && main ? beginAt(v) : change({ ...spec, [field]: v }))}
              />
            </Row>
          ))}
          {start !== null && (
            <StartDialog document={document} start={start} leave={() => change({ ...spec, start_chainage: start })} close={() => setStart(null)} />
          )}
          <Equations spec={spec} change={change} disabled={!mayEdit} />
          <Ends spec={spec} />
          {!main && mayEdit && <OtherLine document={document} turn={() => void turn()} makeMain={() => void keep(own, document.spec)} choose={choose} />}
        </>
      )}
      {fit}
      {summary?.missing.includes("survey") && <Alert type="info" title="Import a survey to see the alignment on it, and to fit one through it." />}
      <p className="quiet">Bearings run clockwise from north. A radius is positive turning right, negative turning left.</p>
    </Inspector>
  );
}

function Ends({ spec }: { spec: Spec }) {
  const start = spec.start_chainage;
  const length = spec.elements.reduce((sum, e) => sum + e.length, 0);
  return (
    <div className="card">
      <Figures
        of={[
          ["from", chainageText(start, 1), ""],
          ["to", chainageText(start + length, 1), ""],
          ["length", length.toFixed(1), "m"],
        ]}
      />
    </div>
  );
}

function Equations({ spec, change, disabled }: { spec: Spec; change: (s: Spec) => void; disabled: boolean }) {
  const equations = spec.equations;
  const set = (next: typeof equations) => change({ ...spec, equations: next });
  const middle = spec.start_chainage + spec.elements.reduce((sum, e) => sum + e.length, 0) / 2;
  return (
    <section aria-label="Chainage equations">
      {equations.map((e, i) => (
        <div key={i} style={{ display: "grid", gridTemplateColumns: "1fr auto 1fr auto", gap: 4, alignItems: "center", marginBottom: 4 }}>
          <NumberField
            label={`Equation ${i + 1} back`}
            unit="m"
            value={e.back}
            disabled={disabled}
            onChange={(back) => set(equations.map((x, j) => (j === i ? { ...x, back } : x)))}
          />
          <span>=</span>
          <NumberField
            label={`Equation ${i + 1} ahead`}
            unit="m"
            value={e.ahead}
            disabled={disabled}
            onChange={(ahead) => set(equations.map((x, j) => (j === i ? { ...x, ahead } : x)))}
          />
          <Button
            type="text"
            size="small"
            aria-label={`Remove equation ${i + 1}`}
            icon={<DeleteOutlined />}
            disabled={disabled}
            onClick={() => set(equations.filter((_, j) => j !== i))}
          />
        </div>
      ))}
      {!disabled && (
        <Button
          size="small"
          icon={<PlusOutlined />}
          onClick={() =>
            set([...equations, { back: equations.at(-1)?.ahead ?? Math.round(middle), ahead: (equations.at(-1)?.ahead ?? Math.round(middle)) + 1000 }])
          }
        >
          Chainage equation
        </Button>
      )}
    </section>
  );
}

function OtherLine({
  document,
  turn,
  makeMain,
  choose,
}: {
  document: DocumentOf<"alignment">;
  turn: () => void;
  makeMain: () => void;
  choose: (key: string | null) => void;
}) {
  return (
    <div style={{ display: "flex", gap: 6 }}>
      <Button size="small" title="The road is computed along its own line: this one takes its place" onClick={makeMain}>
        Make this the road's line
      </Button>
      <Button size="small" title="Its chainages then run the other way" onClick={turn}>
        Turn round
      </Button>
      <Remove document={document} onRemoved={() => choose(null)} />
    </div>
  );
}
