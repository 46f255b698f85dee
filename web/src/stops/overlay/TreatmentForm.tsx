/** What is done over a range, as a form. */
import { useQuery } from "@tanstack/react-query";
import { Segmented, Select, Switch } from "antd";
import { memo } from "react";
import { api, dataOf } from "../../api/client";
import { modelKey, type SpecOf, useDocumentsOf, useOfRoad, useSummary } from "../../api/hooks";
import type { Range } from "../../base/place";
import { NumberField } from "../../common/NumberField";
import { Row } from "../../common/Inspector";
import { SelectRow } from "../../common/fields";
import { useRules } from "../../common/rules";
import { SourceRow } from "../../common/SourceRow";
import { choicesOf, FALLS, freshFall, GOVERNS } from "../../common/words";

export type Work = SpecOf<"treatments">["ranges"][number]["work"];
type Overlay = Extract<Work, { kind: "overlay" }>;
type Crossfall = Overlay["left_crossfall"];

/** Hinge, edges and crossfalls stay as they are when the kind of work changes. */
function kept(from: Work) {
  return from.kind === "leave"
    ? {}
    : { hinge: from.hinge, left_edge: from.left_edge, right_edge: from.right_edge, left_crossfall: from.left_crossfall, right_crossfall: from.right_crossfall };
}

/** What a work of a kind starts with on a stretch: the project's own crown and edges there, as the server finds them. */
export function useStartingWork(range: Range) {
  const of = useOfRoad();
  const stamp = useSummary().data?.stamp;
  const found = useQuery({
    queryKey: modelKey(of.path.project_id, "starting-work", stamp, range.from, range.to),
    queryFn: async () =>
      dataOf(
        await api.GET("/api/projects/{project_id}/model/starting-work", {
          params: { path: of.path, query: { from_chainage: range.from, to_chainage: range.to, ...of.query } },
        }),
      ),
    enabled: stamp !== undefined,
    staleTime: Infinity,
    // What was found for this very stretch holds until it is found again: the form does not go dead at every save.
    placeholderData: (before, query) => (query?.queryKey.at(-2) === range.from && query.queryKey.at(-1) === range.to ? before : undefined),
  }).data;
  const start =
    found &&
    ((kind: Work["kind"], from?: Work): Work =>
      kind === "leave"
        ? { kind }
        : kind === "overlay"
          ? { ...found.overlay, ...(from ? kept(from) : {}) }
          : { ...found.reconstruct, ...(from ? kept(from) : {}) });
  return { start, kerbTop: found?.kerb_top ?? null };
}

const WORKS: Record<Work["kind"], string> = { overlay: "Overlay", reconstruct: "Reconstruct", leave: "Leave" };
const REACHES: Record<Overlay["reach"], string> = {
  at_least_edge: "At least the old edge",
  exactly_edge: "Exactly the old edge",
  own_width: "Its own width",
};

interface FormProps {
  work: Work;
  range: Range;
  onChange: (work: Work) => void;
  disabled: boolean;
}

export const TreatmentForm = memo(function TreatmentForm({ work, range, onChange, disabled }: FormProps) {
  const { start, kerbTop } = useStartingWork(range);
  const set = (fields: object) => onChange({ ...work, ...fields });
  return (
    <div>
      <div style={{ marginBottom: 8 }}>
        <Segmented<Work["kind"]>
          size="small"
          block
          aria-label="Work"
          disabled={disabled || !start}
          value={work.kind}
          options={choicesOf(WORKS)}
          onChange={(kind) => start && onChange(start(kind, work))}
        />
      </div>
      {work.kind === "leave" && <p className="quiet">Nothing is done here: no design, no quantities.</p>}
      {work.kind === "reconstruct" && (
        <p className="quiet">Built anew in full depth. Until it is graded the hinge runs on a straight grade between the neighbouring lengths.</p>
      )}
      {work.kind === "reconstruct" && <Governs value={work.governs ?? null} open disabled={disabled} onChange={(governs) => set({ governs })} />}
      {work.kind === "overlay" && (
        <>
          <Governs value={work.governs} disabled={disabled} onChange={(governs) => set({ governs })} />
          <Row label="Least cover" help="least_cover">
            <NumberField
              label="Least cover"
              unit="mm"
              value={work.least_cover_mm}
              least={0}
              disabled={disabled}
              onChange={(least_cover_mm) => set({ least_cover_mm })}
            />
          </Row>
          <Row label="Too deep above" help="too_deep">
            <NumberField
              label="Too deep above"
              unit="mm"
              value={work.look_again_mm}
              least={1}
              disabled={disabled}
              onChange={(look_again_mm) => set({ look_again_mm })}
            />
          </Row>
        </>
      )}
      {work.kind !== "leave" && (
        <>
          <CrossfallRow label="Crossfall left" value={work.left_crossfall} disabled={disabled} onChange={(left_crossfall) => set({ left_crossfall })} />
          <CrossfallRow label="Crossfall right" value={work.right_crossfall} disabled={disabled} onChange={(right_crossfall) => set({ right_crossfall })} />
          <SourceRow label="Hinge" value={work.hinge} disabled={disabled} onChange={(hinge) => set({ hinge })} />
          <SourceRow label="Left edge" points value={work.left_edge} disabled={disabled} onChange={(left_edge) => set({ left_edge })} />
          <SourceRow label="Right edge" points value={work.right_edge} disabled={disabled} onChange={(right_edge) => set({ right_edge })} />
        </>
      )}
      {work.kind === "overlay" && <WidthsAndKerbs work={work} kerbTop={kerbTop} set={set} disabled={disabled} />}
      {work.kind !== "leave" && (
        <>
          <TieRow label="Ties in at its start" value={work.begin ?? null} disabled={disabled} onChange={(begin) => set({ begin })} />
          <TieRow label="Ties in at its end" value={work.end ?? null} disabled={disabled} onChange={(end) => set({ end })} />
        </>
      )}
    </div>
  );
});

