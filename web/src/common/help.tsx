/** What fields do, in words and with a small drawing: the old road grey, what is built brown, measures with arrows. One entry here for
 *  another field, and its key at the field's `Row`. */
import { Popover } from "antd";
import { type ReactNode, useId } from "react";
import { colour } from "../base/theme";

type Place = [x: number, y: number];
interface Sketch {
  /** The old surface, and the surface as it will be. */
  old: Place[];
  design: Place[];
  /** What is built or taken away between them. */
  built?: Place[];
  taken?: Place[];
  /** A measure from one place to another with its name. */
  measures: [from: Place, to: Place, name: string, at: Place][];
  notes?: [text: string, at: Place][];
}

interface Help {
  words: string;
  sketch: Sketch;
}

const NEW: Place[] = [
  [12, 46],
  [100, 32],
  [188, 48],
];
const between = (over: Place[], under: Place[]): Place[] => [...over, ...under.slice().reverse()];

export const HELP = {
  least_cover: {
    words: "The new surface is to be nowhere nearer to the old one than this. Where cover governs, one place between the edges has exactly it.",
    sketch: {
      old: [
        [0, 60],
        [60, 50],
        [100, 54],
        [150, 50],
        [200, 62],
      ],
      design: NEW,
      built: between(NEW, [
        [12, 58],
        [60, 50],
        [100, 54],
        [150, 50],
        [188, 60],
      ]),
      measures: [[[150, 41], [150, 50], "least cover", [128, 30]]],
    },
  },
  too_deep: {
    words: "Where the overlay is deeper than this, it is a problem to look at: another crossfall, profile or milling may save material.",
    sketch: {
      old: [
        [0, 52],
        [60, 50],
        [100, 76],
        [150, 50],
        [200, 60],
      ],
      design: NEW,
      built: between(NEW, [
        [12, 52],
        [60, 50],
        [100, 76],
        [150, 50],
        [188, 58],
      ]),
      measures: [[[100, 32], [100, 76], "too deep above", [106, 66]]],
    },
  },
  crossfall: {
    words: "From the hinge outward: negative falls away from it, positive rises. “-1 in 40” is −2.5 %.",
    sketch: {
      old: [],
      design: [
        [12, 52],
        [100, 34],
        [188, 52],
      ],
      measures: [],
      notes: [
        ["−2.5 %", [40, 32]],
        ["−2.5 %", [130, 32]],
        ["hinge", [86, 26]],
        ["left", [10, 70]],
        ["right", [166, 70]],
      ],
    },
  },
  lanes_reach: {
    words: "Whether the lane goes at least to the old edge, exactly to it, or as far as the template says; what is beyond the old edge is built new.",
    sketch: {
      old: [
        [0, 60],
        [30, 52],
        [100, 42],
        [160, 52],
        [200, 64],
      ],
      design: [
        [30, 40],
        [100, 30],
        [186, 42],
      ],
      built: [
        [160, 38],
        [186, 42],
        [186, 74],
        [160, 74],
      ],
      measures: [[[160, 82], [186, 82], "new", [162, 96]]],
      notes: [["old edge", [118, 66]]],
    },
  },
  saw_cut: {
    words: "The old pavement is cut so far inside its edge, where it is still sound; from there outward all is built new.",
    sketch: {
      old: [
        [0, 46],
        [100, 46],
        [150, 48],
      ],
      design: [
        [0, 34],
        [190, 38],
      ],
      built: [
        [116, 36],
        [190, 38],
        [190, 78],
        [116, 78],
      ],
      measures: [[[116, 86], [150, 86], "saw cut", [112, 98]]],
      notes: [["old edge", [152, 62]]],
    },
  },
  least_new_width: {
    words: "A widening narrower than this cannot be built: it is made as wide as this by cutting further into the old pavement.",
    sketch: {
      old: [
        [0, 46],
        [140, 46],
      ],
      design: [
        [0, 34],
        [176, 38],
      ],
      built: [
        [120, 36],
        [176, 38],
        [176, 76],
        [120, 76],
      ],
      measures: [[[120, 86], [176, 86], "least new width", [100, 98]]],
    },
  },
  upstand: {
    words: "The kerb stays as it is; what is left of it above the new surface is not to be less than this.",
    sketch: {
      old: [
        [0, 66],
        [130, 72],
      ],
      design: [
        [0, 52],
        [130, 58],
        [130, 34],
        [150, 34],
        [200, 32],
      ],
      built: [
        [0, 52],
        [130, 58],
        [130, 72],
        [0, 66],
      ],
      measures: [[[120, 34], [120, 57], "upstand", [72, 40]]],
    },
  },
  tie: {
    words:
      "Seen along the road: over this length the overlay runs out to the old surface. With a notch the old road is milled there, so that the end has a thickness.",
    sketch: {
      old: [
        [0, 58],
        [200, 58],
      ],
      design: [
        [40, 58],
        [120, 34],
        [200, 34],
      ],
      built: [
        [40, 58],
        [120, 34],
        [200, 34],
        [200, 58],
        [64, 58],
        [40, 72],
      ],
      measures: [
        [[40, 86], [120, 86], "over", [70, 98]],
        [[32, 58], [32, 72], "notch", [2, 80]],
      ],
    },
  },
  turns_about: {
    words: "What keeps the level of the profile while the road is superelevated: the hinge or an edge. The other side rises or falls about it.",
    sketch: {
      old: [
        [16, 54],
        [100, 44],
        [184, 54],
      ],
      design: [
        [16, 72],
        [184, 22],
      ],
      measures: [],
      notes: [["turns about here", [66, 66]]],
    },
  },
} satisfies Record<string, Help>;
export type HelpKey = keyof typeof HELP;

