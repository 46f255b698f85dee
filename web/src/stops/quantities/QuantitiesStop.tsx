/** Volumes, masses and lengths per treatment and in total; areas per section; downloads. */
import { Button, Checkbox, Segmented } from "antd";
import { useState } from "react";
import { api, dataOf, fileOf, type Schemas } from "../../api/client";
import { type ResultOf, useWork } from "../../api/jobs";
import { useDocument, useMayEdit, useModel, useOfRoad, useOwnKey, useRoads, useSummary } from "../../api/hooks";
import { useSave } from "../../api/save";
import { chainageText } from "../../base/chainage";
import { nearestSection } from "../../base/nearest";
import { usePlace } from "../../base/place";
import { Figures, Inspector } from "../../common/Inspector";
import { MissingInputs } from "../../common/MissingInputs";

type Quantities = Schemas["Quantities"];
type Row = Quantities["total"]["rows"][number];
const VIEWS = ["Totals", "Sections", "Methods", "All roads"] as const;

export default function QuantitiesStop() {
  const summary = useSummary().data;
  const of = useOfRoad();
  const roads = useRoads();
  const [shown, setShown] = useState<(typeof VIEWS)[number]>("Totals");
  const check = useWork("volume_check", shown === "Totals" || shown === "Methods");
  const quantities = useModel("quantities", async (of) => dataOf(await api.GET("/api/projects/{project_id}/model/quantities", { params: of }))).data;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          <Segmented size="small" value={shown} options={VIEWS.filter((v) => v !== "All roads" || roads.length > 1)} onChange={setShown} />
          <span style={{ flex: 1 }} />
          {(["xlsx", "csv"] as const).map((kind) => (
            <Button key={kind} size="small" href={fileOf(of, `files/${shown === "All roads" ? "roads" : "quantities"}.${kind}`)} download>
              Save as {kind.toUpperCase()}
            </Button>
          ))}
        </div>
        <div className="scroll" role="group" aria-label="Quantities" tabIndex={0}>
          {quantities && shown === "Totals" && <Totals quantities={quantities} check={check.result} />}
          {shown === "All roads" && <AllRoads />}
          {quantities && shown === "Sections" && <Sections quantities={quantities} />}
          {shown === "Methods" &&
            (check.result ? (
              <Methods check={check.result} />
            ) : (
              <p className="quiet" role="status" style={{ padding: 16 }}>
                {check.error ?? `Computing, ${check.progress} %`}
              </p>
            ))}
        </div>
      </div>
      {quantities && <Side quantities={quantities} check={check.result} />}
    </>
  );
}

const figure = (v: number | null, decimals: number) =>
  v === null ? "" : v.toLocaleString("en", { minimumFractionDigits: decimals, maximumFractionDigits: decimals });

/** The total of an item against the same with a section more in the middle of every interval, %; null for nothing to say. */
function offOf(row: Row, check: Check | null | undefined): string | null {
  const found = check?.check.rows.find((r) => r.kind === row.kind && r.name === row.name && r.key === row.key);
  if (!found) return null;
  return share(found.halved, found.end_areas) || "0 %";
}

function Totals({ quantities, check }: { quantities: Quantities; check: Check | null | undefined }) {
  return (
    <table className="grid-table" aria-label="Quantities">
      <ItemHeads off />
      {[quantities.total, ...quantities.groups].map((g, i) => (
        <tbody key={i}>
          <tr>
            <td colSpan={8} style={{ fontWeight: 650, paddingTop: 12 }}>
              {g.title}{" "}
              <span className="mono quiet" style={{ fontWeight: 400 }}>
                {chainageText(g.from_chainage, 0)} to {chainageText(g.to_chainage, 0)}
              </span>
            </td>
          </tr>
          {g.rows.length === 0 && (
            <tr>
              <td className="quiet" colSpan={8}>
                nothing is built here
              </td>
            </tr>
          )}
          {g.rows.map((r) => (
            <ItemRow key={`${r.kind}${r.name}${r.key}`} row={r} off={g === quantities.total && offOf(r, check)} />
          ))}
        </tbody>
      ))}
    </table>
  );
}

function ItemHeads({ off = false }: { off?: boolean }) {
  return (
    <thead>
      <tr>
        <th>Item</th>
        <th>Material</th>
        <th className="num">Volume m³</th>
        <th className="num">Mass t</th>
        <th className="num">Length m</th>
        <th className="num">Area m²</th>
        {off && (
          <th className="num" title="How much more or less it is with a section more in the middle of every interval">
            Halved interval
          </th>
        )}
        <th className="num">Not known over m</th>
      </tr>
    </thead>
  );
}

