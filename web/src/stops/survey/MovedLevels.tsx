/** How levels moved along the road where a later survey covers an earlier one: a bar from the least to the greatest on each piece. */
import type { Schemas } from "../../api/client";
import { chainageText } from "../../base/chainage";

const WIDTH = 400;
const HEIGHT = 84;
const LEFT = 44;

export function MovedLevels({ part }: { part: Schemas["PartOut"] }) {
  const { moved } = part;
  const count = `${part.kept.toLocaleString("en")} points stay, ${part.replaced.toLocaleString("en")} are replaced.`;
  if (moved.length === 0) return <p className="quiet">{count} None of them is on the road.</p>;
  const [low, high] = [Math.min(0, ...moved.map((m) => m.least)), Math.max(0, ...moved.map((m) => m.greatest))];
  const mean = moved.reduce((sum, m) => sum + m.mean * m.points, 0) / moved.reduce((n, m) => n + m.points, 0);
  const [from, to] = [moved[0]!.chainage, moved[moved.length - 1]!.chainage];
  const x = (chainage: number) => LEFT + 6 + ((chainage - from) / Math.max(to - from, 1e-6)) * (WIDTH - LEFT - 12);
  const y = (level: number) => 6 + ((high - level) / Math.max(high - low, 1e-6)) * (HEIGHT - 26);
  const signed = (v: number) => `${v > 0 ? "+" : ""}${(1000 * v).toFixed(0)}`;
  const words = `Levels move by ${signed(Math.min(...moved.map((m) => m.least)))} to ${signed(Math.max(...moved.map((m) => m.greatest)))} mm, ${signed(mean)} mm on average.`;
  return (
    <div className="moved-levels">
      <p>
        {count} {words}
      </p>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`${words} From ${chainageText(from, 0)} to ${chainageText(to, 0)}.`}>
        <line x1={LEFT} x2={WIDTH} y1={y(0)} y2={y(0)} className="none" />
        {moved.map((m) => (
          <g key={m.chainage}>
            <line x1={x(m.chainage)} x2={x(m.chainage)} y1={y(m.least)} y2={y(m.greatest)} className="span" />
            <circle cx={x(m.chainage)} cy={y(m.mean)} r={1.8} />
          </g>
        ))}
        {[...new Set([low, 0, high])].map((v) => (
          <text key={v} x={LEFT - 4} y={y(v) + 4} textAnchor="end">
            {signed(v)}
          </text>
        ))}
        <text x={LEFT} y={HEIGHT - 3}>
          {chainageText(from, 0)}
        </text>
        <text x={WIDTH} y={HEIGHT - 3} textAnchor="end">
          {chainageText(to, 0)}
        </text>
      </svg>
    </div>
  );
}
