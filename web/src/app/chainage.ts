/** Chainage as people write and read it. Everything is computed on the running chainage; equations change what it is called. */

export interface Equation {
  back: number;
  ahead: number;
}

/** The equations of the main alignment, set by the frame; like a locale, they hold for the whole page. */
let equations: readonly Equation[] = [];

export function setEquations(now: readonly Equation[]): void {
  equations = now;
}

/** What a running chainage is called. */
function called(running: number): number {
  let jump = 0;
  for (const e of equations) {
    if (running < e.back - jump) break;
    jump += e.ahead - e.back;
  }
  return running + jump;
}

/** The first running chainage that is called so, or null. */
function running(chainage: number): number | null {
  let jump = 0;
  let low = -Infinity;
  for (const e of [...equations, null]) {
    const high = e ? e.back - jump : Infinity;
    const candidate = chainage - jump;
    if (candidate >= low && candidate < high) return candidate;
    low = high;
    if (e) jump += e.ahead - e.back;
  }
  return null;
}

/** 1234.5 as 1+234.500. */
export function chainageText(chainage: number, decimals = 3): string {
  const shown = called(chainage);
  const scaled = Math.round(Math.abs(shown) * 10 ** decimals);
  const km = Math.floor(scaled / (1000 * 10 ** decimals));
  const rest = (scaled - km * 1000 * 10 ** decimals) / 10 ** decimals;
  return `${shown < 0 && scaled ? "−" : ""}${km}+${rest.toFixed(decimals).padStart(decimals ? 4 + decimals : 3, "0")}`;
}

/** "1+234.5" or "1234.5" in metres of running chainage, or null. */
export function parseChainage(text: string): number | null {
  const match = /^\s*([-−]?)(?:(\d+)\+(\d{3}(?:\.\d+)?)|(\d+(?:\.\d+)?))\s*m?\s*$/.exec(text);
  if (!match) return null;
  const value = match[4] !== undefined ? Number(match[4]) : Number(match[2]) * 1000 + Number(match[3]);
  return running(match[1] ? -value : value);
}