/** An item of a bill. off: what the halved interval makes of it, where that has a column. */
function ItemRow({ row: r, off }: { row: Row; off?: string | null | false }) {
  return (
    <tr>
      <td>{r.name}</td>
      <td className="quiet" style={{ whiteSpace: "nowrap" }}>
        {r.kind === "length" ? "length" : r.material}
      </td>
      <td className="num">{figure(r.volume, 1)}</td>
      <td className="num">{figure(r.mass, 1)}</td>
      <td className="num" title={r.pieces != null ? `${r.pieces} pieces` : undefined}>
        {figure(r.length, 1)}
        {r.pieces != null && <span className="quiet"> ({r.pieces} pieces)</span>}
      </td>
      <td className="num">{figure(r.area, 1)}</td>
      {off !== undefined && <td className="num quiet">{off}</td>}
      <td className="num" style={{ color: "var(--fault)" }}>
        {r.unknown_length ? figure(r.unknown_length, 1) : ""}
      </td>
    </tr>
  );
}

/** The bills of all roads and what they add up to. */
function AllRoads() {
  const found = useModel("quantities-of-roads", async ({ path }) =>
    dataOf(await api.GET("/api/projects/{project_id}/roads/quantities", { params: { path } })),
  ).data;
  if (!found) return null;
  const parts = [{ key: "", name: "All roads", rows: found.total, fault: "" }, ...found.roads];
  return (
    <table className="grid-table" aria-label="Quantities of all roads">
      <caption className="quiet" style={{ captionSide: "top", textAlign: "left", padding: 8 }}>
        Roads that end at one another share no ground. Where two lie on each other it is in the sum twice, and a problem says so.
      </caption>
      <ItemHeads />
      {parts.map((road) => (
        <tbody key={road.key}>
          <tr>
            <td colSpan={7} style={{ fontWeight: 650, paddingTop: 12 }}>
              {road.name}
            </td>
          </tr>
          {(road.fault || road.rows.length === 0) && (
            <tr>
              <td className="quiet" colSpan={7}>
                {road.fault ? `in no sum: ${road.fault}` : "nothing is built here"}
              </td>
            </tr>
          )}
          {road.rows.map((r) => (
            <ItemRow key={`${r.kind}${r.name}${r.key}`} row={r} />
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
          <tr
            key={i}
            className={i === place.index ? "now" : undefined}
            onClick={() => place.goTo(nearestSection(summary.chainage, summary.side, s.chainage, summary.side[i] ?? 0))}
            style={{ cursor: "pointer" }}
          >
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

type Check = ResultOf<"volume_check">;

function share(v: number, of: number): string {
  if (of === 0) return "";
  const off = Math.abs((100 * (v - of)) / of).toFixed(2);
  return `${Number(off) === 0 ? "" : v > of ? "+" : "−"}${off} %`;
}

/** Every volume by other methods, and what must add up. */
function Methods({ check }: { check: Check }) {
  const { rows, balance } = check.check;
  const o = check.overlay;
  const ways = [
    ["End areas: each section for half the length to its neighbours", o.end_areas],
    ["Sections: triangles between them, along the chord instead of the arc", o.sections],
    ["Surfaces: the survey’s own triangles, with what no section sees", o.surfaces],
  ] as const;
  const sum = [
    ["Courses, kerbs, beds and boxing", balance.layers],
    ["and fill", balance.fill],
    ["less cut", -balance.cut],
    ["less milling", -balance.milling],
    ["New surface over the old one", balance.raised],
    ["What is left open", balance.open],
    ["Milled further out than anything is built", balance.beyond],
  ] as const;
  return (
    <div role="status" aria-label="Volumes by other methods">
      <table className="grid-table" aria-label="Methods">
        <thead>
          <tr>
            <th>Item</th>
            <th>Material</th>
            <th className="num">End areas m³</th>
            <th className="num" title="End areas with a section more in the middle of every interval">
              Halved m³
            </th>
            <th className="num">off by</th>
            <th className="num" title="Length / 6 times both end areas and four times the middle one">
              Prismoidal m³
            </th>
            <th className="num">off by</th>
            <th className="num">Not known m</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={`${r.kind}${r.name}${r.key}`}>
              <td>{r.name}</td>
              <td className="quiet" style={{ whiteSpace: "nowrap" }}>
                {r.material}
              </td>
              <td className="num">{figure(r.end_areas, 1)}</td>
              <td className="num">{figure(r.halved, 1)}</td>
              <td className="num quiet">{share(r.halved, r.end_areas)}</td>
              <td className="num">{figure(r.prismoidal, 1)}</td>
              <td className="num quiet">{share(r.prismoidal, r.end_areas)}</td>
              <td className="num" style={{ color: "var(--fault)" }}>
                {r.unknown_length ? figure(r.unknown_length, 1) : ""}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {o.end_areas !== 0 && (
        <table className="grid-table" aria-label="Overlay volume three ways" style={{ marginTop: 16 }}>
          <thead>
            <tr>
              <th>Overlay over the old or milled surface</th>
              <th className="num">Volume m³</th>
              <th className="num">off by</th>
            </tr>
          </thead>
          <tbody>
            {ways.map(([words, v], i) => (
              <tr key={words}>
                <td>{words}</td>
                <td className="num">{figure(v, 1)}</td>
                <td className="num quiet">{i > 0 && share(v, o.end_areas)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <table className="grid-table" aria-label="Balance" style={{ marginTop: 16 }}>
        <thead>
          <tr>
            <th>Balance by end areas, along the alignment</th>
            <th className="num">m³</th>
          </tr>
        </thead>
        <tbody>
          {sum.map(([words, v]) => (
            <tr key={words}>
              <td>{words}</td>
              <td className="num">{figure(Math.abs(v) < 5e-4 ? 0 : v, 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Off by more than this the sections stand too far apart, share of the total. */
const TOO_FAR = 0.005;

/** Says where the interval is too wide for the volumes, and puts sections there. */
function TooFarApart({ check }: { check: Check }) {
  const settings = useDocument("sections");
  const own = useOwnKey("sections");
  const mayEdit = useMayEdit();
  const save = useSave();
  const { rows, middles } = check.check;
  const worst = rows
    .filter((r) => Math.abs(r.halved - r.end_areas) > Math.max(1, TOO_FAR * Math.abs(r.end_areas)))
    .sort((a, b) => Math.abs(b.halved / b.end_areas - 1) - Math.abs(a.halved / a.end_areas - 1))[0];
  if (!worst || !settings || middles.length === 0) return null;
  const extra = [...new Set([...settings.spec.extra, ...middles.map((c) => Math.round(c * 1000) / 1000)])].sort((a, b) => a - b);
  return (
    <div className="card" role="status" aria-label="Sections too far apart">
      <p style={{ margin: "0 0 6px" }}>
        With halved intervals {worst.name} is {share(worst.halved, worst.end_areas)}: most of that lies at {middles.length} interval
        {middles.length > 1 ? "s" : ""}.
      </p>
      {mayEdit && (
        <Button size="small" onClick={() => void save({ kind: "sections", key: own, version: settings.version, spec: { ...settings.spec, extra } })}>
          Add sections there
        </Button>
      )}
    </div>
  );
}

function Side({ quantities, check }: { quantities: Quantities; check: Check | null | undefined }) {
  const settings = useDocument("sections");
  const own = useOwnKey("sections");
  const mayEdit = useMayEdit();
  const save = useSave();
  const sum = (kinds: string[], field: "volume" | "mass") =>
    quantities.total.rows.filter((r) => kinds.includes(r.kind)).reduce((s, r) => s + (r[field] ?? 0), 0);
  const unknown = Math.max(0, ...quantities.total.rows.map((r) => r.unknown_length));
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
        {unknown > 0 && (
          <p style={{ color: "var(--fault)", margin: "6px 0 0" }} role="status">
            Not known over {figure(unknown, 1)} m: the totals lack what lies there.
          </p>
        )}
      </div>
      {check && <TooFarApart check={check} />}
      <p className="quiet">
        {quantities.method} Here that is {figure(quantities.transition, 1)} m³ of each. Cut and fill lie between the existing surface and the underside of
        courses, kerbs and side slopes. Every figure is rounded to what is written; totals are sums of what is written.
      </p>
      {settings && (
        <Checkbox
          disabled={!mayEdit}
          checked={settings.spec.curvature_correction}
          onChange={(e) =>
            void save({ kind: "sections", key: own, version: settings.version, spec: { ...settings.spec, curvature_correction: e.target.checked } })
          }
        >
          Curvature correction on arcs
        </Checkbox>
      )}
    </Inspector>
  );
}
