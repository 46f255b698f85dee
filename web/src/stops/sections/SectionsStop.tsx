/** Sections one by one, with their figures; where sections stand. */
import { Button, Checkbox, Input, Segmented, Tooltip } from "antd";
import { lazy, type ReactNode, useState } from "react";
import { useDocument, useMayEdit, useOwnKey, useSummary } from "../../api/hooks";
import { useSection } from "../../api/preview";
import { useDraft } from "../../api/useDraft";
import { chainageText, readChainage } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { backToWork } from "../../common/focus";
import { Figures, Inspector, Row } from "../../common/Inspector";
import { MissingInputs } from "../../common/MissingInputs";
import { NumberField } from "../../common/NumberField";
import { Problems } from "../../common/Problems";
import { LiveSection } from "../../drawing/LiveSection";
import { signed } from "../../common/signed";
import { chosenOf } from "./lines";
import { MedianCard } from "./MedianCard";
import { RemarksPanel } from "./RemarksPanel";

const PAGES = [
  { value: "design", label: "Design sections" },
  { value: "wall", label: "Many at a time" },
  { value: "lines", label: "Section lines" },
  { value: "between", label: "Between points" },
] as const;
type Page = (typeof PAGES)[number]["value"];

const LinesPage = lazy(() => import("./LinesPage"));
const BetweenPage = lazy(() => import("./BetweenPage"));
const WallPage = lazy(() => import("./WallPage"));

export default function SectionsStop() {
  const summary = useSummary().data;
  const place = usePlace();
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  const page: Page = chosenOf(place.selection) ? "lines" : place.selection === "wall" ? "wall" : place.selection?.startsWith("between") ? "between" : "design";
  const pages = (
    <Segmented<Page>
      size="small"
      options={[...PAGES]}
      value={page}
      onChange={(next) => place.select(next === "lines" ? "lines::0" : next === "design" ? null : next)}
    />
  );
  if (page === "lines") return <LinesPage pages={pages} />;
  if (page === "between") return <BetweenPage pages={pages} />;
  return page === "wall" ? <WallPage pages={pages} /> : <DesignSections pages={pages} />;
}

