/** A profile: drawn and dragged in the long section, its IPs in a table, forms for what is exact. */
import { App, Button, Input, Segmented, Select } from "antd";
import { useEffect, useMemo, useState } from "react";
import { type Schemas, lineOf } from "../../../api/client";
import { type DocumentOf, useDocumentsOf, useMayEdit, useOfRoad, useOwnKey, useSummary } from "../../../api/hooks";
import { freshKey, useSave } from "../../../api/save";
import { useDraft } from "../../../api/useDraft";
import { usePlace } from "../../../base/place";
import { colour } from "../../../base/theme";
import { AlongChart } from "../../../common/AlongChart";
import { Inspector, Row } from "../../../common/Inspector";
import { BAND, CurvatureBand, ProfileLines, RemarksAlong, RoadsAlong, StructuresBeneath } from "../../../common/LongLayers";
import { NumberField } from "../../../common/NumberField";
import { StandardsDialog } from "../../../common/StandardsDialog";
import { LivePane } from "../../../drawing/LivePane";
import { LiveSection } from "../../../drawing/LiveSection";
import { useLongSection } from "../../../plan/hooks";
import { type Levels, oldRoad, type View, ViewControls } from "../view";
import { Govern } from "./Govern";
import { IpForm } from "./IpForm";
import { IpTable } from "./IpTable";
import { PlaceForm } from "./PlaceForm";
import { type Profile, type ProfileEdit, same, tryProfile, useProfileLook } from "./profile";
import { ManyForm, ShapeForm } from "./ShapeForms";
import { Remove } from "../../../common/Remove";

interface Props {
  levels: Levels | undefined;
  speed: number;
  setSpeed: (v: number) => void;
  view: View;
}

export function ProfileWork(props: Props) {
  const all = useDocumentsOf("profile");
  const place = usePlace();
  const key = place.selection?.split(":")[1];
  const document = all.find((d) => d.key === key) ?? all[0];
  return document ? <Work key={document.key} {...props} document={document} all={all} /> : <First {...props} />;
}

/** A new profile between the ends of the range, or of the road, at the levels that hold there. */
function useBegin(levels: Levels | undefined) {
  const place = usePlace();
  const save = useSave();
  const all = useDocumentsOf("profile");
  const alignment = useOwnKey("alignment");
  return async () => {
    if (!levels) return;
    const inside = (c: number) => !place.range || (c >= place.range.from - 1e-3 && c <= place.range.to + 1e-3);
    const known = levels.chainage.flatMap((c, i) =>
      inside(c) && (levels.design[i] ?? levels.existing[i]) != null
        ? [{ chainage: c, level: Number((levels.design[i] ?? levels.existing[i])!.toFixed(3)) }]
        : [],
    );
    if (known.length < 2) return;
    const number = all.length + 1;
    const key = freshKey("profile");
    const written = await save({
      kind: "profile",
      key,
      version: 0,
      spec: {
        name: number === 1 ? "Profile" : `Profile ${number}`,
        alignment,
        points: [known[0]!, known.at(-1)!].map((p) => ({ ...p, length_in: 0, length_out: 0 })),
      },
    });
    if (written !== null) place.select(`profile:${key}`);
  };
}

function First({ levels, view }: Props) {
  const mayEdit = useMayEdit();
  const begin = useBegin(levels);
  return (
    <div className="stage" style={{ gridColumn: "2 / -1" }}>
      <div style={{ padding: 8 }}>
        <ViewControls view={view} />
      </div>
      <div className="empty">
        <p>No profile yet. It begins straight between the ends of the marked range, or of the road; then IPs are added, dragged, typed or fitted.</p>
        {mayEdit && (
          <Button type="primary" onClick={() => void begin()} disabled={!levels}>
            Begin a profile
          </Button>
        )}
      </div>
    </div>
  );
}

