/** Section sheets as they will be printed, and their style. */
import { LeftOutlined, RightOutlined } from "@ant-design/icons";
import { useQuery } from "@tanstack/react-query";
import { Alert, Button, Checkbox, Input, Segmented, Select, Spin } from "antd";
import { useState } from "react";
import { type SpecOf, useDocument, useMayEdit, useSummary } from "../../api/hooks";
import { useWork } from "../../api/jobs";
import { useDraft } from "../../api/save";
import { Inspector, Row } from "../../common/Inspector";
import { MissingInputs } from "../../common/MissingInputs";
import { NumberField } from "../../common/NumberField";
import { SaveWork } from "../../common/SaveWork";
import { choicesOf } from "../../common/words";

const ROWS = choicesOf<SpecOf<"sheet_style">["rows"][number]>({
  point: "Name of the point",
  offset: "Offset",
  distance: "Distance between points",
  existing: "Existing level",
  milled: "Milled level",
  design: "Design level",
  difference: "Difference",
  depth: "Depth of overlay",
  crossfall: "Crossfall between points",
});
const SCALES = [20, 25, 50, 100, 200, 250, 500] as const;
const PAPERS = choicesOf<SpecOf<"sheet_style">["paper"]>({
  A0: "A0",
  A1: "A1",
  A2: "A2",
  A3: "A3",
  A4: "A4",
  "ANSI B": "ANSI B, 17 x 11 in",
  "ANSI D": "ANSI D, 34 x 22 in",
});
const ZOOMS = [0.5, 1, 2];

export default function SheetsStop() {
  const summary = useSummary().data;
  const [number, setNumber] = useState(1);
  const [zoom, setZoom] = useState(0.5);
  const sheets = useWork("sheets", true);
  const names = sheets.result?.names ?? [];
  const shown = Math.min(number, Math.max(1, names.length));
  const svg = useQuery({
    queryKey: ["job", sheets.id, "sheet", shown],
    queryFn: async () => {
      const answer = await fetch(`/api/jobs/${sheets.id}/files/${shown - 1}`);
      if (!answer.ok) throw new Error("sheet");
      return answer.text();
    },
    enabled: names.length > 0,
    staleTime: Infinity,
  }).data;
  if (!summary || summary.missing.length > 0) return <MissingInputs />;
  const size = sheets.result ? { width: sheets.result.width * 3.78 * zoom, height: sheets.result.height * 3.78 * zoom } : undefined;
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          <Button size="small" aria-label="Previous sheet" icon={<LeftOutlined />} disabled={shown <= 1} onClick={() => setNumber(shown - 1)} />
          <Select
            size="small"
            style={{ width: 250 }}
            aria-label="Sheet"
            value={shown}
            options={names.map((n, i) => ({ value: i + 1, label: n }))}
            onChange={setNumber}
          />
          <Button size="small" aria-label="Next sheet" icon={<RightOutlined />} disabled={shown >= names.length} onClick={() => setNumber(shown + 1)} />
          <span className="quiet">of {names.length}</span>
          <Segmented size="small" value={zoom} options={ZOOMS.map((z) => ({ value: z, label: `${z * 100} %` }))} onChange={setZoom} />
          <span style={{ flex: 1 }} />
          <SaveWork kind="sheets_pdf" label="Save as PDF" primary disabled={names.length === 0} />
          <SaveWork kind="sheets_dxf" label="Save as DXF" disabled={names.length === 0} />
        </div>
        <div tabIndex={0} className="sheet">
          {sheets.error ? (
            <Alert type="error" title={sheets.error} />
          ) : sheets.result?.names.length === 0 ? (
            <Alert type="info" title="No section is drawn: nothing is done anywhere, and sections where nothing is done are left out." />
          ) : svg && size ? (
            <div role="figure" aria-label={`Sheet ${names[shown - 1] ?? ""}`} className="paper" style={size} dangerouslySetInnerHTML={{ __html: svg }} />
          ) : (
            <Spin description={sheets.running ? `Laying out, ${sheets.progress} %` : undefined}>
              <span />
            </Spin>
          )}
        </div>
      </div>
      <StyleInspector />
    </>
  );
}

