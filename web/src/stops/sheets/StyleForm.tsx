/** How drawings of a kind look. A new kind is a form here; the compiler asks for it. */
import { useDocumentsOf } from "../../api/hooks";
import { CheckRow, NumberRow, SelectRow, TextRow } from "../../common/fields";
import { choicesOf } from "../../common/words";
import type { Of, Sheets, Style } from "./drawings";
import { LongRows, SectionRows, Surfaces } from "./FigureRows";

const PAPERS = choicesOf<Style["paper"]>({
  A0: "A0",
  A1: "A1",
  A2: "A2",
  A3: "A3",
  A4: "A4",
  "ANSI B": "ANSI B, 17 x 11 in",
  "ANSI D": "ANSI D, 34 x 22 in",
});
export const SCALES = ([20, 25, 50, 100, 200, 250, 500] as const).map((s) => ({ value: s, label: `1:${s}` }));
const ALONG = ([200, 250, 500, 1000, 1250, 2000, 2500, 5000] as const).map((s) => ({ value: s, label: `1:${s}` }));
const HEIGHTS = ([1.8, 2.5, 3.5] as const).map((h) => ({ value: h, label: `${h} mm` }));
const FALLS = choicesOf<Of<"sections">["falls"]>({ percent: "in percent", one_in: "1 in so many" });
const POINTS = choicesOf<Of<"sections">["points"]>({ template: "as the template says", all: "all with names", figures: "figures alone" });
const PACKING = choicesOf<Of<"sections">["packing"]>({ columns: "downward, hinges over each other", rows: "to the right" });

interface Form<S> {
  spec: S;
  change: (spec: S) => void;
  disabled: boolean;
}

export function StyleForm({ spec, change, disabled }: Form<Style>) {
  const set = (fields: Partial<Style>) => change({ ...spec, ...fields });
  return (
    <>
      <SelectRow label="Paper" value={spec.paper} options={PAPERS} disabled={disabled} onChange={(paper) => set({ paper })} />
      <SelectRow label="Lettering" value={spec.text_height} options={HEIGHTS} disabled={disabled} onChange={(text_height) => set({ text_height })} />
      <CheckRow label="Legend" value={spec.legend} disabled={disabled} onChange={(legend) => set({ legend })} />
      <SheetsForm spec={spec.sheets} change={(sheets) => set({ sheets })} disabled={disabled} />
    </>
  );
}

function SheetsForm({ spec, change, disabled }: Form<Sheets>) {
  switch (spec.kind) {
    case "sections":
      return <SectionsForm spec={spec} change={change} disabled={disabled} />;
    case "long":
      return <LongForm spec={spec} change={change} disabled={disabled} />;
    case "plan":
      return <PlanForm spec={spec} change={change} disabled={disabled} />;
    case "typical":
      return <SelectRow label="Scale" value={spec.scale} options={SCALES} disabled={disabled} onChange={(scale) => change({ ...spec, scale })} />;
    case "schedule":
      return <ScheduleForm spec={spec} change={change} disabled={disabled} />;
    case "register":
      return null;
  }
}

function SectionsForm({ spec, change, disabled }: Form<Of<"sections">>) {
  const set = (fields: Partial<typeof spec>) => change({ ...spec, ...fields });
  return (
    <>
      <SelectRow label="Scale" value={spec.scale} options={SCALES} disabled={disabled} onChange={(scale) => set({ scale })} />
      <SelectRow
        label="Vertical scale"
        value={spec.vertical_scale}
        options={SCALES}
        disabled={disabled}
        onChange={(vertical_scale) => set({ vertical_scale })}
      />
      <SelectRow label="Packed" value={spec.packing} options={PACKING} disabled={disabled} onChange={(packing) => set({ packing })} />
      <NumberRow label="Beyond slopes" unit="m" least={0} most={50} value={spec.beyond} disabled={disabled} onChange={(beyond) => set({ beyond })} />
      <TextRow
        label="Also figures at m"
        most={400}
        value={spec.offsets.join("; ")}
        wrong={(text) => (offsetsOf(text).every(Number.isFinite) ? null : "Offsets in metres, divided by semicolons")}
        disabled={disabled}
        onChange={(text) => set({ offsets: offsetsOf(text) })}
      />
      <SelectRow label="Template points" value={spec.points} options={POINTS} disabled={disabled} onChange={(points) => set({ points })} />
      <CheckRow label="Line through the hinge" value={spec.hinge} disabled={disabled} onChange={(hinge) => set({ hinge })} />
      <CheckRow label="Lines at boundaries" value={spec.boundary} disabled={disabled} onChange={(boundary) => set({ boundary })} />
      <SelectRow label="Crossfalls" value={spec.falls} options={FALLS} disabled={disabled} onChange={(falls) => set({ falls })} />
      <TextRow label="Before the chainage" most={20} value={spec.prefix} disabled={disabled} onChange={(prefix) => set({ prefix })} />
      <TextRow label="After the chainage" most={20} value={spec.suffix} disabled={disabled} onChange={(suffix) => set({ suffix })} />
      <CheckRow label="Widths from point to point" value={spec.widths} disabled={disabled} onChange={(widths) => set({ widths })} />
      <CheckRow label="Least and greatest depth" value={spec.depths} disabled={disabled} onChange={(depths) => set({ depths })} />
      <CheckRow label="Remarks" value={spec.remarks} disabled={disabled} onChange={(remarks) => set({ remarks })} />
      <CheckRow label="Cut and fill hatched" value={spec.hatching} disabled={disabled} onChange={(hatching) => set({ hatching })} />
      <CheckRow label="Areas beside each section" value={spec.areas} disabled={disabled} onChange={(areas) => set({ areas })} />
      <CheckRow label="Courses lettered, key in the legend" value={spec.letters} disabled={disabled} onChange={(letters) => set({ letters })} />
      <SectionRows rows={spec.rows} disabled={disabled} change={(rows) => set({ rows })} />
      <Surfaces rows={spec.surfaces} disabled={disabled} change={(surfaces) => set({ surfaces })} />
    </>
  );
}