/** The sections that the design and its quantities stand on. */
function DesignSections({ pages }: { pages: ReactNode }) {
  const summary = useSummary().data!;
  const place = usePlace();
  const { section } = useSection(place.index);
  const here = summary.problems.filter((p) => p.chainage_from <= place.chainage + 1e-3 && p.chainage_to >= place.chainage - 1e-3);
  return (
    <>
      <div className="stage">
        <div className="toolbar">{pages}</div>
        <div className="fill">
          <LiveSection />
        </div>
        <div
          className="scroll"
          role="group"
          aria-label="Points and layers"
          tabIndex={0}
          style={{ flex: "0 0 210px", borderTop: "1px solid var(--tin200)", display: "grid", gridTemplateColumns: "1fr 1fr" }}
        >
          <table className="grid-table" aria-label="Points of the section" style={{ alignSelf: "start" }}>
            <thead>
              <tr>
                <th>Point</th>
                <th className="num">Offset m</th>
                <th className="num">Existing m</th>
                <th className="num">Design m</th>
                <th className="num">Difference mm</th>
              </tr>
            </thead>
            <tbody>
              {section?.points.map((p) => (
                <tr key={`${p.side}${p.name}`}>
                  <td style={{ whiteSpace: "nowrap" }}>
                    {p.name} <span className="quiet">{p.side === "hinge" ? "" : p.side}</span>
                  </td>
                  <td className="num">{signed(p.offset, 3)}</td>
                  <td className="num">{p.existing?.toFixed(3) ?? "–"}</td>
                  <td className="num">{p.level.toFixed(3)}</td>
                  <td className="num">{p.existing === null ? "–" : signed(1000 * (p.level - p.existing), 0)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <table className="grid-table" aria-label="Layers of the section" style={{ alignSelf: "start" }}>
            <thead>
              <tr>
                <th>Layer</th>
                <th>Strip</th>
                <th>Side</th>
                <th className="num">Area m²</th>
              </tr>
            </thead>
            <tbody>
              {section?.layers.map((l, i) => (
                <tr key={i}>
                  <td>
                    {l.name}
                    {l.construction === "over_existing" ? " over existing" : ""}
                  </td>
                  <td>{l.element}</td>
                  <td>{l.side}</td>
                  <td className="num">{l.area.toFixed(3)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </div>
      <Inspector title="Sections">
        <Settings count={summary.chainage.length} />
        {section && (
          <div className="card">
            <Figures
              of={[
                ["cut", section.cut?.toFixed(2) ?? "–", "m²"],
                ["fill", section.fill?.toFixed(2) ?? "–", "m²"],
                ["hinge", section.hinge?.[1].toFixed(3) ?? "–", "m"],
              ]}
            />
          </div>
        )}
        {section && Object.keys(section.dimensions).length > 0 && (
          <p style={{ margin: "4px 0" }}>
            <strong>{section.template}:</strong>{" "}
            {Object.entries(section.dimensions)
              .map(([name, value]) => `${name} ${Number(value.toFixed(3))}`)
              .join(", ")}
          </p>
        )}
        {summary.medians.map((m) => (
          <MedianCard key={`${m.side} ${m.name}`} median={m} index={place.index} />
        ))}
        {section?.slopes.map((s) => (
          <p key={s.side} style={{ margin: "4px 0" }}>
            <strong>Side slope {s.side}:</strong> {s.rung ?? "none lands"}
            {s.catch && `, meets the ground at ${signed(s.catch[0], 2)} m, level ${s.catch[1].toFixed(3)}`}
            {s.passed.map((why) => (
              <span key={why.rung} className="quiet" style={{ display: "block" }}>
                {why.rung}: {why.why}
              </span>
            ))}
          </p>
        ))}
        <RemarksPanel />
        <Problems problems={here} />
      </Inspector>
    </>
  );
}

function Settings({ count }: { count: number }) {
  const saved = useDocument("sections");
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("sections", useOwnKey("sections"), saved);
  const [extra, setExtra] = useState("");
  if (!spec) return null;
  const { value: chainage, wrong } = readChainage(extra);
  const add = () => {
    if (chainage === null) return;
    change({ ...spec, extra: [...new Set([...spec.extra, chainage])].sort((a, b) => a - b) });
    setExtra("");
  };
  return (
    <>
      <Row label="Interval">
        <NumberField
          label="Interval"
          unit="m"
          least={0.5}
          most={500}
          value={spec.interval}
          disabled={!mayEdit}
          onChange={(interval) => change({ ...spec, interval })}
        />
      </Row>
      <Row label="Width left">
        <NumberField
          label="Width left"
          unit="m"
          least={-200}
          most={-0.1}
          value={spec.left}
          disabled={!mayEdit}
          onChange={(left) => change({ ...spec, left })}
        />
      </Row>
      <Row label="Width right">
        <NumberField
          label="Width right"
          unit="m"
          least={0.1}
          most={200}
          value={spec.right}
          disabled={!mayEdit}
          onChange={(right) => change({ ...spec, right })}
        />
      </Row>
      <Checkbox disabled={!mayEdit} checked={spec.key_points} onChange={(e) => change({ ...spec, key_points: e.target.checked })}>
        Sections at start, end, tangent points and guide corners
      </Checkbox>
      <Row label="Design speed">
        <NumberField
          label="Design speed"
          unit="km/h"
          least={20}
          most={140}
          value={spec.design_speed_kmh}
          disabled={!mayEdit}
          onChange={(design_speed_kmh) => change({ ...spec, design_speed_kmh })}
        />
      </Row>
      <Row label="Chord limit">
        <NumberField
          label="Chord limit"
          unit="mm"
          least={0}
          most={10000}
          value={spec.chord_limit_mm}
          disabled={!mayEdit}
          onChange={(chord_limit_mm) => change({ ...spec, chord_limit_mm })}
        />
      </Row>
      <Row label="Extra section">
        <span style={{ display: "flex", gap: 6 }}>
          <Tooltip open={extra !== "" && wrong !== null} title={wrong} color="var(--fault)">
            <Input
              size="small"
              className="number"
              aria-label="Extra section at"
              placeholder="1+234.5"
              disabled={!mayEdit}
              value={extra}
              status={extra && wrong ? "error" : undefined}
              onChange={(e) => setExtra(e.target.value)}
              onPressEnter={add}
              onKeyDown={(e) => {
                if (e.key !== "Escape") return;
                setExtra("");
                backToWork(e.currentTarget);
              }}
            />
          </Tooltip>
          <Button size="small" disabled={!mayEdit || chainage === null} onClick={add}>
            Add
          </Button>
        </span>
      </Row>
      <div>
        {spec.extra.map((c) => (
          <Button
            key={c}
            size="small"
            style={{ margin: "0 4px 4px 0" }}
            disabled={!mayEdit}
            aria-label={`Remove extra section ${chainageText(c)}`}
            onClick={() => change({ ...spec, extra: spec.extra.filter((x) => x !== c) })}
          >
            {chainageText(c)} ×
          </Button>
        ))}
      </div>
      <p className="quiet" style={{ margin: "4px 0" }}>
        {count} sections
      </p>
    </>
  );
}
