/** Guides that are lines of another road, or lead into one. */
import { Segmented, Select } from "antd";
import { DEFAULTS } from "../../api/defaults";
import { type SpecOf, useRoadKey, useRoads } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { choicesOf } from "../../common/words";

type Source = SpecOf<"guide">["source"];
type OfRoad = Extract<Source, { by: "road" }>;
type Corner = Extract<Source, { by: "corner" }>;
const LINES = choicesOf<OfRoad["line"]>({
  hinge: "its hinge",
  left_edge: "its left edge",
  right_edge: "its right edge",
  left_end: "where its template ends on the left",
  right_end: "where its template ends on the right",
});

interface Props<S> {
  source: S;
  onChange: (s: S) => void;
  disabled: boolean;
}

/** The other road, its line, and how far out from that. */
function LineRows<S extends OfRoad | Corner>({ source, onChange, disabled }: Props<S>) {
  const here = useRoadKey();
  const roads = useRoads().filter((r) => r.key !== here);
  return (
    <>
      <Row label="Road">
        <Select
          size="small"
          aria-label="Road that is followed"
          disabled={disabled}
          value={source.road}
          options={roads.map((r) => ({ value: r.key, label: r.spec.name }))}
          onChange={(road) => onChange({ ...source, road })}
        />
      </Row>
      <Row label="Line">
        <Select
          size="small"
          aria-label="Line of the other road"
          disabled={disabled}
          value={source.line}
          options={LINES.filter((l) => source.by === "road" || l.value !== "hinge")}
          onChange={(line) => onChange({ ...source, line })}
        />
      </Row>
      <Row label="Further out by">
        <NumberField
          label="Further out than the line"
          unit="m"
          value={source.beyond}
          disabled={disabled}
          onChange={(beyond) => onChange({ ...source, beyond })}
        />
      </Row>
    </>
  );
}

/** A line of another road as that is designed, in plan and level. */
export function OfRoadForm(props: Props<OfRoad>) {
  return <LineRows {...props} />;
}

type EndArcs = NonNullable<Corner["ends"]>;

/** The longer arcs with which a three-centred corner begins and ends. */
function Ends({ ends, onChange, disabled }: { ends: EndArcs; onChange: (ends: EndArcs) => void; disabled: boolean }) {
  return (
    <>
      {(
        [
          ["Other road", "first_times", "first_deg"],
          ["Own edge", "last_times", "last_deg"],
        ] as const
      ).map(([label, times, degrees]) => (
        <Row key={label} label={`${label}: × R, °`}>
          <span style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 6 }}>
            <NumberField
              label={`${label}, so many times the radius`}
              unit=""
              least={1.01}
              most={10}
              value={ends[times]}
              disabled={disabled}
              onChange={(v) => onChange({ ...ends, [times]: v })}
            />
            <NumberField
              label={`${label}, through degrees`}
              unit="°"
              least={0.1}
              most={40}
              value={ends[degrees]}
              disabled={disabled}
              onChange={(v) => onChange({ ...ends, [degrees]: v })}
            />
          </span>
        </Row>
      ))}
    </>
  );
}

/** The edge of this road, rounded into a line of the one that it leaves. */
export function CornerForm(props: Props<Corner>) {
  const { source, onChange, disabled } = props;
  return (
    <>
      <LineRows {...props} />
      <Row label="Own edge at">
        <NumberField
          label="Own edge at offset"
          unit="m"
          value={source.base_offset}
          disabled={disabled}
          onChange={(base_offset) => base_offset !== 0 && onChange({ ...source, base_offset })}
        />
      </Row>
      <Row label="Radius">
        <NumberField
          label="Radius of the corner"
          unit="m"
          least={0.1}
          value={source.radius}
          disabled={disabled}
          onChange={(radius) => onChange({ ...source, radius })}
        />
      </Row>
      <Row label="Curve">
        <Segmented
          size="small"
          aria-label="Curve of the corner"
          disabled={disabled}
          value={source.ends ? "three" : "one"}
          options={[
            { value: "one", label: "one radius" },
            { value: "three", label: "three-centred" },
          ]}
          onChange={(v) => onChange({ ...source, ends: v === "three" ? DEFAULTS.ThreeCentred : null })}
        />
      </Row>
      {source.ends && <Ends ends={source.ends} onChange={(ends) => onChange({ ...source, ends })} disabled={disabled} />}
      <p className="quiet">The arc touches both edges. Where it begins, let the treatment meet the same line.</p>
    </>
  );
}