const path = (points: Place[]) => points.map(([x, y]) => `${x},${y}`).join(" ");

function Drawing({ of }: { of: Sketch }) {
  const arrow = useId();
  return (
    <svg viewBox="0 16 200 86" width={260} height={112} aria-hidden="true" style={{ display: "block", marginBottom: 6 }}>
      <defs>
        <marker id={arrow} viewBox="-5 -3 6 6" markerWidth={6} markerHeight={6} orient="auto-start-reverse">
          <path d="M-5 -2.2L0 0L-5 2.2" fill="none" stroke={colour.saddle700} strokeWidth={1} />
        </marker>
      </defs>
      {of.built && <polygon points={path(of.built)} fill={colour.saddle100} />}
      <polyline points={path(of.old)} fill="none" stroke={colour.tin400} strokeWidth={1.4} strokeDasharray="5 3" />
      <polyline points={path(of.design)} fill="none" stroke={colour.tin800} strokeWidth={2} />
      {of.measures.map(([a, b, name, at]) => (
        <g key={name}>
          <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke={colour.saddle700} markerStart={`url(#${arrow})`} markerEnd={`url(#${arrow})`} />
          <text x={at[0]} y={at[1]} fontSize={10} fill={colour.saddle700}>
            {name}
          </text>
        </g>
      ))}
      {of.notes?.map(([text, at]) => (
        <text key={`${text} ${at[0]}`} x={at[0]} y={at[1]} fontSize={10} fill={colour.tin600}>
          {text}
        </text>
      ))}
    </svg>
  );
}

/** A field's name that tells what the field does when it is pressed. */
export function Helped({ by, children }: { by: HelpKey; children: ReactNode }) {
  const { words, sketch }: Help = HELP[by];
  return (
    <Popover
      trigger="click"
      placement="left"
      content={
        <div style={{ maxWidth: 260 }} role="note">
          <Drawing of={sketch} />
          {words}
        </div>
      }
    >
      <button type="button" className="helped" title="What this does">
        {children}
      </button>
    </Popover>
  );
}
