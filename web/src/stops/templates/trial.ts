/** What a template is tried on, as the bench holds it, and as the server is asked. */
import { GROUND_REACH, type GroundShape } from "./BenchMarks";
import { type Side, sourcesOf, type Template } from "./spec";
import type { Trial } from "./useTryOut";

export interface TrialState {
  ground: GroundShape;
  left_pct: number;
  right_pct: number;
  boundary: Record<Side, number | null>;
  oldEdge: number | null;
  /** Outward offset of what is followed, by side and source; absent where it is not found. */
  followed: Record<string, number | null>;
  dimensions: Record<string, number>;
}

export const FIRST_TRIAL: TrialState = {
  ground: { left: -1, middle: -1, right: -1 },
  left_pct: -2.5,
  right_pct: -2.5,
  boundary: { left: -12, right: 12 },
  oldEdge: null,
  followed: {},
  dimensions: {},
};

/** How far the ground goes on past its handles, m. */
const BEYOND = 60;

export function trialOf(state: TrialState, spec: Template, thorough: boolean): Trial {
  const { left, middle, right } = state.ground;
  const far = (end: number) => middle + ((end - middle) * BEYOND) / GROUND_REACH;
  return {
    ground: [
      [-BEYOND, far(left)],
      [0, middle],
      [BEYOND, far(right)],
    ],
    left_pct: state.left_pct,
    right_pct: state.right_pct,
    left_boundary: state.boundary.left,
    right_boundary: state.boundary.right,
    old_edge: state.oldEdge,
    followed: sourcesOf(spec).flatMap(({ side, source }) => {
      const out = state.followed[followKey(side, source)];
      return out == null ? [] : [{ side, source, offset: side === "left" ? -out : out, level: null }];
    }),
    dimensions: state.dimensions,
    thorough,
  };
}

export function followKey(side: Side, source: unknown): string {
  return side + JSON.stringify(source);
}
