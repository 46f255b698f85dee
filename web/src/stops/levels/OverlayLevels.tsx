/** Overlay levels: the road from the side, change of grade below it, best levels, the level table, spreadsheet out and in. */
import { App, Button, Segmented } from "antd";
import { useState } from "react";
import { fileOf, type Schemas, sendFile } from "../../api/client";
import { useDocument, useMayEdit, useOfRoad, useOwnKey, useSummary } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { usePlace } from "../../base/place";
import { colour } from "../../base/theme";
import { AlongChart } from "../../common/AlongChart";
import { between } from "../../common/between";
import { Inspector, Row } from "../../common/Inspector";
import { BAND, CurvatureBand, RemarksAlong, StructuresBeneath } from "../../common/LongLayers";
import { NumberField } from "../../common/NumberField";
import { LivePane } from "../../drawing/LivePane";
import { LiveSection } from "../../drawing/LiveSection";
import { useLongSection } from "../../plan/hooks";
import { BestPanel } from "./BestPanel";
import { ChangesDialog } from "./ChangesDialog";
import { LevelOperate } from "./LevelOperate";
import { type Best, type Table, withLevels } from "./table";
import { type Levels, oldRoad, type View, ViewControls } from "./view";
import { OpenFile } from "../../common/OpenFile";
import { later } from "../../common/later";

const LevelRows = later(() => import("./LevelRows").then((m) => m.LevelRows));

interface Props {
  levels: Levels | undefined;
  speed: number;
  setSpeed: (v: number) => void;
  view: View;
}

/** Levels along the road as lines and handles, and what is proposed for them. */
function useOverlayLevels({ levels, speed, setSpeed, view }: Props) {
  const place = usePlace();
  const mayEdit = useMayEdit();
  const of = useOfRoad();
  const { message } = App.useApp();
  const curves = useSummary().data?.curves ?? [];
  const long = useLongSection();
  const saved = useDocument("levels");
  const { spec, change, drag } = useDraft("levels", useOwnKey("levels"), saved);
  const [proposed, setProposed] = useState<Table | null>(null);
  const [best, setBest] = useState<Best | null>(null);
  const [read, setRead] = useState<Schemas["ReadLevelsOut"] | null>(null);
  const [above, setAbove] = useState(true);
  const [tab, setTab] = useState<"best" | "table">("best");
  const table: Table = spec ?? { rows: [] };
  const rows = table.rows;
  const then =
    proposed?.rows && levels
      ? levels.chainage.map(
          between(
            proposed.rows.map((r) => r.chainage),
            proposed.rows.map((r) => r.level),
          ),
        )
      : null;
  /** Profiles where the levels are told: at the first section of every chainage. */
  const profiles = Object.entries((!above && long?.profiles) || {}).map(([name, values]) => ({
    name,
    values: (levels?.chainage ?? []).map(between(long!.chainage, values)),
  }));
  const found = best && best.level.length > 0 && levels ? levels.chainage.map(between(best.chainage, best.level)) : null;
  const series = levels
    ? [
        ...oldRoad(levels),
        { name: "lowest", values: levels.lowest, tone: colour.short, width: 1, dash: "3 2" },
        { name: "design", values: levels.design, tone: colour.tin950, width: 1.8 },
        ...profiles.map((p) => ({ ...p, tone: colour.sound, width: 1.2, dash: "8 3 2 3" })),
        ...(then ? [{ name: "proposed", values: then, tone: colour.saddle500, width: 2, dash: "6 3" }] : []),
        ...(found ? [{ name: "best", values: found, tone: colour.sound, width: 2, dash: "6 3" }] : []),
      ]
    : [];
  /** Levels are drawn as they are, or as millimetres above the old road at the hinge. */
  const oldAt = between(levels?.chainage ?? [], levels?.existing ?? []);
  const old = (c: number) => oldAt(c) ?? NaN;
  const drawn =
    above && levels
      ? series
          .filter((s) => !["edges", ""].includes(s.name))
          .map((s) => ({ ...s, values: s.values.map((v, i) => (v === null || levels.existing[i] == null ? null : 1000 * (v - levels.existing[i]))) }))
      : series;
  const handles = rows
    .filter((r) => !above || Number.isFinite(old(r.chainage)))
    .map((r) => ({
      chainage: r.chainage,
      value: above ? 1000 * (r.level - old(r.chainage)) : r.level,
      tone: r.pinned ? colour.saddle700 : colour.saddle500,
      label: `Level at ${r.chainage.toFixed(3)}`,
      firm: r.pinned,
    }));
  const take = (b: Best) => {
    change(withLevels(table, b.chainage, b.level));
    setBest(null);
    message.success("Taken into the level table");
  };
  return {
    levels,
    speed,
    setSpeed,
    view,
    place,
    mayEdit,
    of,
    curves,
    long,
    change,
    drag,
    setProposed,
    best,
    setBest,
    read,
    setRead,
    above,
    setAbove,
    tab,
    setTab,
    table,
    rows,
    old,
    drawn,
    handles,
    take,
  };
}
type OverlayLevelsWork = ReturnType<typeof useOverlayLevels>;

