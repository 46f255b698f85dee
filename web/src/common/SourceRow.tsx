/** Where an edge, the hinge or a followed point is taken from: an offset, a survey line, a guide, or a template point. */
import { Select } from "antd";
import { type SpecOf, useDocument, useDocumentsOf } from "../api/hooks";
import { useSurvey } from "../plan/hooks";
import { Row } from "./Inspector";
import { NumberField } from "./NumberField";

type Meaning = SpecOf<"code_list">["rules"][number]["meaning"];
type Work = Exclude<SpecOf<"treatments">["ranges"][number]["work"], { kind: "leave" }>;
export type Source = Work["hinge"];
export type EdgeSource = Work["left_edge"];
/** What a median reaches to: points of its shapes may follow it. */
type FarSide = { by: "far_side" };

/** Codes that the survey has lines of, the code list's rules, and the first of those codes that it calls by a meaning. */
function useCalled() {
  const codes =
    useSurvey()
      .data?.codes.filter((c) => c.lines > 0)
      .map((c) => c.code) ?? [];
  const rules = useDocument("code_list")?.spec.rules ?? [];
  const called = (meaning: Meaning) => codes.find((c) => rules.some((r) => r.code === c && r.meaning === meaning));
  return { codes, rules, called };
}

/** The line that edges are taken from unless another is chosen: of the code that the code list calls an edge, else a lip, else any that has lines. */
export function useEdgeLine(within = 8) {
  const { codes, called } = useCalled();
  return { by: "line" as const, code: called("edge") ?? called("lip") ?? codes[0] ?? "edge", within, side: null };
}

/** The line that work stays inside of unless another is chosen. */
export function useBoundaryLine(within = 25) {
  const { rules, called } = useCalled();
  return { by: "line" as const, code: called("boundary") ?? rules.find((r) => r.meaning === "boundary")?.code ?? "boundary", within, side: null };
}

/** On which side of the alignment a line is looked for, where it is said. */
const SIDES = [
  { key: "left", words: "the left one" },
  { key: "right", words: "the right one" },
  { key: "nearest", words: "the nearer one" },
];

interface Props<S extends EdgeSource | FarSide> {
  label: string;
  value: S;
  onChange: (v: S) => void;
  disabled: boolean;
  /** Without a fixed offset among the choices. */
  linesOnly?: boolean;
  /** Points of the templates among the choices. */
  points?: boolean;
  /** The far side of a median among the choices. */
  far?: boolean;
  /** Key of a guide that is none of the choices. */
  without?: string;
}

export function SourceRow<S extends EdgeSource | FarSide>({ label, value, onChange, disabled, linesOnly, points, far, without }: Props<S>) {
  const templates = useDocumentsOf("template");
  const { codes } = useCalled();
  const guides = useDocumentsOf("guide").filter((g) => g.key !== without);
  const given: EdgeSource | FarSide = value;
  const chosen =
    given.by === "offset" || given.by === "far_side"
      ? given.by
      : given.by === "guide"
        ? `guide ${given.guide}`
        : given.by === "point"
          ? `point ${given.point}`
          : `line${given.side ? `-${given.side}` : ""} ${given.code}`;
  const names = points
    ? [
        ...new Set([
          ...templates.flatMap((t) => [t.spec.right, ...(t.spec.left ? [t.spec.left] : [])].flatMap((h) => h.points.map((p) => p.name))),
          ...(given.by === "point" ? [given.point] : []),
        ]),
      ].sort()
    : [];
  const lines = [...new Set([...codes, ...(given.by === "line" ? [given.code] : [])])];
  const pick = (v: string) => {
    const [by, ...rest] = v.split(" ");
    const name = rest.join(" ");
    const within = given.by === "line" ? given.within : 8;
    onChange(
      (by === "far_side"
        ? { by }
        : by === "offset"
          ? { by, offset: 0 }
          : by === "guide"
            ? { by, guide: name }
            : by === "point"
              ? { by, point: name, beyond: 0 }
              : { by: "line", code: name, within, side: by?.split("-")[1] ?? null }) as S,
    );
  };
  return (
    <Row label={label}>
      <span
        style={{ display: "grid", gridTemplateColumns: given.by === "guide" || given.by === "far_side" ? "minmax(0, 1fr)" : "minmax(0, 1fr) 62px", gap: 6 }}
      >
        <Select
          size="small"
          aria-label={`${label} source`}
          disabled={disabled}
          value={chosen}
          popupMatchSelectWidth={false}
          options={[
            ...(linesOnly ? [] : [{ value: "offset", label: "At offset" }]),
            ...(far ? [{ value: "far_side", label: "Far side of the median" }] : []),
            { label: "Survey lines", options: lines.map((c) => ({ value: `line ${c}`, label: `Line ${c}` })) },
            ...(given.by === "line"
              ? [
                  {
                    label: `Where ${given.code} lies on both sides`,
                    options: SIDES.map((s) => ({ value: `line-${s.key} ${given.code}`, label: `${given.code}, ${s.words}` })),
                  },
                ]
              : []),
            ...(names.length ? [{ label: "Template points", options: names.map((p) => ({ value: `point ${p}`, label: p })) }] : []),
            ...(guides.length ? [{ label: "Guides", options: guides.map((g) => ({ value: `guide ${g.key}`, label: g.spec.name })) }] : []),
          ]}
          onChange={pick}
        />
        {given.by === "offset" && (
          <NumberField label={`${label} offset`} unit="m" value={given.offset} disabled={disabled} onChange={(offset) => onChange({ ...given, offset } as S)} />
        )}
        {given.by === "point" && (
          <NumberField label={`${label} beyond`} unit="m" value={given.beyond} disabled={disabled} onChange={(beyond) => onChange({ ...given, beyond } as S)} />
        )}
        {given.by === "line" && (
          <NumberField
            label={`${label} within`}
            unit="m"
            value={given.within}
            least={0.1}
            disabled={disabled}
            onChange={(within) => onChange({ ...given, within } as S)}
          />
        )}
      </span>
    </Row>
  );
}
