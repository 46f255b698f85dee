/** Fills by material: colour and pattern together. */
import { memo } from "react";
import type { SpecOf } from "../api/hooks";
import { colour } from "../base/theme";

const FAMILIES: Record<SpecOf<"material">["pattern"], { angle: number; gap: number; dash?: string }[]> = {
  plain: [],
  rising: [{ angle: -45, gap: 6 }],
  falling: [{ angle: 45, gap: 6 }],
  crossed: [
    { angle: -45, gap: 7 },
    { angle: 45, gap: 7 },
  ],
  level: [{ angle: 0, gap: 4 }],
  dotted: [{ angle: -60, gap: 4, dash: "1 4" }],
};

export function patternId(key: string): string {
  return `material-${key}`;
}

export const MaterialPatterns = memo(function MaterialPatterns({ materials }: { materials: { key: string; spec: SpecOf<"material"> }[] }) {
  return (
    <defs>
      {materials.map(({ key, spec }) => (
        <pattern key={key} id={patternId(key)} patternUnits="userSpaceOnUse" width={35} height={35}>
          <rect width={35} height={35} fill={spec.colour} />
          {FAMILIES[spec.pattern].map((f, i) => (
            <g key={i} stroke={colour.tin950} strokeWidth={f.dash ? 1 : 0.6} strokeDasharray={f.dash} opacity={0.65}>
              {lines(f.angle, f.gap)}
            </g>
          ))}
        </pattern>
      ))}
      <pattern id="short-cover" patternUnits="userSpaceOnUse" width={6} height={6} patternTransform="rotate(45)">
        <path d="M0 3H6" stroke={colour.short} strokeWidth={1.6} />
      </pattern>
    </defs>
  );
});

/** Lines across a 35 px tile; slanted ones run on so that tiles join. */
function lines(angle: number, gap: number) {
  const out = [];
  if (angle === 0) {
    for (let y = gap / 2; y < 35; y += 5) out.push(<path key={y} d={`M0 ${y}H35`} />);
    return out;
  }
  const rise = angle < 0 ? -35 : 35;
  const step = Math.abs(angle) === 45 ? 7 : 5;
  for (let y = -35; y <= 70; y += step) out.push(<path key={y} d={`M0 ${y}L35 ${y + rise}`} />);
  return out;
}
