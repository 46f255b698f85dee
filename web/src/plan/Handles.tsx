/** Handles of the plan for the keyboard: drawn on the map itself, they are reached by Tab and moved with the arrows here. */
import type OlMap from "ol/Map";
import { useState } from "react";
import { nudged } from "../common/nudge";

/** What an arrow moves a handle by, m. */
const STEP = 0.1;

interface Props {
  map: () => OlMap | undefined;
  handles: { at: number[]; label: string }[];
  move?: (index: number, at: [number, number], done: boolean) => void;
}

export function Handles({ map, handles, move }: Props) {
  const [reached, setReached] = useState<number | null>(null);
  const place = (at: number[]) => {
    const [left, top] = map()?.getPixelFromCoordinate(at) ?? [0, 0];
    return { left: left! - 11, top: top! - 11 };
  };
  return handles.map((h, i) => (
    <button
      key={i}
      type="button"
      className="plan-handle"
      aria-label={`${h.label}, moved with the arrow keys`}
      style={reached === i ? place(h.at) : undefined}
      {...nudged((right, up) => move?.(i, [h.at[0]! + right * STEP, h.at[1]! + up * STEP], true))}
      onFocus={() => setReached(i)}
      onBlur={() => setReached(null)}
    />
  ));
}
