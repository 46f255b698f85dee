/** What a section is made of, drawn: courses, lines of the old ground and of the design, floors, names of points. */
import type { SectionView } from "../api/hooks";
import { bandColours, colour } from "../base/theme";
import { earthTicks } from "./marks";
import { patternId } from "./patterns";
import type { labelTiers, Vertex } from "./scale";
import type { Mark } from "./snap";

/** Lines of other surfaces, in turn. */
const OTHER_TONES = [colour.sound, colour.caution, colour.saddle700];
const OTHER_DASHES = ["10 4", "4 4", "12 3 2 3"];

interface Props {
  section: SectionView | undefined;
  designs: Vertex[][] | undefined;
  others: Record<string, Vertex[][]> | undefined;
  /** The design before the last change. */
  before: Vertex[] | undefined;
  /** Whether the overlay is coloured by its bands of depth. */
  bands: boolean | undefined;
  line: (points: Vertex[]) => string;
  x: (offset: number) => number;
  y: (level: number) => number;
  onPick: ((layer: SectionView["layers"][number]) => void) | undefined;
}

export function SectionLines({ section, designs, others, before, bands, line, x, y, onPick }: Props) {
  return (
    <>
      {section?.layers.map((layer, i) => (
        <polygon
          key={i}
          points={line(layer.polygon)}
          fill={`url(#${patternId(layer.material)})`}
          stroke={colour.tin950}
          strokeWidth={0.6}
          onClick={() => onPick?.(layer)}
        >
          <title>{`${layer.name}, ${layer.element} ${layer.side}: ${layer.area.toFixed(3)} m²`}</title>
        </polygon>
      ))}
      {bands &&
        section?.bands.map((b, i) => (
          <polygon key={`band ${i}`} points={line(b.polygon)} fill={bandColours[b.band]} stroke={bandColours[b.band]} strokeWidth={0.6} />
        ))}
      {section?.existing.map((run, i) => (
        <g key={i} fill="none" stroke={colour.tin600}>
          <polyline points={line(run)} strokeWidth={1.4} />
          <path d={earthTicks(run, x, y)} strokeWidth={0.8} />
        </g>
      ))}
      {Object.entries(others ?? {}).map(([name, runs], i) =>
        runs.map((run, k) => (
          <polyline
            key={`${name} ${k}`}
            points={line(run)}
            fill="none"
            stroke={OTHER_TONES[i % OTHER_TONES.length]}
            strokeWidth={1.4}
            strokeDasharray={OTHER_DASHES[i % OTHER_DASHES.length]}
          >
            <title>{name}</title>
          </polyline>
        )),
      )}
      {section?.milled.map((run, i) => (
        <polyline key={`milled ${i}`} points={line(run)} fill="none" stroke={colour.tin600} strokeWidth={1.4} strokeDasharray="6 3">
          <title>Milled surface</title>
        </polyline>
      ))}
      {before && (
        <polyline points={line(before)} fill="none" stroke={colour.saddle500} strokeWidth={1.6} strokeDasharray="3 3">
          <title>Before the last change</title>
        </polyline>
      )}
      {designs?.map((run, i) => (
        <polyline key={`design ${i}`} points={line(run)} fill="none" stroke={colour.tin950} strokeWidth={1.8} />
      ))}
      {section?.floors.map((f) => (
        <polyline key={`${f.side} ${f.name}`} points={line(f.line)} fill="none" stroke={colour.short} strokeWidth={1.4} strokeDasharray="5 2">
          <title>{`Floor ${f.name}, ${f.side}`}</title>
        </polyline>
      ))}
    </>
  );
}

/** The points of the design by name, with a line to where the name has room. */
export function PointNames({ labels }: { labels: ReturnType<typeof labelTiers> }) {
  return (
    <>
      {labels.map((l) => (
        <g key={l.key}>
          <line x1={l.x} x2={l.x} y1={l.y - 4} y2={l.labelY + 3} stroke={colour.tin400} strokeWidth={0.7} />
          <rect x={l.x - 3} y={l.y - 3} width={6} height={6} fill={colour.white} stroke={colour.tin950} />
          <text x={l.x} y={l.labelY - 11} textAnchor="middle" fontWeight={600}>
            {l.name}
          </text>
          <text x={l.x} y={l.labelY} textAnchor="middle" className="mono">
            {l.level.toFixed(3)}
          </text>
        </g>
      ))}
    </>
  );
}

/** The places between which is measured. */
export function MeasureLine({ a, b, to }: { a: Mark; b: Mark | undefined; to: (place: Vertex) => Vertex }) {
  const [ax, ay] = to(a.at);
  const [bx, by] = b ? to(b.at) : [ax, ay];
  return (
    <g stroke={colour.saddle500} fill={colour.saddle500}>
      <circle cx={ax} cy={ay} r={3.5} />
      {b && <line x1={ax} y1={ay} x2={bx} y2={by} strokeDasharray="4 3" />}
      {b && <circle cx={bx} cy={by} r={3.5} />}
    </g>
  );
}