/** Offsets typed in one field: "-7.5; 0; 7.5". */
const offsetsOf = (text: string) =>
  text
    .split(/[;\s]+/)
    .filter((t) => t !== "")
    .map((t) => Number(t.replace("−", "-").replace(",", ".")));

function LongForm({ spec, change, disabled }: Form<Of<"long">>) {
  const set = (fields: Partial<typeof spec>) => change({ ...spec, ...fields });
  return (
    <>
      <SelectRow label="Scale" value={spec.scale} options={ALONG} disabled={disabled} onChange={(scale) => set({ scale })} />
      <SelectRow
        label="Vertical scale"
        value={spec.vertical_scale}
        options={SCALES}
        disabled={disabled}
        onChange={(vertical_scale) => set({ vertical_scale })}
      />
      <NumberRow label="Figures every" unit="m" least={1} most={1000} value={spec.interval} disabled={disabled} onChange={(interval) => set({ interval })} />
      <CheckRow label="Pipes and pits" value={spec.structures} disabled={disabled} onChange={(structures) => set({ structures })} />
      <CheckRow label="Straightened plan above" value={spec.plan} disabled={disabled} onChange={(plan) => set({ plan })} />
      <CheckRow label="Curvature and crossfalls" value={spec.bands} disabled={disabled} onChange={(bands) => set({ bands })} />
      <LongRows rows={spec.rows} disabled={disabled} change={(rows) => set({ rows })} />
    </>
  );
}

function PlanForm({ spec, change, disabled }: Form<Of<"plan">>) {
  const set = (fields: Partial<typeof spec>) => change({ ...spec, ...fields });
  return (
    <>
      <SelectRow label="Scale" value={spec.scale} options={ALONG} disabled={disabled} onChange={(scale) => set({ scale })} />
      <NumberRow label="Beside the alignment" unit="m" least={1} most={200} value={spec.beside} disabled={disabled} onChange={(beside) => set({ beside })} />
      <NumberRow
        label="Chainage marks every"
        unit="m"
        least={5}
        most={1000}
        value={spec.interval}
        disabled={disabled}
        onChange={(interval) => set({ interval })}
      />
      <CheckRow label="Survey lines" value={spec.survey} disabled={disabled} onChange={(survey) => set({ survey })} />
      <CheckRow label="Background" value={spec.background} disabled={disabled} onChange={(background) => set({ background })} />
      <CheckRow label="Depth of overlay in bands" value={spec.depths} disabled={disabled} onChange={(depths) => set({ depths })} />
      <CheckRow label="Marks of the sections" value={spec.sections} disabled={disabled} onChange={(sections) => set({ sections })} />
      <CheckRow label="Pipes and pits" value={spec.structures} disabled={disabled} onChange={(structures) => set({ structures })} />
      <CheckRow label="Grid of coordinates" value={spec.grid} disabled={disabled} onChange={(grid) => set({ grid })} />
    </>
  );
}

function ScheduleForm({ spec, change, disabled }: Form<Of<"schedule">>) {
  const reports = useDocumentsOf("report").map((r) => ({ value: r.key, label: r.spec.name }));
  return <SelectRow label="Report" value={spec.report} options={reports} disabled={disabled} onChange={(report) => change({ ...spec, report })} />;
}