/** The profile in the hand, what is proposed for it, and how it is edited. */
function useWork({ levels, speed, setSpeed, view, document, all }: Props & { document: DocumentOf<"profile">; all: DocumentOf<"profile">[] }) {
  const place = usePlace();
  const summary = useSummary().data!;
  const mayEdit = useMayEdit();
  const of = useOfRoad();
  const { message } = App.useApp();
  const save = useSave();
  const begin = useBegin(levels);
  const beside = useLongSection();
  const { spec, change, drag, giveUp } = useDraft("profile", document.key, document);
  /** What is dragged, and the profile that it was begun on. */
  const [dragging, setDragging] = useState<{ edit: ProfileEdit; from: Profile } | null>(null);
  const [proposed, setProposed] = useState<ProfileEdit | null>(null);
  const [keep, setKeep] = useState<"length" | "k">("length");
  const [marked, setMarked] = useState<Set<number>>(new Set());
  const [tab, setTab] = useState<"ip" | "place" | "shape" | "many">("ip");
  const [standards, setStandards] = useState(false);
  const now = useProfileLook(dragging?.from ?? spec, dragging?.edit ?? null, speed);
  const then = useProfileLook(proposed ? spec : undefined, dragging?.edit ?? proposed, speed);
  const look = now.answer;
  const moved = look?.spec;
  useEffect(() => {
    if (dragging && moved && !same(moved, dragging.from)) drag(moved, false);
  }, [dragging, moved, drag]);
  const chosen = Number(place.selection?.split(":")[2] ?? "0");
  const choose = (i: number) => place.select(`profile:${document.key}:${i}`);
  const points = useMemo(() => look?.spec.points ?? spec?.points ?? [], [look, spec]);
  if (!spec) return null;
  const index = Math.min(chosen, points.length - 1);
  const [begins, ends] = [points[0]!.chainage, points.at(-1)!.chainage];
  const extent: [number, number] = [Math.max(summary.start, begins - (ends - begins) * 0.06), Math.min(summary.end, ends + (ends - begins) * 0.06)];
  /** Done at once, where it can be done; what stands against it is said. */
  const apply = async (edit: ProfileEdit): Promise<Profile | null> => {
    try {
      const found = (await tryProfile(of, spec, edit, speed)).spec;
      if (!same(found, spec)) change(found);
      return found;
    } catch (e) {
      message.error(lineOf(e), 6);
      return null;
    }
  };
  /** IPs as they were typed or pasted, where they make a profile. */
  const write = async (typed: Profile["points"]) => {
    const curve = typed.length === points.length ? onlyCurve(points, typed) : null;
    if (curve) return void apply(curve);
    try {
      change((await tryProfile(of, { ...spec, points: typed }, null, speed)).spec);
    } catch (e) {
      message.error(lineOf(e), 6);
    }
  };
  const letGo = async (edit: ProfileEdit, from: Profile) => {
    try {
      const found = (await tryProfile(of, from, edit, speed)).spec;
      if (same(found, from)) giveUp();
      else drag(found, true);
    } catch (e) {
      giveUp();
      message.error(lineOf(e), 6);
    }
    setDragging(null);
  };
  const take = (edit: ProfileEdit) => void apply(edit).then((done) => done && setProposed(null));
  const series = levels ? [...oldRoad(levels), { name: "design", values: levels.design, tone: colour.tin950, width: 1.4 }] : [];
  const short = (look?.clearances ?? []).filter((c) => c.short).map((c) => c.name);
  return {
    levels,
    speed,
    setSpeed,
    view,
    document,
    all,
    place,
    summary,
    mayEdit,
    save,
    begin,
    beside,
    spec,
    change,
    giveUp,
    dragging,
    setDragging,
    proposed,
    setProposed,
    keep,
    setKeep,
    marked,
    setMarked,
    tab,
    setTab,
    standards,
    setStandards,
    now,
    then,
    look,
    choose,
    points,
    index,
    extent,
    apply,
    write,
    letGo,
    take,
    series,
    short,
  };
}
type WorkWork = NonNullable<ReturnType<typeof useWork>>;

function Work(props: Props & { document: DocumentOf<"profile">; all: DocumentOf<"profile">[] }) {
  const work = useWork(props);
  if (!work) return null;
  const { mayEdit, marked, setMarked, look, choose, index, write } = work;
  return (
    <>
      <div className="stage">
        <div style={{ flex: "3 1 0", minHeight: 0, position: "relative" }}>
          <ProfileChart {...work} />
        </div>
        <div style={{ flex: "1.6 1 0", minHeight: 0, borderTop: "1px solid var(--tin200)" }}>
          {look && (
            <IpTable look={look} chosen={index} choose={choose} marked={marked} mark={setMarked} mayEdit={mayEdit} write={(points) => void write(points)} />
          )}
        </div>
        <LivePane>
          <LiveSection />
        </LivePane>
      </div>
      <ProfileInspector {...work} />
    </>
  );
}

