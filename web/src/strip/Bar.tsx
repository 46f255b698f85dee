/** A stretch of the road as a bar on the strip, with its words as far as there is room. */
import { chainageText } from "../base/chainage";

export type Scale = (chainage: number) => number;

interface Props {
  x: Scale;
  from: number;
  to: number;
  y: number;
  height: number;
  text: string;
  fill: string;
  stroke?: string;
  dark?: boolean;
}

export function Bar({ x, from, to, y, height, text, fill, stroke, dark }: Props) {
  const w = Math.max(1, x(to) - x(from));
  return (
    <g>
      <rect x={x(from)} width={w - 0.6} y={y} height={height} fill={fill} stroke={stroke} strokeWidth={0.8}>
        <title>{`${text}, ${chainageText(from)} to ${chainageText(to)}`}</title>
      </rect>
      {w > 24 && (
        <text x={x(from) + 5} y={y + height - 3.5} className={dark ? "dark" : undefined}>
          {text.length * 5.2 > w - 8 ? `${text.slice(0, Math.max(1, Math.floor((w - 12) / 5.6)))}…` : text}
        </text>
      )}
    </g>
  );
}
