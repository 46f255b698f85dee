/** Survey in plan: points, coded lines, triangle edges; import of another. */
import { Button } from "antd";
import { useState } from "react";
import { useMayEdit, useSummary } from "../../api/hooks";
import { usePlace } from "../../app/place";
import { Figures, Inspector } from "../../common/Inspector";
import { Plan } from "../../plan/Plan";
import { type Box, nearestRow, useInView, useRoadPlan, useSurvey, useSurveyLines } from "../../plan/hooks";
import { ImportSurvey } from "./ImportSurvey";

const TOGGLES = ["Points", "Lines", "Triangles", "Alignment"] as const;

export default function SurveyStop() {
  const summary = useSummary().data;
  const survey = useSurvey().data;
  const lines = useSurveyLines().data;
  const road = useRoadPlan().data;
  const place = usePlace();
  const mayEdit = useMayEdit();
  const [shown, setShown] = useState<Set<string>>(new Set(["Points", "Lines", "Alignment"]));
  const [box, setBox] = useState<Box | null>(null);
  const [importing, setImporting] = useState(false);
  const points = useInView("points", box, shown.has("Points") && survey !== undefined).data?.points;
  const edges = useInView("edges", box, shown.has("Triangles") && survey !== undefined).data?.edges;
  const toggle = (name: string) =>
    setShown((old) => {
      const next = new Set(old);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  const wizard = importing && <ImportSurvey onClose={() => setImporting(false)} />;
  if (summary?.missing.includes("survey")) {
    return (
      <div className="empty" style={{ gridColumn: "1 / -1" }}>
        <h2>No survey yet</h2>
        <p style={{ maxWidth: 420, margin: 0 }}>Import a CSV file with one point a row: number, easting, northing, level, code, and for lines their name and order.</p>
        {mayEdit && (
          <Button type="primary" onClick={() => setImporting(true)}>
            Import a survey
          </Button>
        )}
        {wizard}
      </div>
    );
  }
  const extent = survey?.extent;
  const thinned = (shown.has("Points") && points?.more) || (shown.has("Triangles") && edges?.more);
  return (
    <>
      <div className="stage">
        <div className="fill">
          <Plan
            extent={extent && [extent[0]!, extent[1]!, extent[3]!, extent[4]!]}
            lines={shown.has("Lines") ? lines : undefined}
            points={shown.has("Points") ? points : undefined}
            edges={shown.has("Triangles") ? edges : undefined}
            road={shown.has("Alignment") ? road : undefined}
            current={shown.has("Alignment") ? { index: place.index, chainage: place.chainage } : undefined}
            onView={setBox}
            onPick={(e, n) => road && place.goTo(nearestRow(road.sections, e, n))}
          />
          <div className="over-plan">
            {TOGGLES.map((t) => (
              <Button key={t} size="small" type={shown.has(t) ? "primary" : "default"} ghost={shown.has(t)} aria-pressed={shown.has(t)} onClick={() => toggle(t)}>
                {t}
              </Button>
            ))}
            {thinned ? <span className="quiet" style={{ background: "var(--white)", padding: "2px 6px" }}>more in view than drawn: zoom in</span> : null}
          </div>
        </div>
      </div>
      <Inspector title="Survey">
        {survey && (
          <>
            <p className="quiet" style={{ marginTop: -8 }}>{survey.name}</p>
            <div className="card">
              <Figures
                of={[
                  ["points", survey.points.toLocaleString("en"), ""],
                  ["triangles", survey.triangles.toLocaleString("en"), ""],
                  ["rows left out", String(survey.skipped_total), ""],
                ]}
              />
            </div>
            <table className="grid-table" aria-label="Codes">
              <thead>
                <tr>
                  <th>Code</th>
                  <th className="num">Points</th>
                  <th className="num">Lines</th>
                  <th>Surface</th>
                </tr>
              </thead>
              <tbody>
                {survey.codes.map((c) => (
                  <tr key={c.code}>
                    <td>{c.code || "no code"}</td>
                    <td className="num">{c.points}</td>
                    <td className="num">{c.lines || ""}</td>
                    <td>{c.in_surface ? (c.breakline && c.lines ? "breakline" : "points") : "left out"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
        {mayEdit && (
          <Button style={{ marginTop: 12 }} onClick={() => setImporting(true)}>
            Import another survey
          </Button>
        )}
      </Inspector>
      {wizard}
    </>
  );
}