interface WidthsProps {
  work: Overlay;
  kerbTop: ReturnType<typeof useStartingWork>["kerbTop"];
  set: (fields: Partial<Overlay>) => void;
  disabled: boolean;
}

/** How far the lanes of an overlay reach, and the kerbs that stay. */
function WidthsAndKerbs({ work, kerbTop, set, disabled }: WidthsProps) {
  return (
    <>
      <Row label="Lanes reach" help="lanes_reach">
        {work.governs.kind === "kerb_to_kerb" ? (
          <span className="quiet">The lips that are fixed</span>
        ) : (
          <Select
            size="small"
            aria-label="Lanes reach"
            disabled={disabled}
            value={work.reach}
            options={Object.entries(REACHES).map(([value, label]) => ({ value: value as Overlay["reach"], label }))}
            onChange={(reach) => set({ reach })}
          />
        )}
      </Row>
      <Row label="Saw cut" help="saw_cut">
        <NumberField label="Saw cut" unit="m" value={work.saw_cut} least={0} disabled={disabled} onChange={(saw_cut) => set({ saw_cut })} />
      </Row>
      <Row label="Least new width" help="least_new_width">
        <NumberField
          label="Least new width"
          unit="m"
          value={work.least_new_width}
          least={0}
          disabled={disabled}
          onChange={(least_new_width) => set({ least_new_width })}
        />
      </Row>
      <Row label="Kerbs stay">
        <span>
          <Switch
            size="small"
            aria-label="Kerbs stay"
            disabled={disabled || (!kerbTop && work.kerb_top == null)}
            title={kerbTop || work.kerb_top ? undefined : "No code of the survey means back of kerb here"}
            checked={work.kerb_top != null}
            onChange={(on) => set({ kerb_top: on ? kerbTop : null })}
          />
        </span>
      </Row>
      {work.kerb_top && (
        <>
          <SourceRow label="Kerb top" linesOnly value={work.kerb_top} disabled={disabled} onChange={(kerb_top) => set({ kerb_top })} />
          <Row label="Least upstand" help="upstand">
            <NumberField
              label="Least upstand"
              unit="mm"
              least={0}
              value={work.least_upstand_mm}
              disabled={disabled}
              onChange={(least_upstand_mm) => set({ least_upstand_mm })}
            />
          </Row>
        </>
      )}
    </>
  );
}

function CrossfallRow({ label, value, onChange, disabled }: { label: string; value: Crossfall; onChange: (v: Crossfall) => void; disabled: boolean }) {
  return (
    <Row label={label} help="crossfall">
      <span style={{ display: "grid", gridTemplateColumns: value.by === "given" ? "minmax(0, 1fr) 78px" : "minmax(0, 1fr)", gap: 6 }}>
        <Select
          size="small"
          aria-label={`${label} source`}
          disabled={disabled}
          value={value.by}
          options={choicesOf(FALLS)}
          onChange={(by) => onChange(freshFall(by))}
        />
        {value.by === "given" && (
          <NumberField label={label} unit="%" value={value.pct} least={-20} most={20} disabled={disabled} onChange={(pct) => onChange({ by: "given", pct })} />
        )}
      </span>
    </Row>
  );
}

type Rule = Overlay["governs"];
const ABOUT = choicesOf<Extract<Rule, { kind: "profile" }>["about"]>({
  hinge: "the hinge",
  inner: "the inner edge",
  outer: "the outer edge",
  left: "the left edge",
  right: "the right edge",
  guide: "a guide",
});
const RULES = choicesOf(GOVERNS);
/** Rules for a reconstruction, which stands on no old road. */
const GIVEN: readonly Rule["kind"][] = ["level_table", "profile", "line"];

