/** Where an edge, the hinge or a followed point is taken from: an offset, a survey line, or a guide. */
import { Select } from "antd";
import { type SpecOf, useDocumentsOf } from "../api/hooks";
import { useSurvey } from "../plan/hooks";
import { Row } from "./Inspector";
import { NumberField } from "./NumberField";

type Work = Exclude<SpecOf<"treatments">["ranges"][number]["work"], { kind: "leave" }>;
export type Source = Work["hinge"];

interface Props<S extends Source> {
  label: string;
  value: S;
  onChange: (v: S) => void;
  disabled: boolean;
  /** Without a fixed offset among the choices. */
  linesOnly?: boolean;
}

export function SourceRow<S extends Source>({ label, value, onChange, disabled, linesOnly }: Props<S>) {
  const codes = useSurvey().data?.codes.filter((c) => c.lines > 0).map((c) => c.code) ?? [];
  const guides = useDocumentsOf("guide");
  const given: Source = value;
  const chosen = given.by === "offset" ? "offset" : given.by === "guide" ? `guide ${given.guide}` : `line ${given.code}`;
  const lines = [...new Set([...codes, ...(given.by === "line" ? [given.code] : [])])];
  const pick = (v: string) => {
    const [by, ...rest] = v.split(" ");
    const name = rest.join(" ");
    const within = given.by === "line" ? given.within : 8;
    onChange((by === "offset" ? { by, offset: 0 } : by === "guide" ? { by, guide: name } : { by: "line", code: name, within }) as S);
  };
  return (
    <Row label={label}>
      <span style={{ display: "grid", gridTemplateColumns: given.by === "guide" ? "minmax(0, 1fr)" : "minmax(0, 1fr) 78px", gap: 6 }}>
        <Select
          size="small"
          aria-label={`${label} source`}
          disabled={disabled}
          value={chosen}
          popupMatchSelectWidth={false}
          options={[
            ...(linesOnly ? [] : [{ value: "offset", label: "At offset" }]),
            { label: "Survey lines", options: lines.map((c) => ({ value: `line ${c}`, label: `Line ${c}` })) },
            ...(guides.length ? [{ label: "Guides", options: guides.map((g) => ({ value: `guide ${g.key}`, label: g.spec.name })) }] : []),
          ]}
          onChange={pick}
        />
        {given.by === "offset" && <NumberField label={`${label} offset`} unit="m" value={given.offset} disabled={disabled} onChange={(offset) => onChange({ ...given, offset } as S)} />}
        {given.by === "line" && <NumberField label={`${label} within`} unit="m" value={given.within} least={0.1} disabled={disabled} onChange={(within) => onChange({ ...given, within } as S)} />}
      </span>
    </Row>
  );
}
