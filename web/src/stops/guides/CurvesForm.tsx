/** How much wider an edge is on curves, by a published standard. */
import { Segmented, Select } from "antd";
import type { Schemas } from "../../api/client";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { choicesOf } from "../../common/words";

type Rule = Schemas["WideningRule"];
/** What an edge is widened by on curves, by itself or on another line. */
type Curves = Pick<Schemas["WiderOnCurves"], "rule" | "share_inside" | "share_outside" | "run" | "before">;
const STANDARDS = choicesOf<Rule["standard"]>({
  vehicle: "AASHTO, by vehicle",
  radius_bands: "CD 109, by radius",
  mechanical: "IRC, formula",
  radius_table: "IRC, table",
});

export function CurvesForm<C extends Curves>({ source, onChange, disabled }: { source: C; onChange: (s: C) => void; disabled: boolean }) {
  const rule = source.rule;
  const set = (fields: Partial<Rule>) => onChange({ ...source, rule: { ...rule, ...fields } });
  const sides = source.share_outside ? "both" : "inside";
  return (
    <>
      <Row label="Standard">
        <Select size="small" aria-label="Standard" disabled={disabled} value={rule.standard} options={STANDARDS} onChange={(standard) => set({ standard })} />
      </Row>
      {(rule.standard === "vehicle" || rule.standard === "mechanical") && (
        <Row label="Design speed">
          <NumberField
            label="Design speed"
            unit="km/h"
            least={10}
            most={200}
            value={rule.design_speed_kmh}
            disabled={disabled}
            onChange={(design_speed_kmh) => set({ design_speed_kmh })}
          />
        </Row>
      )}
      {rule.standard === "vehicle" && (
        <Row label="Vehicle">
          <Select
            size="small"
            aria-label="Vehicle"
            disabled={disabled}
            value={rule.vehicle}
            options={(["SU", "WB12", "WB15", "WB19"] as const).map((v) => ({ value: v, label: v }))}
            onChange={(vehicle) => set({ vehicle: vehicle })}
          />
        </Row>
      )}
      <Row label="Lanes">
        <Select
          size="small"
          aria-label="Lanes"
          disabled={disabled}
          value={rule.lanes}
          options={[1, 2, 3, 4].map((v) => ({ value: v, label: String(v) }))}
          onChange={(lanes) => set({ lanes })}
        />
      </Row>
      <Row label="Lane width">
        <NumberField
          label="Lane width"
          unit="m"
          least={2}
          most={5}
          value={rule.lane_width}
          disabled={disabled}
          onChange={(lane_width) => set({ lane_width })}
        />
      </Row>
      <Row label="Widened">
        <Segmented
          size="small"
          disabled={disabled}
          value={sides}
          options={[
            { value: "inside", label: "inside" },
            { value: "both", label: "both sides" },
          ]}
          onChange={(v) => onChange({ ...source, share_inside: v === "inside" ? 1 : 0.5, share_outside: v === "inside" ? 0 : 0.5 })}
        />
      </Row>
      <Row label="Without transition">
        <NumberField
          label="Run without transition"
          unit="m"
          least={1}
          value={source.run}
          disabled={disabled}
          onChange={(run) => onChange({ ...source, run })}
        />
      </Row>
    </>
  );
}
