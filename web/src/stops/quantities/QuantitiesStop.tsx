/** Volumes, masses and lengths per treatment and in total; areas per section; downloads. */
import { Button, Checkbox, Segmented } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useDocument, useMayEdit, useModel, useProjectId, useSummary } from "../../api/hooks";
import { useSave } from "../../api/save";
import { chainageText } from "../../app/chainage";
import { nearestSection, usePlace } from "../../app/place";
import { Figures, Inspector } from "../../common/Inspector";
import { MissingInputs } from "../../common/MissingInputs";

type Quantities = Schemas["Quantities"];

export default function QuantitiesStop() {
  const summary = useSummary().data;
  const project = useProjectId();
  const [shown, setShown] = useState<"Totals" | "Sections">("Totals");
  const quantities = useModel("quantities", async (project_id) => dataOf(await api.GET("/api/projects/{project_id}/model/quantities", { params: { path: { project_id } } }))).data;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          <Segmented size="small" value={shown} options={["Totals", "Sections"]} onChange={setShown} />
          <span style={{ flex: 1 }} />
          <Button size="small" href={`/api/projects/${project}/files/quantities.xlsx`} download>
            Save as XLSX
          </Button>
          <Button size="small" href={`/api/projects/${project}/files/quantities.csv`} download>
            Save as CSV
          </Button>
        </div>
        <div className="scroll">{quantities && (shown === "Totals" ? <Totals quantities={quantities} /> : <Sections quantities={quantities} />)}</div>
      </div>
      {quantities && <Side quantities={quantities} />}
    </>
  );
}

const figure = (v: number | null, decimals: number) => (v === null ? "" : v.toLocaleString("en", { minimumFractionDigits: decimals, maximumFractionDigits: decimals }));

function Totals({ quantities }: { quantities: Quantities }) {
  return (
    <table className="grid-table" aria-label="Quantities">
      <thead>
        <tr>
          <th>Item</th>
          <th>Material</th>
          <th className="num">Volume m³</th>
          <th className="num">Mass t</th>
          <th className="num">Length m</th>
          <th className="num">Area m²</th>
          <th className="num">Not known over m</th>
        </tr>
      </thead>
      {[quantities.total, ...quantities.groups].map((g, i) => (
        <tbody key={i}>
          <tr>
            <td colSpan={7} style={{ fontWeight: 650, paddingTop: 12 }}>
              {g.title}{" "}
              <span className="mono quiet" style={{ fontWeight: 400 }}>
                {chainageText(g.from_chainage, 0)} to {chainageText(g.to_chainage, 0)}
              </span>
            </td>
          </tr>
          {g.rows.length === 0 && (
            <tr>
              <td className="quiet" colSpan={7}>
                nothing is built here
              </td>
            </tr>
          )}
          {g.rows.map((r) => (
            <tr key={`${r.kind}${r.name}${r.material}`}>
              <td>{r.name}</td>
              <td className="quiet">{r.kind === "length" ? "length" : r.material}</td>
              <td className="num">{figure(r.volume, 1)}</td>
              <td className="num">{figure(r.mass, 1)}</td>
              <td className="num">{figure(r.length, 1)}</td>
              <td className="num">{figure(r.area, 0)}</td>
              <td className="num" style={{ color: "var(--fault)" }}>{r.unknown_length ? figure(r.unknown_length, 1) : ""}</td>
            </tr>
          ))}
        </tbody>
      ))}
    </table>
  );
}

function Sections({ quantities }: { quantities: Quantities }) {
  const place = usePlace();
  const summary = useSummary().data!;
  return (
    <table className="grid-table" aria-label="Areas per section">
      <thead>
        <tr>
          <th className="num">Chainage</th>
          {quantities.columns.map((c) => (
            <th key={c} className="num" style={{ whiteSpace: "normal", verticalAlign: "bottom" }}>
              {c} m²
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {quantities.sections.map((s, i) => (
          <tr key={i} className={i === place.index ? "now" : undefined} onClick={() => place.goTo(nearestSection(summary.chainage, summary.side, s.chainage, summary.side[i] ?? 0))} style={{ cursor: "pointer" }}>
            <td className="num">
              {chainageText(s.chainage)}
              {s.side !== "plain" && <span className="quiet"> {s.side}</span>}
            </td>
            {s.areas.map((a, j) => (
              <td key={j} className="num">
                {a === null ? "not known" : a ? a.toFixed(3) : ""}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The overlay's volume by end areas, between sections and between triangulated surfaces, and why they differ. */
function ThreeWays() {
  const check = useModel("overlay-check", async (project_id) => dataOf(await api.GET("/api/projects/{project_id}/model/overlay-check", { params: { path: { project_id } } }))).data;
  if (!check || check.end_areas === 0) return null;
  const off = (v: number) => {
    const share = (100 * (v - check.end_areas)) / check.end_areas;
    return `${share >= 0 ? "+" : "−"}${Math.abs(share).toFixed(2)} %`;
  };
  return (
    <div className="card" role="status" aria-label="Overlay volume three ways">
      <Figures of={[["end areas", check.end_areas.toFixed(1), "m³"], ["sections", check.sections.toFixed(1), "m³"], ["surfaces", check.surfaces.toFixed(1), "m³"], ["", "", ""], ["differ by", off(check.sections), ""], ["differ by", off(check.surfaces), ""]]} />
      <p className="quiet" style={{ margin: "6px 0 0" }}>
        The overlay over the old or milled surface. End areas take each section for half the length to its neighbours. Between sections, triangles follow width and depth, and the chord instead of the arc. Between surfaces, the survey’s own triangles count: what lies between two sections and no section sees. A nearer interval brings them together.
      </p>
    </div>
  );
}

function Side({ quantities }: { quantities: Quantities }) {
  const settings = useDocument("sections");
  const mayEdit = useMayEdit();
  const save = useSave();
  const sum = (kinds: string[], field: "volume" | "mass") => quantities.total.rows.filter((r) => kinds.includes(r.kind)).reduce((s, r) => s + (r[field] ?? 0), 0);
  const kerbs = quantities.total.rows.filter((r) => r.kind === "length").reduce((s, r) => s + (r.length ?? 0), 0);
  return (
    <Inspector title="Quantities">
      <div className="card">
        <Figures
          of={[
            ["courses", figure(sum(["course"], "volume"), 0), "m³"],
            ["mass", figure(sum(["course"], "mass"), 0), "t"],
            ["kerbs", figure(kerbs, 0), "m"],
            ["cut", figure(sum(["cut"], "volume"), 0), "m³"],
            ["fill", figure(sum(["fill"], "volume"), 0), "m³"],
          ]}
        />
      </div>
      <ThreeWays />
      <p className="quiet">Volumes by average end areas between sections. Cut and fill lie between the existing surface and the underside of courses, kerbs and side slopes.</p>
      {settings && (
        <Checkbox
          disabled={!mayEdit}
          checked={settings.spec.curvature_correction}
          onChange={(e) => void save({ kind: "sections", key: "main", version: settings.version, spec: { ...settings.spec, curvature_correction: e.target.checked } })}
        >
          Curvature correction on arcs
        </Checkbox>
      )}
    </Inspector>
  );
}