export function OverlayLevels(props: Props) {
  const work = useOverlayLevels(props);
  const { levels, view, place, mayEdit, curves, long, change, drag, read, setRead, above, setAbove, tab, table, rows, old, drawn, handles } = work;
  return (
    <>
      <div className="stage">
        <div style={{ flex: "3 1 0", minHeight: 0, position: "relative" }}>
          <AlongChart
            label="Levels along the road"
            unit={above ? "mm above the old road" : "m"}
            decimals={above ? 0 : 3}
            chainage={levels?.chainage ?? []}
            series={drawn}
            handles={handles}
            at={place.chainage}
            range={place.range}
            window={view.window}
            stretch={above ? undefined : view.stretch}
            room={BAND}
            layers={(scales) => (
              <>
                <CurvatureBand scales={scales} curves={curves} />
                {!above && <StructuresBeneath scales={scales} structures={long?.structures ?? []} />}
                <RemarksAlong scales={scales} />
              </>
            )}
            controls={
              <>
                <Segmented<boolean>
                  size="small"
                  aria-label="How levels are drawn"
                  value={above}
                  options={[
                    { value: true, label: "Above old" },
                    { value: false, label: "Levels" },
                  ]}
                  onChange={setAbove}
                />
                <ViewControls view={view} heights={!above} />
              </>
            }
            onGo={place.goToChainage}
            onDrag={
              mayEdit
                ? (i, value, done) => {
                    const at = handles[i]!.chainage;
                    const level = Number((above ? old(at) + value / 1000 : value).toFixed(4));
                    drag({ rows: rows.map((r) => (r.chainage === at ? { ...r, level } : r)) }, done);
                  }
                : undefined
            }
          />
        </div>
        <div style={{ flex: tab === "table" ? "2 1 0" : "1 1 0", minHeight: 90, position: "relative", borderTop: "1px solid var(--tin200)" }}>
          {tab === "table" ? (
            levels && <LevelRows table={table} levels={levels} mayEdit={mayEdit} change={change} />
          ) : (
            <AlongChart
              label="Change of grade along the road"
              unit="change of grade, %"
              decimals={2}
              chainage={levels?.chainage ?? []}
              series={levels ? [{ name: "", values: levels.change_pct, tone: colour.tin800 }] : []}
              limit={levels?.limit_pct}
              at={place.chainage}
              range={place.range}
              window={view.window}
              onGo={place.goToChainage}
            />
          )}
        </div>
        <LivePane>
          <LiveSection />
        </LivePane>
      </div>
      <LevelsInspector {...work} />
      {read && (
        <ChangesDialog
          read={read}
          close={() => setRead(null)}
          take={() => {
            change(read.table);
            setRead(null);
          }}
        />
      )}
    </>
  );
}

function LevelsInspector({
  levels,
  speed,
  setSpeed,
  place,
  mayEdit,
  of,
  change,
  setProposed,
  best,
  setBest,
  setRead,
  tab,
  setTab,
  table,
  take,
}: OverlayLevelsWork) {
  return (
    <Inspector title="Levels">
      <Row label="Speed">
        <NumberField label="Speed" unit="km/h" least={20} most={140} value={speed} onChange={setSpeed} />
      </Row>
      {levels && <Here levels={levels} at={place.chainage} />}
      <Segmented<"best" | "table">
        block
        size="small"
        style={{ margin: "10px 0" }}
        value={tab}
        options={[
          { value: "best", label: "Best levels" },
          { value: "table", label: "Level table" },
        ]}
        onChange={setTab}
      />
      {tab === "best" ? (
        <BestPanel speed={speed} best={best} setBest={setBest} take={take} mayEdit={mayEdit} />
      ) : (
        levels && <LevelOperate table={table} levels={levels} mayEdit={mayEdit} change={change} propose={setProposed} />
      )}
      <span style={{ display: "flex", gap: 6, marginTop: 10 }}>
        <Button size="small" href={fileOf(of, `files/levels.xlsx?speed_kmh=${speed}`)} download>
          Save as XLSX
        </Button>
        {mayEdit && (
          <OpenFile
            label="Open XLSX"
            accept=".xlsx,.ods,.xls"
            take={async (file) => setRead(await sendFile<Schemas["ReadLevelsOut"]>(fileOf(of, "levels/read"), file))}
          />
        )}
      </span>
    </Inspector>
  );
}

/** The figures at the current section. */
function Here({ levels, at }: { levels: Levels; at: number }) {
  const i = levels.chainage.findIndex((c) => c >= at - 1e-3);
  const row = (label: string, v: number | null | undefined, decimals: number, unit: string) =>
    v == null ? null : (
      <div>
        <dt>{label}</dt>
        <dd>
          {v.toFixed(decimals)} <small>{unit}</small>
        </dd>
      </div>
    );
  if (i < 0) return null;
  const known = [levels.existing, levels.lowest, levels.design, levels.left_candidate, levels.right_candidate].some((of) => of[i] != null);
  if (!known) return <p className="quiet">No level is known at this section.</p>;
  const speed = levels.speed_kmh[i];
  return (
    <dl className="figures card">
      {row("existing", levels.existing[i], 3, "m")}
      {row("lowest", levels.lowest[i], 3, "m")}
      {row("design", levels.design[i], 3, "m")}
      {row("left asks", levels.left_candidate[i], 3, "m")}
      {row("right asks", levels.right_candidate[i], 3, "m")}
      {row("grade in", levels.grade_pct[i], 2, "%")}
      {row("change", levels.change_pct[i], 2, "%")}
      {speed != null && (
        <div>
          <dt>suits</dt>
          <dd style={{ color: Math.abs(levels.change_pct[i] ?? 0) > levels.limit_pct + 1e-9 ? "var(--fault)" : undefined }}>
            {speed > 0 ? `${speed} km/h` : "no speed"}
          </dd>
        </div>
      )}
    </dl>
  );
}
