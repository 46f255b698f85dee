/** The plan line: start and elements as a table, drawn at once. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Alert, Button, Input, Modal, Select } from "antd";
import { useState } from "react";
import { type SpecOf, useDocument, useMayEdit, useSummary } from "../../api/hooks";
import { useDraft, useSave } from "../../api/save";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { Figures, Inspector, Row } from "../../common/Inspector";
import { NumberField, parseNumber } from "../../common/NumberField";
import { Plan } from "../../plan/Plan";
import { nearestRow, useRoadPlan, useSurvey, useSurveyLines } from "../../plan/hooks";

type Spec = SpecOf<"alignment">;
type Element = Spec["elements"][number];

export default function AlignmentStop() {
  const summary = useSummary().data;
  const saved = useDocument("alignment");
  const survey = useSurvey().data;
  const road = useRoadPlan().data;
  const lines = useSurveyLines().data;
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const { spec, change } = useDraft("alignment", "main", saved);
  const extent = survey?.extent;
  const begin = () =>
    void save({
      kind: "alignment",
      key: "main",
      version: 0,
      spec: {
        name: "Main line",
        start_east: extent ? Math.round(extent[0]!) : 0,
        start_north: extent ? Math.round(extent[1]!) : 0,
        start_bearing_deg: 45,
        start_chainage: 0,
        elements: [{ kind: "straight", length: 100 }],
      },
    });
  if (!spec) {
    return (
      <div className="empty" style={{ gridColumn: "1 / -1" }}>
        <h2>No alignment yet</h2>
        <p style={{ maxWidth: 440, margin: 0 }}>A start point with bearing and chainage, then straights and arcs one after another. The table can be pasted from a spreadsheet.</p>
        {mayEdit && (
          <Button type="primary" onClick={begin}>
            Start an alignment
          </Button>
        )}
      </div>
    );
  }
  const length = spec.elements.reduce((sum, e) => sum + e.length, 0);
  return (
    <>
      <div className="stage">
        <div className="fill">
          <Plan
            road={road}
            lines={lines}
            extent={!road && extent ? [extent[0]!, extent[1]!, extent[3]!, extent[4]!] : undefined}
            current={{ index: place.index, chainage: place.chainage }}
            onPick={(e, n) => road && place.goTo(nearestRow(road.sections, e, n))}
          />
        </div>
        <ElementTable spec={spec} change={change} disabled={!mayEdit} />
      </div>
      <Inspector title={spec.name}>
        <Row label="Name">
          <Input size="small" aria-label="Name of the alignment" disabled={!mayEdit} value={spec.name} maxLength={80} onChange={(e) => e.target.value && change({ ...spec, name: e.target.value })} />
        </Row>
        <Row label="Start chainage">
          <NumberField label="Start chainage" unit="m" value={spec.start_chainage} disabled={!mayEdit} onChange={(start_chainage) => change({ ...spec, start_chainage })} />
        </Row>
        <Row label="Start easting">
          <NumberField label="Start easting" unit="m" value={spec.start_east} disabled={!mayEdit} onChange={(start_east) => change({ ...spec, start_east })} />
        </Row>
        <Row label="Start northing">
          <NumberField label="Start northing" unit="m" value={spec.start_north} disabled={!mayEdit} onChange={(start_north) => change({ ...spec, start_north })} />
        </Row>
        <Row label="Start bearing">
          <NumberField label="Start bearing" unit="°" value={spec.start_bearing_deg} disabled={!mayEdit} onChange={(start_bearing_deg) => change({ ...spec, start_bearing_deg })} />
        </Row>
        <div className="card">
          <Figures
            of={[
              ["from", chainageText(spec.start_chainage, 1), ""],
              ["to", chainageText(spec.start_chainage + length, 1), ""],
              ["length", length.toFixed(1), "m"],
            ]}
          />
        </div>
        {summary?.missing.includes("survey") && <Alert type="info" title="Import a survey to see the alignment on it." />}
        <p className="quiet">Bearings run clockwise from north. A radius is positive turning right, negative turning left.</p>
      </Inspector>
    </>
  );
}

function ElementTable({ spec, change, disabled }: { spec: Spec; change: (s: Spec) => void; disabled: boolean }) {
  const [pasting, setPasting] = useState(false);
  const set = (i: number, element: Element) => change({ ...spec, elements: spec.elements.map((e, j) => (j === i ? element : e)) });
  let chainage = spec.start_chainage;
  return (
    <div style={{ height: 270, borderTop: "1px solid var(--tin200)", display: "flex", flexDirection: "column" }}>
      <div className="toolbar">
        <h3>Elements</h3>
        <span style={{ flex: 1 }} />
        <Button size="small" disabled={disabled} icon={<PlusOutlined />} onClick={() => change({ ...spec, elements: [...spec.elements, { kind: "straight", length: 100 }] })}>
          Add element
        </Button>
        <Button size="small" disabled={disabled} onClick={() => setPasting(true)}>
          Paste table
        </Button>
      </div>
      <div className="scroll">
        <table className="grid-table" aria-label="Elements">
          <thead>
            <tr>
              <th className="num">No</th>
              <th>Kind</th>
              <th className="num">From</th>
              <th style={{ width: 140 }}>Length</th>
              <th style={{ width: 140 }}>Radius</th>
              <th className="num">Turns</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {spec.elements.map((e, i) => {
              const from = chainage;
              chainage += e.length;
              return (
                <tr key={i}>
                  <td className="num">{i + 1}</td>
                  <td>
                    <Select
                      size="small"
                      style={{ width: 110 }}
                      aria-label={`Kind of element ${i + 1}`}
                      disabled={disabled}
                      value={e.kind}
                      options={[{ value: "straight", label: "straight" }, { value: "arc", label: "arc" }]}
                      onChange={(kind) => set(i, kind === "arc" ? { kind, length: e.length, radius: 300 } : { kind, length: e.length })}
                    />
                  </td>
                  <td className="num">{chainageText(from)}</td>
                  <td>
                    <NumberField label={`Length of element ${i + 1}`} unit="m" least={0.001} value={e.length} disabled={disabled} onChange={(length) => set(i, { ...e, length })} />
                  </td>
                  <td>
                    {e.kind === "arc" && <NumberField label={`Radius of element ${i + 1}`} unit="m right +" value={e.radius} disabled={disabled} onChange={(radius) => set(i, { ...e, radius })} />}
                  </td>
                  <td className="num">{e.kind === "arc" ? `${((e.length / Math.abs(e.radius)) * (180 / Math.PI)).toFixed(4)}° ${e.radius > 0 ? "right" : "left"}` : ""}</td>
                  <td>
                    <Button type="text" size="small" aria-label={`Remove element ${i + 1}`} icon={<DeleteOutlined />} disabled={disabled || spec.elements.length === 1} onClick={() => change({ ...spec, elements: spec.elements.filter((_, j) => j !== i) })} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {pasting && <PasteElements onClose={() => setPasting(false)} onTake={(elements) => change({ ...spec, elements })} />}
    </div>
  );
}

/** Rows of kind, length and radius; straights have no radius, or 0 or "inf". */
export function readElements(text: string): { elements: Element[]; problems: string[] } {
  const elements: Element[] = [];
  const problems: string[] = [];
  text.split(/\r?\n/).forEach((row, i) => {
    const cells = row.split(/[\t;,]/).map((c) => c.trim());
    if (cells.every((c) => c === "") || /^kind$/i.test(cells[0]!)) return;
    const [kind, lengthText = "", radiusText = ""] = cells;
    const length = parseNumber(lengthText, "m");
    if (!/^(straight|arc)$/i.test(kind!)) problems.push(`row ${i + 1}: “${kind}” is neither straight nor arc`);
    else if (length === null || length <= 0) problems.push(`row ${i + 1}: length “${lengthText}” is not a positive number`);
    else if (/^straight$/i.test(kind!)) elements.push({ kind: "straight", length });
    else {
      const radius = parseNumber(radiusText, "m");
      if (radius === null || Math.abs(radius) < 1) problems.push(`row ${i + 1}: radius “${radiusText}” is not a number of at least 1 m`);
      else elements.push({ kind: "arc", length, radius });
    }
  });
  return { elements, problems };
}

function PasteElements({ onClose, onTake }: { onClose: () => void; onTake: (elements: Element[]) => void }) {
  const [text, setText] = useState("");
  const { elements, problems } = readElements(text);
  return (
    <Modal
      open
      title="Paste elements"
      okText={`Take ${elements.length} elements`}
      okButtonProps={{ disabled: elements.length === 0 || problems.length > 0 }}
      onCancel={onClose}
      onOk={() => {
        onTake(elements);
        onClose();
      }}
    >
      <p className="quiet">One element a row: kind (straight or arc), length in m, radius in m (positive turns right). They replace those in the table.</p>
      <Input.TextArea aria-label="Elements as text" className="mono" rows={9} value={text} placeholder={"straight\t210\narc\t230\t320"} onChange={(e) => setText(e.target.value)} />
      {problems.length > 0 && <Alert style={{ marginTop: 8 }} type="error" title={problems.slice(0, 6).map((p) => <div key={p}>{p}</div>)} />}
    </Modal>
  );
}