/** What sets the hinge's level. A new rule is one line of GOVERNS and its fields here. */
function Governs<R extends Rule | null>({
  value,
  open,
  onChange,
  disabled,
}: {
  value: R;
  open?: boolean;
  onChange: (rule: Rule | null) => void;
  disabled: boolean;
}) {
  const { profiles, guides, fresh, lacks } = useRules();
  const named = guides.map((g) => ({ value: g.key, label: g.spec.name }));
  const pick = (kind: Rule["kind"] | "bridge") => onChange(kind === "bridge" ? null : fresh(kind));
  const rules = open ? [{ value: "bridge" as const, label: "Bridged" }, ...RULES.filter((r) => GIVEN.includes(r.value))] : RULES;
  return (
    <>
      <Row label="Governed by">
        <Select
          size="small"
          aria-label="Governed by"
          disabled={disabled}
          value={value?.kind ?? "bridge"}
          options={rules.map((r) => ({ ...r, disabled: lacks(r.value) }))}
          onChange={pick}
        />
      </Row>
      {value?.kind === "profile" && (
        <>
          <Row label="Profile">
            <Select
              size="small"
              aria-label="Profile that governs"
              disabled={disabled}
              value={value.profile}
              options={profiles.map((p) => ({ value: p.key, label: p.spec.name }))}
              onChange={(profile) => onChange({ ...value, profile })}
            />
          </Row>
          <Row label="Turns about" help="turns_about">
            <Select
              size="small"
              aria-label="What the road turns about"
              disabled={disabled}
              value={value.about}
              options={ABOUT.map((a) => ({ ...a, disabled: a.value === "guide" && guides.length === 0 }))}
              onChange={(about) => onChange({ ...value, about, guide: about === "guide" ? guides[0]!.key : null })}
            />
          </Row>
          {value.guide != null && (
            <SelectRow label="Turns about guide" options={named} value={value.guide} disabled={disabled} onChange={(guide) => onChange({ ...value, guide })} />
          )}
          {value.about !== "hinge" && (
            <Row label="Normal fall">
              <NumberField
                label="Normal crossfall"
                unit="%"
                value={value.normal_pct}
                disabled={disabled}
                onChange={(normal_pct) => onChange({ ...value, normal_pct })}
              />
            </Row>
          )}
        </>
      )}
      {value?.kind === "line" && (
        <>
          <SelectRow label="Guide that governs" options={named} value={value.guide} disabled={disabled} onChange={(guide) => onChange({ ...value, guide })} />
          <Row label="plus">
            <NumberField
              label="Added to the level of the guide"
              unit="m"
              value={value.plus}
              disabled={disabled}
              onChange={(plus) => onChange({ ...value, plus })}
            />
          </Row>
        </>
      )}
      {value?.kind === "kerb_to_kerb" && (
        <>
          <Row label="Crown set by">
            <Segmented<"left" | "right">
              size="small"
              disabled={disabled}
              value={value.side}
              options={["left", "right"]}
              onChange={(side) => onChange({ ...value, side })}
            />
          </Row>
          <Row label="Lip above old">
            <NumberField label="Lip above the old surface" unit="m" value={value.plus} disabled={disabled} onChange={(plus) => onChange({ ...value, plus })} />
          </Row>
        </>
      )}
    </>
  );
}

type Tie = NonNullable<Overlay["begin"]>;

/** The old road is met by no guide; no key has a blank. */
const OLD_ROAD = "the old road";

function TieRow({ label, value, onChange, disabled }: { label: string; value: Tie | null; onChange: (tie: Tie | null) => void; disabled: boolean }) {
  const guides = useDocumentsOf("guide").map((g) => ({ value: g.key, label: g.spec.name }));
  return (
    <>
      <Row label={label} help="tie">
        <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
          <Switch
            size="small"
            aria-label={label}
            disabled={disabled}
            checked={value !== null}
            onChange={(on) => onChange(on ? { length: 20, notch_mm: 0 } : null)}
          />
          {value && (
            <NumberField
              label={`${label}, over`}
              unit="m"
              least={0.1}
              value={value.length}
              disabled={disabled}
              onChange={(length) => onChange({ ...value, length })}
            />
          )}
        </span>
      </Row>
      {value && guides.length > 0 && (
        <Row label="and meets">
          <Select
            size="small"
            aria-label={`${label}, and meets`}
            disabled={disabled}
            value={value.guide ?? OLD_ROAD}
            options={[{ value: OLD_ROAD, label: OLD_ROAD }, ...guides]}
            onChange={(guide) => onChange({ ...value, guide: guide === OLD_ROAD ? null : guide })}
          />
        </Row>
      )}
      {value && (
        <Row label="Notch milled">
          <NumberField
            label={`${label}, notch`}
            unit="mm"
            least={0}
            value={value.notch_mm}
            disabled={disabled}
            onChange={(notch_mm) => onChange({ ...value, notch_mm })}
          />
        </Row>
      )}
    </>
  );
}
