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
import { type Beyond, BeyondRows, useBeyond } from "./Beyond";
import type { Side, Template } from "./spec";
import { Dialog } from "../../common/Dialog";

const SIDES: Side[] = ["left", "right"];

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
  const [beyond, setBeyond] = useState<Record<Side, Beyond>>({ left: there?.left_beyond ?? null, right: there?.right_beyond ?? null });
  const [waiting, setWaiting] = useState(false);
  const withGuides = useBeyond();
  const apply = useSetTemplate();
  const send = async () => {
    setWaiting(true);
    const [left_beyond, right_beyond] = [await withGuides(beyond.left), await withGuides(beyond.right)];
    setWaiting(false);
    if (left_beyond === undefined || right_beyond === undefined) return;
    apply.mutate({ ...range, template, dimensions: values, transition, left_beyond, right_beyond }, { onSuccess: close });
  };
  const wrong = range.to <= range.from;
  return (
    <Dialog
      title={`Apply “${spec.name}”`}
      open
      width={420}
      okText="Apply"
      okButtonProps={{ disabled: wrong, loading: apply.isPending || waiting }}
      onCancel={close}
      onOk={() => void send()}
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
      {SIDES.map((side) => (
        <BeyondRows key={side} side={side} value={beyond[side]} change={(v) => setBeyond({ ...beyond, [side]: v })} />
      ))}
      {spec.dimensions.length > 0 && (
        <Row label="Transition">
          <NumberField label="Transition" unit="m" least={0} value={transition} onChange={setTransition} />
        </Row>
      )}
    </Dialog>
  );
}
