/** A marked range and the actions that take one. */
import { Button, Select } from "antd";
import { useState } from "react";
import { api, dataOf } from "../api/client";
import { type OfRoad, type SpecOf, useChange, useDocument, useDocumentsOf, useMayEdit } from "../api/hooks";
import { chainageText } from "../base/chainage";
import { ChainageField } from "../common/ChainageField";
import { type Range, usePlace } from "../base/place";
import { TreatmentForm, useStartingWork, type Work } from "../stops/overlay/TreatmentForm";
import { VariantsDialog } from "../stops/overlay/VariantsDialog";
import { Dialog } from "../common/Dialog";

export function useSetTreatment() {
  const version = useDocument("treatments")?.version ?? 0;
  return useChange(async ({ path, query }: OfRoad, a: Range & { work: Work | null }) =>
    dataOf(
      await api.POST("/api/projects/{project_id}/treatments", {
        params: { path },
        body: { version, ...query, from_chainage: a.from, to_chainage: a.to, work: a.work },
      }),
    ),
  );
}

export function useSetTemplate() {
  const version = useDocument("template_plan")?.version ?? 0;
  type Applied = SpecOf<"template_plan">["ranges"][number];
  type Asked = Range & { template: string | null; dimensions?: Record<string, number>; transition?: number } & Partial<
      Pick<Applied, "left_beyond" | "right_beyond">
    >;
  return useChange(async ({ path, query }: OfRoad, a: Asked) =>
    dataOf(
      await api.POST("/api/projects/{project_id}/template-ranges", {
        params: { path },
        body: {
          version,
          ...query,
          from_chainage: a.from,
          to_chainage: a.to,
          template: a.template,
          dimensions: a.dimensions ?? {},
          transition: a.transition ?? 0,
          left_beyond: a.left_beyond ?? null,
          right_beyond: a.right_beyond ?? null,
        },
      }),
    ),
  );
}

export function RangeBar({ range }: { range: Range }) {
  const place = usePlace();
  const mayEdit = useMayEdit();
  const templates = useDocumentsOf("template");
  const treatments = useDocument("treatments")?.spec.ranges ?? [];
  const applied = useDocument("template_plan")?.spec.ranges ?? [];
  /** What lies beyond the template that stands on all of the range stays beyond the one that comes instead. */
  const all = applied.find((r) => r.from_chainage <= range.from && r.to_chainage >= range.to);
  const setTreatment = useSetTreatment();
  const setTemplate = useSetTemplate();
  const [work, setWork] = useState<Work | null>(null);
  const [comparing, setComparing] = useState(false);
  const wrong = range.to <= range.from;
  const { start } = useStartingWork(range);
  const beginTreatment = () => {
    const here = treatments.find((t) => t.from_chainage < range.to && t.to_chainage > range.from);
    setWork(here?.work ?? start?.("overlay") ?? null);
  };
  return (
    <div className="range-bar" role="region" aria-label="Marked range">
      <strong>Range</strong>
      <ChainageField width={104} label="Range from" value={range.from} onChange={(from) => place.mark({ from })} />
      <span>to</span>
      <ChainageField width={104} label="Range to" value={range.to} onChange={(to) => place.mark({ to })} />
      <span className="quiet mono">{(range.to - range.from).toFixed(1)} m</span>
      {mayEdit && (
        <>
          <Button size="small" type="primary" disabled={wrong || !start} onClick={beginTreatment}>
            Set treatment
          </Button>
          <Select
            size="small"
            style={{ width: 190 }}
            aria-label="Apply template"
            placeholder="Apply template"
            value={null}
            disabled={wrong}
            options={[...templates.map((t) => ({ value: t.key, label: t.spec.name })), { value: "", label: "No template" }]}
            onChange={(key: string) => setTemplate.mutate({ ...range, template: key || null, left_beyond: all?.left_beyond, right_beyond: all?.right_beyond })}
          />
          <Button size="small" disabled={wrong} onClick={() => setTreatment.mutate({ ...range, work: null })}>
            Clear treatment
          </Button>
        </>
      )}
      <Button size="small" disabled={wrong} onClick={() => setComparing(true)}>
        Variants
      </Button>
      <span style={{ flex: 1 }} />
      {comparing && <VariantsDialog range={range} close={() => setComparing(false)} />}
      <Button size="small" onClick={() => place.mark(null)}>
        Drop range
      </Button>
      <Dialog
        title={`Treatment ${chainageText(range.from)} to ${chainageText(range.to)}`}
        open={work !== null}
        width={400}
        okText="Set treatment"
        destroyOnHidden
        onCancel={() => setWork(null)}
        onOk={() => {
          setTreatment.mutate({ ...range, work });
          setWork(null);
        }}
      >
        {work && <TreatmentForm work={work} range={range} onChange={setWork} disabled={false} />}
      </Dialog>
    </div>
  );
}