function ProfileChart({
  levels,
  view,
  place,
  summary,
  mayEdit,
  beside,
  spec,
  giveUp,
  dragging,
  setDragging,
  proposed,
  keep,
  then,
  look,
  choose,
  points,
  index,
  extent,
  apply,
  letGo,
  series,
  short,
}: WorkWork) {
  return (
    <AlongChart
      label="Profile"
      unit="m"
      decimals={3}
      chainage={levels?.chainage ?? []}
      series={series}
      handles={points.map((p, i) => ({
        chainage: p.chainage,
        value: p.level,
        tone: look?.ips[i]?.remarks.length ? colour.fault : colour.saddle500,
        label: `IP ${i + 1}`,
        chosen: i === index,
      }))}
      at={place.chainage}
      range={place.range}
      window={view.reach === "profile" ? extent : view.window}
      stretch={view.stretch}
      room={BAND}
      layers={(scales) => (
        <>
          <CurvatureBand scales={scales} curves={summary.curves} look={look} />
          <RoadsAlong scales={scales} roads={beside?.others ?? []} />
          <StructuresBeneath scales={scales} structures={beside?.structures ?? []} short={short} />
          <RemarksAlong scales={scales} />
          {look && <ProfileLines scales={scales} look={look} words={!proposed} />}
          {proposed && then.answer && <ProfileLines scales={scales} look={then.answer} tone={colour.saddle500} />}
        </>
      )}
      controls={<ViewControls view={view} heights />}
      onGo={place.goToChainage}
      onDrag={
        mayEdit
          ? (i, level, done, chainage) => {
              const end = i === 0 || i === points.length - 1;
              const edit: ProfileEdit = { kind: "at", index: i, chainage: end ? points[i]!.chainage : chainage, level, keep };
              const from = dragging?.from ?? spec;
              if (done) void letGo(edit, from);
              else setDragging({ edit, from });
              if (i !== index) choose(i);
            }
          : undefined
      }
      onGiveUp={() => {
        giveUp();
        setDragging(null);
      }}
      onAdd={mayEdit ? (chainage, level) => void apply({ kind: "at", chainage, level, keep: "length" }) : undefined}
    />
  );
}

function ProfileInspector(work: WorkWork) {
  const { speed, setSpeed, document, all, place, mayEdit, save, begin, spec, change, dragging, standards, setStandards, now, look, points } = work;
  return (
    <Inspector title="Profile">
      <Row label="Speed">
        <span style={{ display: "flex", gap: 6 }}>
          <NumberField label="Speed" unit="km/h" least={20} most={140} value={speed} onChange={setSpeed} />
          <Button size="small" onClick={() => setStandards(true)}>
            Standards
          </Button>
        </span>
      </Row>
      {standards && <StandardsDialog page="vertical" close={() => setStandards(false)} />}
      <Row label="Profile">
        <Select
          size="small"
          aria-label="Profile"
          value={document.key}
          options={all.map((d) => ({ value: d.key, label: d.spec.name }))}
          onChange={(key) => place.select(`profile:${key}`)}
        />
      </Row>
      {mayEdit && (
        <>
          <Row label="Name">
            <Input
              size="small"
              aria-label="Name of the profile"
              key={spec.name}
              defaultValue={spec.name}
              maxLength={80}
              onBlur={(e) => e.target.value.trim() && e.target.value !== spec.name && change({ ...spec, name: e.target.value.trim() })}
              onPressEnter={(e) => e.currentTarget.blur()}
            />
          </Row>
          <span style={{ display: "flex", gap: 6, marginBottom: 8 }}>
            <Button size="small" onClick={() => void begin()}>
              New
            </Button>
            <Button
              size="small"
              onClick={() => void save({ kind: "profile", key: freshKey("profile"), version: 0, spec: { ...spec, name: `${spec.name}, copy`.slice(0, 80) } })}
            >
              Copy
            </Button>
            <Remove document={document} onRemoved={() => place.select("profile")} />
          </span>
        </>
      )}
      {now.error && dragging && (
        <p role="alert" className="quiet" style={{ color: "var(--fault)" }}>
          {now.error}
        </p>
      )}
      {look && <Limits look={look} />}
      <ProfileTabs {...work} />
      <Govern profile={document.key} points={points} mayEdit={mayEdit} />
    </Inspector>
  );
}

