/** What can be done with the crossfalls of a range. A new operation is one entry here and one in the core. */
import type { Schemas } from "../../api/client";
import type { OperationKind } from "../../common/Operate";

export type Operation = Schemas["OperationIn"]["operation"];

export const OPERATIONS: Record<Operation["kind"], OperationKind<Operation>> = {
  measured: {
    label: "take the measured ones",
    fresh: { kind: "measured", at: "sections", interval: 20 },
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
    fresh: { kind: "superelevate", speed_kmh: 60, most_pct: 6, normal_pct: 2.5, width: 3.5, lanes: 1 },
    fields: [
      { name: "speed_kmh", label: "Design speed", unit: "km/h", least: 20 },
      { name: "most_pct", label: "At most", unit: "%", least: 0.1 },
      { name: "normal_pct", label: "Normal fall", unit: "%", least: 0.1 },
      { name: "width", label: "Lane width", unit: "m", least: 0.5 },
      { name: "lanes", label: "Lanes that turn", unit: "", least: 1 },
    ],
  },
  one_value: { label: "one value", fresh: { kind: "one_value", pct: -2.5 }, fields: [{ name: "pct", label: "Crossfall", unit: "%" }] },
  straight: { label: "straight between the ends", fresh: { kind: "straight" }, fields: [] },
  drop: {
    label: "drop rows within a tolerance",
    fresh: { kind: "drop", tolerance_pct: 0.3 },
    fields: [{ name: "tolerance_pct", label: "Tolerance", unit: "%", least: 0.01 }],
  },
  mean: { label: "running mean", fresh: { kind: "mean", length: 60 }, fields: [{ name: "length", label: "Over", unit: "m", least: 1 }] },
  limit_rate: {
    label: "limit the rate of change",
    fresh: { kind: "limit_rate", pct_per_s: 2.5, speed_kmh: 60 },
    fields: [
      { name: "speed_kmh", label: "At a speed of", unit: "km/h", least: 20 },
      { name: "pct_per_s", label: "At most, per second", unit: "%", least: 0.1 },
    ],
  },
  match: {
    label: "match the neighbour",
    fresh: { kind: "match", which: "before" },
    fields: [{ name: "which", label: "The one", options: ["before", "after"].map((value) => ({ value, label: value })) }],
  },
  copy: { label: "copy from the other side", fresh: { kind: "copy", opposite: false }, fields: [{ name: "opposite", label: "Change the sign", toggle: true }] },
};
