/** What can be done with the crossfalls of a range. A new operation is one entry here and one in the core. */
import { DEFAULTS } from "../../api/defaults";
import type { Schemas } from "../../api/client";
import type { OperationKind } from "../../common/Operate";

export type Operation = Schemas["OperationIn"]["operation"];

export const OPERATIONS: Record<Operation["kind"], OperationKind<Operation>> = {
  measured: {
    label: "take the measured ones",
    fresh: DEFAULTS.TakeMeasured,
    fields: [
      {
        name: "at",
        label: "Measured",
        options: [
          { value: "sections", label: "on the sections" },
          { value: "interval", label: "at an interval" },
          { value: "key_points", label: "at key points" },
          { value: "changes", label: "at every surveyed point" },
        ],
      },
      { name: "interval", label: "Every", unit: "m", least: 0.5, when: ["at", "interval"] },
    ],
  },
  superelevate: {
    label: "design superelevation",
    fresh: DEFAULTS.Superelevate,
    fields: [
      { name: "speed_kmh", label: "Design speed", unit: "km/h", least: 20 },
      { name: "most_pct", label: "At most", unit: "%", least: 0.1 },
      { name: "normal_pct", label: "Normal fall", unit: "%", least: 0.1 },
      { name: "width", label: "Lane width", unit: "m", least: 0.5 },
      { name: "lanes", label: "Lanes that turn", unit: "", least: 1 },
    ],
  },
  one_value: { label: "one value", fresh: DEFAULTS.OneValue, fields: [{ name: "pct", label: "Crossfall", unit: "%" }] },
  straight: { label: "straight between the ends", fresh: { kind: "straight" }, fields: [] },
  drop: {
    label: "drop rows within a tolerance",
    fresh: DEFAULTS.DropWithin,
    fields: [{ name: "tolerance_pct", label: "Tolerance", unit: "%", least: 0.01 }],
  },
  mean: { label: "running mean", fresh: DEFAULTS.RunningMean, fields: [{ name: "length", label: "Over", unit: "m", least: 1 }] },
  limit_rate: {
    label: "limit the rate of change",
    fresh: DEFAULTS.LimitRate,
    fields: [
      { name: "speed_kmh", label: "At a speed of", unit: "km/h", least: 20 },
      { name: "pct_per_s", label: "At most, per second", unit: "%", least: 0.1 },
    ],
  },
  match: {
    label: "match the neighbour",
    fresh: DEFAULTS.MatchNeighbour,
    fields: [{ name: "which", label: "The one", options: ["before", "after"].map((value) => ({ value, label: value })) }],
  },
  copy: { label: "copy from the other side", fresh: DEFAULTS.CopySide, fields: [{ name: "opposite", label: "Change the sign", toggle: true }] },
};