/** An IP, where things go, fits and ends, or many at once. */
function ProfileTabs({
  levels,
  place,
  mayEdit,
  proposed,
  setProposed,
  keep,
  setKeep,
  marked,
  setMarked,
  tab,
  setTab,
  then,
  look,
  points,
  index,
  apply,
  take,
}: WorkWork) {
  return (
    <>
      <Segmented<typeof tab>
        block
        size="small"
        style={{ margin: "8px 0" }}
        aria-label="What to do with the profile"
        value={tab}
        options={[
          { value: "ip", label: `IP ${index + 1}` },
          { value: "place", label: "Place" },
          { value: "shape", label: "Fit, ends" },
          { value: "many", label: "Many" },
        ]}
        onChange={(t) => {
          setTab(t);
          setProposed(null);
        }}
      />
      {look && tab === "ip" && <IpForm look={look} index={index} mayEdit={mayEdit} keep={keep} setKeep={setKeep} apply={(e) => void apply(e)} />}
      {tab === "place" && (
        <PlaceForm
          points={points}
          index={index}
          at={place.chainage}
          mayEdit={mayEdit}
          propose={setProposed}
          take={take}
          error={proposed ? then.error : null}
          proposed={proposed}
        />
      )}
      {tab === "shape" && (
        <ShapeForm
          range={place.range ?? { from: points[0]!.chainage, to: points.at(-1)!.chainage }}
          mayEdit={mayEdit}
          propose={setProposed}
          take={take}
          error={proposed ? then.error : null}
          proposed={proposed}
          found={then.answer}
          levels={levels}
        />
      )}
      {tab === "many" && (
        <ManyForm
          marked={marked}
          count={points.length}
          mayEdit={mayEdit}
          apply={(e) => void apply(e).then((done) => done && e.kind === "remove" && setMarked(new Set()))}
        />
      )}
    </>
  );
}

/** The limits at the speed, what breaks them, and what lies beneath. */
function Limits({ look }: { look: Schemas["ProfileOut"] }) {
  const place = usePlace();
  const wrong = look.ips.flatMap((ip, i) => ip.remarks.map((r) => ({ i, r, at: ip.chainage })));
  return (
    <section className="card" aria-label="Limits of the profile" style={{ margin: "8px 0" }}>
      <p className="quiet" style={{ margin: 0 }}>
        K of crests {look.crest_k.toFixed(1)}, of sags {look.sag_k.toFixed(1)}; grade {look.most_grade.toFixed(1)} %; {look.stopping.toFixed(0)} m to stop
      </p>
      {wrong.slice(0, 6).map(({ i, r, at }) => (
        <button key={`${i} ${r}`} type="button" className="problem caution" onClick={() => place.goToChainage(at)}>
          <span className="mono">IP {i + 1}</span>
          <span>{r}</span>
        </button>
      ))}
      {look.clearances.map((c) => (
        <button key={`${c.name} ${c.chainage}`} type="button" className={`problem ${c.short ? "fault" : ""}`} onClick={() => place.goToChainage(c.chainage)}>
          <span className="mono">{c.name}</span>
          <span>
            {c.cover.toFixed(3)} m above the pipe{c.short ? ", too little" : ""}
          </span>
        </button>
      ))}
      {wrong.length === 0 && <p style={{ margin: "4px 0 0", color: "var(--sound)" }}>Every limit is kept.</p>}
    </section>
  );
}

/** Where nothing but one vertical curve differs: that change, whose answer says how long it may be. */
function onlyCurve(before: Profile["points"], now: Profile["points"]): ProfileEdit | null {
  const changed = now.flatMap((p, i) => (JSON.stringify(p) === JSON.stringify(before[i]) ? [] : [i]));
  const [i] = changed;
  if (changed.length !== 1 || i === undefined || now[i]!.chainage !== before[i]!.chainage || now[i]!.level !== before[i]!.level) return null;
  return { kind: "curves", indices: [i], by: "length", value: now[i]!.length_in + now[i]!.length_out };
}
