/** The section nearest to a chainage; of two at one chainage the one on the side asked for, else the later. */
export function nearestSection(chainages: number[], sides: number[], at: number, side: number): number {
  let best = -1;
  let distance = Infinity;
  chainages.forEach((c, i) => {
    const d = Math.abs(c - at) - (sides[i] === side && side !== 0 ? 1e-6 : 0);
    if (d < distance || (d === distance && side === 0)) {
      distance = d;
      best = i;
    }
  });
  return best;
}
