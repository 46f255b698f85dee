/** The register at the left, the sheets of the drawing chosen in it, and what they are made of. */
import { LeftOutlined, RightOutlined } from "@ant-design/icons";
import { Alert, Button, Segmented, Select, Spin } from "antd";
import { type ReactNode, useState } from "react";
import { useDocumentsOf, useMayEdit } from "../../api/hooks";
import { useWork } from "../../api/jobs";
import { usePlace } from "../../base/place";
import { Inspector } from "../../common/Inspector";
import { SaveAs, useSave } from "../../common/SaveWork";
import { DrawingInspector, type Tab } from "./DrawingInspector";
import type { DrawingDoc } from "./drawings";
import { IssueDialog } from "./IssueDialog";
import { Paper } from "./Paper";
import { Register } from "./Register";

/** Shown as wide as there is room, or at so much of the true size. */
export const ZOOMS = [
  { value: 0, label: "Fit" },
  { value: 0.5, label: "50 %" },
  { value: 1, label: "100 %" },
  { value: 2, label: "200 %" },
];

function SaveSheets({ drawing }: { drawing: string }) {
  return (
    <SaveAs
      ways={[
        { label: "PDF", made: useSave("sheets_pdf", drawing) },
        { label: "DXF: sheets as layouts, model space in metres", made: useSave("sheets_dxf", drawing) },
        { label: "DXF: sheets beside each other, for programs without layouts", made: useSave("sheets_dxf_flat", drawing) },
      ]}
    />
  );
}

export function DrawingsPage({ pages, drawing }: { pages: ReactNode; drawing: string | null }) {
  const drawings = useDocumentsOf("drawing");
  const mayEdit = useMayEdit();
  const [issuing, setIssuing] = useState(false);
  const [tab, setTab] = useState<Tab>("Content");
  const chosen = drawings.find((d) => d.key === drawing) ?? drawings.find((d) => d.key === "sections") ?? drawings[0];
  return (
    <>
      <div className="stage">
        <div className="toolbar">
          {pages}
          <span style={{ flex: 1 }} />
          {chosen && <SaveSheets key={chosen.key} drawing={chosen.key} />}
          <Button size="small" type="primary" disabled={!mayEdit || drawings.length === 0} onClick={() => setIssuing(true)}>
            Issue
          </Button>
        </div>
        <div className="fill" style={{ display: "flex", minHeight: 0 }}>
          <Register drawings={drawings} chosen={chosen?.key ?? null} />
          {chosen ? <SheetsOf key={chosen.key} drawing={chosen} open={setTab} /> : <p className="empty">No drawing yet: add one at the left.</p>}
        </div>
      </div>
      {chosen ? (
        <DrawingInspector key={chosen.key} drawing={chosen} tab={tab} setTab={setTab} />
      ) : (
        <Inspector title="Drawing">
          <p className="quiet">Choose a drawing in the register.</p>
        </Inspector>
      )}
      {issuing && <IssueDialog close={() => setIssuing(false)} />}
    </>
  );
}

function SheetsOf({ drawing, open }: { drawing: DrawingDoc; open: (tab: Tab) => void }) {
  const place = usePlace();
  /** What is pressed on the paper leads to what made it: to its section, and to the part of the panel that holds its settings. */
  const press = (layer: string, source: string) => {
    const at = /^section (-?)(\d+)\+([\d.]+)/.exec(source);
    if (at) place.goToChainage((at[1] ? -1 : 1) * (1000 * Number(at[2]) + Number(at[3])));
    open(source === "legend" ? "Style" : layer === "title" ? "Title block" : layer === "headings" ? "Content" : "Style");
  };
  const [number, setNumber] = useState(1);
  const [zoom, setZoom] = useState(0);
  const work = useWork("sheets", true, drawing.key);
  const sheets = work.result?.sheets ?? [];
  const shown = Math.min(number, Math.max(1, sheets.length));
  const sheet = sheets[shown - 1];
  return (
    <div style={{ flex: 1, display: "flex", flexDirection: "column", minWidth: 0 }}>
      <div className="toolbar">
        <Button size="small" aria-label="Previous sheet" icon={<LeftOutlined />} disabled={shown <= 1} onClick={() => setNumber(shown - 1)} />
        <Select
          size="small"
          style={{ flex: "1 1 120px", minWidth: 90, maxWidth: 420 }}
          aria-label="Sheet"
          value={sheets.length ? shown : undefined}
          options={sheets.map((s, i) => ({ value: i + 1, label: `${s.number} ${s.title}` }))}
          onChange={setNumber}
        />
        <Button size="small" aria-label="Next sheet" icon={<RightOutlined />} disabled={shown >= sheets.length} onClick={() => setNumber(shown + 1)} />
        <span className="quiet">of {sheets.length}</span>
        <Segmented size="small" aria-label="Zoom" value={zoom} options={ZOOMS} onChange={setZoom} />
      </div>
      <div tabIndex={0} role="group" aria-label="Sheets" className="sheet">
        {work.error ? (
          <Alert type="error" title={work.error} />
        ) : work.result && sheets.length === 0 ? (
          <Alert type="info" title="Nothing is drawn: the range, the list of sections or “also where nothing is done” leaves all out." />
        ) : work.result && sheet ? (
          <Paper
            address={`/api/jobs/${work.id}/files/${shown - 1}`}
            label={`Sheet ${sheet.number}`}
            width={work.result.width}
            height={work.result.height}
            zoom={zoom || null}
            onPress={press}
          />
        ) : (
          <Spin description={work.running ? `Laying out, ${work.progress} %` : undefined}>
            <span />
          </Spin>
        )}
      </div>
    </div>
  );
}
