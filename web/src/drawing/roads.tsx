/** Other roads of the project on a section, behind its own: courses pale, the finished surface grey, the name at the hinge. */
import type { SectionView } from "../api/hooks";
import { colour } from "../base/theme";
import { patternId } from "./patterns";
import type { Vertex } from "./scale";

interface Props {
  roads: SectionView["roads"];
  line: (points: Vertex[]) => string;
  x: (offset: number) => number;
  down: (offset: number, level: number) => number;
  /** Named, where there is room for it. */
  named: boolean;
}

export function OtherRoads({ roads, line, x, down, named }: Props) {
  return roads.map((road) => {
    const mark = road.hinge ?? road.designs[0]?.[0];
    return (
      <g key={road.key} aria-label={`Road ${road.name}`} role="img">
        <g opacity={0.45}>
          {road.layers.map((layer, i) => (
            <polygon key={i} points={line(layer.polygon)} fill={`url(#${patternId(layer.material)})`} stroke={colour.tin600} strokeWidth={0.6}>
              <title>{`${road.name}: ${layer.name}, ${layer.element} ${layer.side}, ${layer.area.toFixed(3)} m²`}</title>
            </polygon>
          ))}
        </g>
        {road.designs.map((run, i) => (
          <polyline key={`design ${i}`} points={line(run)} fill="none" stroke={colour.tin600} strokeWidth={1.8}>
            <title>{road.name}</title>
          </polyline>
        ))}
        {named && mark && (
          <text x={x(mark[0])} y={down(...mark) - 10} textAnchor="middle" fontWeight={600} fill={colour.tin600}>
            {road.unknown.length > 0 ? `${road.name}, not all of it known` : road.name}
          </text>
        )}
      </g>
    );
  });
}
