/** A template applied over a range, with its dimensions there and the transition to them. */
import { Switch } from "antd";
import { useState } from "react";
import { useDocument, useSummary } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import type { Unit } from "../../common/numbers";
import { useSetTemplate } from "../../strip/RangeBar";
import type { Template } from "./spec";
import { Dialog } from "../../common/Dialog";

interface Props {
  template: string;
  spec: Template;
  close: () => void;
}

export function ApplyDialog({ template, spec, close }: Props) {
  const place = usePlace();
  const summary = useSummary().data!;
  const there = useDocument("template_plan")?.spec.ranges.find((r) => r.template === template);
  const first = place.range ?? (there ? { from: there.from_chainage, to: there.to_chainage } : { from: summary.start, to: summary.end });
  const [range, setRange] = useState(first);
  const [values, setValues] = useState<Record<string, number>>(
    Object.fromEntries(Object.entries(there?.dimensions ?? {}).filter((e): e is [string, number] => typeof e[1] === "number")),
  );
  const [transition, setTransition] = useState(there?.transition ?? 0);
  const apply = useSetTemplate();
  const wrong = range.to <= range.from;
  return (
    <Dialog
      title={`Apply “${spec.name}”`}
      open
      width={420}
      okText="Apply"
      okButtonProps={{ disabled: wrong, loading: apply.isPending }}
      onCancel={close}
      onOk={() => apply.mutate({ ...range, template, dimensions: values, transition }, { onSuccess: close })}
    >
      <Row label="From">
        <ChainageField label="Apply from" value={range.from} onChange={(from) => setRange({ ...range, from })} />
      </Row>
      <Row label="To">
        <ChainageField label="Apply to" value={range.to} onChange={(to) => setRange({ ...range, to })} />
      </Row>
      {wrong && <p style={{ color: "var(--fault)" }}>The range must end after it begins.</p>}
      {spec.dimensions.map((d) => (
        <Row key={d.name} label={d.name}>
          <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
            <Switch
              size="small"
              aria-label={`Own value for ${d.name}`}
              checked={d.name in values}
              onChange={(on) => setValues(on ? { ...values, [d.name]: d.value } : Object.fromEntries(Object.entries(values).filter(([n]) => n !== d.name)))}
            />
            <NumberField
              label={`${d.name} here`}
              unit={d.unit as Unit}
              value={values[d.name] ?? d.value}
              disabled={!(d.name in values)}
              onChange={(v) => setValues({ ...values, [d.name]: v })}
            />
          </span>
        </Row>
      ))}
      {spec.dimensions.length > 0 && (
        <Row label="Transition">
          <NumberField label="Transition" unit="m" least={0} value={transition} onChange={setTransition} />
        </Row>
      )}
    </Dialog>
  );
}
