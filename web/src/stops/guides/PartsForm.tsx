/** A guide that stands on another line: the line beneath, and what makes it wider or holds it off, one part after another. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Checkbox, Dropdown, Segmented } from "antd";
import type { Schemas } from "../../api/client";
import { DEFAULTS } from "../../api/defaults";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { nearestSection } from "../../base/nearest";
import { usePlace } from "../../base/place";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { signed } from "../../common/signed";
import { SourceRow } from "../../common/SourceRow";
import { CurvesForm } from "./CurvesForm";
import type { Source } from "./hooks";
import { PiecesForm } from "./PiecesForm";

type Parts = Extract<Source, { by: "parts" }>;
type Side = SpecOf<"guide">["side"];
type Part = Parts["parts"][number];
const WORDS: Record<Part["by"], string> = {
  width: "Wider by a width",
  pieces: "Wider by pieces",
  on_curves: "Wider on curves",
  no_less: "No less than a line",
  no_more: "No more than a line",
};

interface Props {
  source: Parts;
  onChange: (s: Parts) => void;
  disabled: boolean;
  drawn: Schemas["GuideOut"] | undefined;
  /** The guide's own key: it cannot stand on itself. */
  own: string;
  /** Which way outward is. */
  side: Side;
  setSide: (side: Side) => void;
}

export function PartsForm({ source, onChange, disabled, drawn, own, side, setSide }: Props) {
  const place = usePlace();
  const out = side === "left" ? -1 : 1;
  const set = (i: number, part: Part) => onChange({ ...source, parts: source.parts.map((p, j) => (j === i ? part : p)) });
  const fresh: Record<Part["by"], () => Part> = {
    width: () => ({ by: "width", width: 0.5 }),
    pieces: () => ({
      by: "pieces",
      start_chainage: Math.round(place.range?.from ?? place.chainage),
      start_offset: 0,
      pieces: [
        { kind: "taper", to_offset: 1, end: { by: "length", length: 20 }, shape: "straight" },
        { kind: "hold", end: { by: "length", length: 30 } },
        { kind: "taper", to_offset: 0, end: { by: "length", length: 20 }, shape: "straight" },
      ],
    }),
    on_curves: () => DEFAULTS.WiderOnCurves,
    no_less: () => ({ by: "no_less", line: { by: "offset", offset: out * 3.5 } }),
    no_more: () => ({ by: "no_more", line: { by: "offset", offset: out * 5 } }),
  };
  return (
    <>
      {drawn?.wrong && <p style={{ color: "var(--fault)", margin: "4px 0" }}>{drawn.wrong}</p>}
      <SourceRow label="Stands on" value={source.base} without={own} disabled={disabled} onChange={(base) => onChange({ ...source, base })} />
      <Row label="Wider to the">
        <Segmented<Side> size="small" aria-label="Which way it is wider" disabled={disabled} value={side} options={["left", "right"]} onChange={setSide} />
      </Row>
      <div role="group" aria-label="Parts">
        {source.parts.map((part, i) => (
          <div key={i} role="group" aria-label={`Part ${i + 1}`} className="card" style={{ padding: 6, margin: "6px 0" }}>
            <div style={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
              <span style={{ fontWeight: 600 }}>{WORDS[part.by]}</span>
              <Button
                type="text"
                size="small"
                aria-label={`Remove part ${i + 1}`}
                icon={<DeleteOutlined />}
                disabled={disabled}
                onClick={() => onChange({ ...source, parts: source.parts.filter((_, j) => j !== i) })}
              />
            </div>
            {part.by === "width" && (
              <Row label="Width">
                <NumberField
                  label={`Width of part ${i + 1}`}
                  unit="m"
                  value={part.width}
                  disabled={disabled}
                  onChange={(width) => set(i, { ...part, width })}
                />
              </Row>
            )}
            {part.by === "pieces" && <PiecesForm width source={part} disabled={disabled} onChange={(p) => set(i, p)} />}
            {part.by === "on_curves" && <CurvesForm source={part} disabled={disabled} onChange={(p) => set(i, p)} />}
            {(part.by === "no_less" || part.by === "no_more") && (
              <SourceRow label={`Line of part ${i + 1}`} value={part.line} without={own} disabled={disabled} onChange={(line) => set(i, { ...part, line })} />
            )}
          </div>
        ))}
      </div>
      {!disabled && (
        <Dropdown
          trigger={["click"]}
          autoFocus
          menu={{
            items: (Object.keys(WORDS) as Part["by"][]).map((key) => ({ key, label: WORDS[key] })),
            onClick: ({ key }) => onChange({ ...source, parts: [...source.parts, fresh[key as Part["by"]]()] }),
          }}
        >
          <Button size="small">Add a part</Button>
        </Dropdown>
      )}
      {source.parts.some((p) => p.by === "pieces") && (
        <Checkbox disabled={disabled} checked={source.only_pieces} onChange={(e) => onChange({ ...source, only_pieces: e.target.checked })}>
          There only where its pieces are
        </Checkbox>
      )}
      <Reached source={source} drawn={drawn} out={out} />
    </>
  );
}

/** What each part makes of it at the section that one is at. */
function Reached({ source, drawn, out }: { source: Parts; drawn: Schemas["GuideOut"] | undefined; out: number }) {
  const place = usePlace();
  const guides = useDocumentsOf("guide");
  if (!drawn || drawn.steps.length !== source.parts.length + 1) return null;
  const i = nearestSection(drawn.chainage, [], place.chainage, 0);
  const at = drawn.steps.map((step) => step[i] ?? null);
  const { base } = source;
  const beneath =
    base.by === "offset" ? "At an offset" : base.by === "line" ? `Line ${base.code}` : (guides.find((g) => g.key === base.guide)?.spec.name ?? base.guide);
  const words = (v: number | null) => (v === null ? "not there" : signed(v, 3));
  return (
    <table className="grid-table" aria-label="What the parts add up to here" style={{ marginTop: 8 }}>
      <tbody>
        {[beneath, ...source.parts.map((p) => WORDS[p.by])].map((name, k) => (
          <tr key={k}>
            <td>{name}</td>
            <td className="num quiet">{k > 0 && at[k] !== null && at[k - 1] !== null ? signed(out * (at[k]! - at[k - 1]!), 3) : ""}</td>
            <td className="num">{words(at[k] ?? null)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
