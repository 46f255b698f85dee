/** Depth in plan, the live section, and the treatment at the current chainage. */
import { Button } from "antd";
import { useMemo, useState } from "react";
import { useSection } from "../../api/preview";
import { useDraft } from "../../api/useDraft";
import { fileOf } from "../../api/client";
import { useDocument, useMayEdit, useOfRoad, useOwnKey, useSummary } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { Choices, useShown } from "../../common/Choices";
import { Figures, Inspector } from "../../common/Inspector";
import { isOpen, Problems } from "../../common/Problems";
import { MissingInputs } from "../../common/MissingInputs";
import { LivePane } from "../../drawing/LivePane";
import { LiveSection } from "../../drawing/LiveSection";
import { RoadPlan } from "../../plan/RoadPlan";
import { type DepthBetween, nearestRow, useDepthMap, useRoadPlan, useSurveyLines } from "../../plan/hooks";
import { useLook } from "../../plan/look";
import { useSetTreatment } from "../../strip/RangeBar";
import { DepthLegend } from "./DepthLegend";
import { SideRoadPanel } from "./SideRoadPanel";
import { TreatmentForm, useStartingWork, type Work } from "./TreatmentForm";
import { later } from "../../common/later";
import { useStable } from "../../common/stable";

const MillingPanel = later(() => import("./MillingPanel").then((m) => m.MillingPanel));

const TOGGLES = ["Depth", "Depth in section", "Problems", "Survey lines", "Section lines"] as const;

export default function OverlayStop() {
  const summary = useSummary().data;
  const place = usePlace();
  const road = useRoadPlan().data;
  const [between, setBetween] = useState<DepthBetween>("sections");
  const { depth, wait } = useDepthMap(between);
  const lines = useSurveyLines().data;
  const [shown, toggle] = useShown<(typeof TOGGLES)[number]>(["Depth", "Problems", "Survey lines"]);
  const look = useLook();
  const [whole, setWhole] = useState(false);
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  const problems = road
    ? summary.problems.filter(isOpen).map((p) => {
        const row = road.sections[summary.chainage.findIndex((c) => c >= p.chainage_from - 1e-3)] ?? [0, 0, 0, 0];
        return { at: [(row[0]! + row[2]!) / 2, (row[1]! + row[3]!) / 2], severity: p.severity };
      })
    : undefined;
  return (
    <>
      <div className="stage">
        <div className="fill">
          <RoadPlan
            road={road}
            depth={shown.has("Depth") ? depth : undefined}
            lines={shown.has("Survey lines") ? lines : undefined}
            look={look}
            problems={shown.has("Problems") ? problems : undefined}
            showSections={shown.has("Section lines")}
            current={{ index: place.index, chainage: place.chainage }}
            reach={whole ? undefined : 150}
            onPick={(e, n) => road && place.goTo(nearestRow(road.sections, e, n))}
          />
          <div className="over-plan">
            <Choices of={TOGGLES} shown={shown} toggle={toggle} />
            <Button size="small" aria-pressed={whole} onClick={() => setWhole(!whole)}>
              {whole ? "Zoom to section" : "Whole road"}
            </Button>
          </div>
          {shown.has("Depth") && (depth || wait) && <DepthLegend depth={depth} wait={wait} between={between} setBetween={setBetween} />}
        </div>
        <LivePane>
          <LiveSection bands={shown.has("Depth in section")} />
        </LivePane>
      </div>
      <TreatmentInspector />
    </>
  );
}

function TreatmentInspector() {
  const of = useOfRoad();
  const place = usePlace();
  const summary = useSummary().data!;
  const plan = useDocument("treatments");
  const { section } = useSection(place.index);
  const mayEdit = useMayEdit();
  const setTreatment = useSetTreatment();
  const { spec, change } = useDraft("treatments", useOwnKey("treatments"), plan, 0);
  const ranges = spec?.ranges ?? [];
  const before = summary.side[place.index] === -1 || place.chainage >= summary.end - 1e-3;
  const number = ranges.findIndex((r) =>
    before
      ? r.from_chainage < place.chainage - 1e-3 && r.to_chainage >= place.chainage - 1e-3
      : r.from_chainage <= place.chainage + 1e-3 && r.to_chainage > place.chainage + 1e-3,
  );
  const range = ranges[number];
  const mine = range ? summary.problems.filter((p) => p.chainage_from <= range.to_chainage && p.chainage_to >= range.from_chainage) : summary.problems;
  const gap = {
    from: Math.max(summary.start, ...ranges.map((r) => r.to_chainage).filter((c) => c <= place.chainage + 1e-3)),
    to: Math.min(summary.end, ...ranges.map((r) => r.from_chainage).filter((c) => c >= place.chainage)),
  };
  const { start } = useStartingWork(gap);
  const write = useStable((work: Work) => change({ ranges: ranges.map((r, i) => (i === number ? { ...r, work } : r)) }));
  const [from, to] = [range?.from_chainage ?? 0, range?.to_chainage ?? 0];
  const stretch = useMemo(() => ({ from, to }), [from, to]);
  if (!range) {
    return (
      <Inspector title="Overlay">
        <p>No treatment at {chainageText(place.chainage)}. Mark a range on the strip with Shift+drag, or take the whole stretch.</p>
        {mayEdit && start && gap.to > gap.from && (
          <Button type="primary" onClick={() => setTreatment.mutate({ ...gap, work: start("overlay") })}>
            Overlay {chainageText(gap.from, 0)} to {chainageText(gap.to, 0)}
          </Button>
        )}
        <Problems problems={mine} />
      </Inspector>
    );
  }
  const d = section?.depth;
  const mm = (v: number | undefined) => (v === undefined ? "–" : (v * 1000).toFixed(0));
  return (
    <Inspector title={`${chainageText(range.from_chainage, 0)} to ${chainageText(range.to_chainage, 0)}`}>
      <p className="quiet" style={{ marginTop: -8 }}>
        Treatment {number + 1} of {ranges.length}
      </p>
      <TreatmentForm work={range.work} range={stretch} disabled={!mayEdit} onChange={write} />
      {range.work.kind === "overlay" && (
        <div className="card">
          <Figures
            of={[
              ["least", mm(d?.least), "mm"],
              ["mean", mm(d?.mean), "mm"],
              ["greatest", mm(d?.greatest), "mm"],
              ["least at", d ? d.least_offset.toFixed(2) : "–", "m"],
              ["width", d ? (d.right - d.left).toFixed(2) : "–", "m"],
              ["greatest at", d ? d.greatest_offset.toFixed(2) : "–", "m"],
            ]}
          />
        </div>
      )}
      {range.work.kind === "overlay" && <MillingPanel />}
      {range.work.kind === "overlay" && <SideRoadPanel />}
      <Problems problems={mine} />
      <span style={{ display: "flex", gap: 6, flexWrap: "wrap" }}>
        {mayEdit && (
          <Button size="small" onClick={() => place.mark({ from: range.from_chainage, to: range.to_chainage })}>
            Mark this range
          </Button>
        )}
        <Button size="small" href={fileOf(of, "files/overlay.xlsx")} download>
          Report XLSX
        </Button>
        <Button size="small" href={fileOf(of, "files/overlay.csv")} download>
          CSV
        </Button>
      </span>
    </Inspector>
  );
}
