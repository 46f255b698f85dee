/** Values along the road, straight between the chainages at which they are known. */
import { scaleLinear } from "d3-scale";

/** What holds at a chainage: null outside the given ones, where the value there is not known, and next to such a place. */
export function between(chainage: number[], values: (number | null)[]): (c: number) => number | null {
  const [first, last] = [chainage[0], chainage.at(-1)];
  if (first === undefined || last === undefined) return () => null;
  const given = new Map(chainage.map((c, i) => [c.toFixed(3), values[i] ?? null]));
  const known = values.map((v) => v ?? NaN);
  const scale = chainage.length > 1 ? scaleLinear(chainage, known).clamp(true) : () => known[0]!;
  return (c) => {
    const exact = given.get(c.toFixed(3));
    if (exact !== undefined) return exact;
    const value = c < first - 1e-6 || c > last + 1e-6 ? NaN : scale(c);
    return Number.isNaN(value) ? null : value;
  };
}