function StyleInspector() {
  const saved = useDocument("sheet_style");
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("sheet_style", "main", saved);
  if (!spec) return null;
  const set = (fields: Partial<typeof spec>) => change({ ...spec, ...fields });
  const scales = SCALES.map((s) => ({ value: s, label: `1:${s}` }));
  return (
    <Inspector title="Sheet style">
      <Row label="Paper">
        <Select size="small" aria-label="Paper" disabled={!mayEdit} value={spec.paper} options={PAPERS} onChange={(paper) => set({ paper })} />
      </Row>
      <Row label="Scale">
        <Select size="small" aria-label="Scale" disabled={!mayEdit} value={spec.scale} options={scales} onChange={(scale) => set({ scale })} />
      </Row>
      <Row label="Vertical scale">
        <Select
          size="small"
          aria-label="Vertical scale"
          disabled={!mayEdit}
          value={spec.vertical_scale}
          options={scales}
          onChange={(vertical_scale) => set({ vertical_scale })}
        />
      </Row>
      <Row label="Lettering">
        <Select
          size="small"
          aria-label="Lettering"
          disabled={!mayEdit}
          value={spec.text_height}
          options={([1.8, 2.5, 3.5] as const).map((h) => ({ value: h, label: `${h} mm` }))}
          onChange={(text_height) => set({ text_height })}
        />
      </Row>
      <Row label="Beyond slopes">
        <NumberField label="Beyond slopes" unit="m" least={0} most={50} value={spec.beyond} disabled={!mayEdit} onChange={(beyond) => set({ beyond })} />
      </Row>
      <Row label="One section in">
        <NumberField
          label="One section in"
          unit=""
          least={1}
          most={1000}
          value={spec.every}
          disabled={!mayEdit}
          onChange={(every) => set({ every: Math.round(every) })}
        />
      </Row>
      <div>
        <Checkbox disabled={!mayEdit} checked={spec.untreated} onChange={(e) => set({ untreated: e.target.checked })}>
          Also where nothing is done
        </Checkbox>
      </div>
      <h3 style={{ margin: "12px 0 4px" }}>Rows of figures</h3>
      {ROWS.map(({ value, label }) => (
        <div key={value}>
          <Checkbox
            disabled={!mayEdit || (spec.rows.length === 1 && spec.rows.includes(value))}
            checked={spec.rows.includes(value)}
            onChange={(e) => set({ rows: ROWS.map((r) => r.value).filter((v) => (v === value ? e.target.checked : spec.rows.includes(v))) })}
          >
            {label}
          </Checkbox>
        </div>
      ))}
      <div>
        <Checkbox disabled={!mayEdit} checked={spec.point_labels} onChange={(e) => set({ point_labels: e.target.checked })}>
          Names at template points
        </Checkbox>
      </div>
      <div>
        <Checkbox disabled={!mayEdit} checked={spec.areas} onChange={(e) => set({ areas: e.target.checked })}>
          Areas beside each section
        </Checkbox>
      </div>
      <div>
        <Checkbox disabled={!mayEdit} checked={spec.legend} onChange={(e) => set({ legend: e.target.checked })}>
          Materials of each sheet
        </Checkbox>
      </div>
      <h3 style={{ margin: "12px 0 4px" }}>Title block</h3>
      <Row label="Drawing">
        <TextField label="Drawing title" value={spec.title} disabled={!mayEdit} onChange={(title) => title && set({ title })} />
      </Row>
      <Row label="Number">
        <TextField label="Drawing number" value={spec.drawing_number} disabled={!mayEdit} onChange={(drawing_number) => set({ drawing_number })} />
      </Row>
      <Row label="Drawn by">
        <TextField label="Drawn by" value={spec.author} disabled={!mayEdit} onChange={(author) => set({ author })} />
      </Row>
    </Inspector>
  );
}

function TextField({ label, value, onChange, disabled }: { label: string; value: string; onChange: (v: string) => void; disabled: boolean }) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    if (typed !== null && typed !== value) onChange(typed.trim());
    setTyped(null);
  };
  return (
    <Input
      size="small"
      aria-label={label}
      maxLength={40}
      disabled={disabled}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onPressEnter={commit}
    />
  );
}
