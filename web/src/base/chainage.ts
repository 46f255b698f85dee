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

/** What a text means as a chainage: the running chainage in metres, or what is wrong with it. */
export function readChainage(text: string): { value: number; wrong: null } | { value: null; wrong: string } {
  const bad = (wrong: string) => ({ value: null, wrong });
  const given = text
    .trim()
    .replace(/[−–﹣－]/g, "-")
    .replace(/(?<=\d)[\s\u00a0\u202f](?=\d{3}(?!\d))/g, "");
  const [, mark = "", plain] = /^(km|ch\.?|sta\.?)?\s*(.*)$/i.exec(given) as unknown as [string, string | undefined, string];
  const forms = "write a chainage as 1234.5, 1+234.5 or 1.2345 km";
  const parts = /^(-?)(\d+)\s*\+\s*(\d+)(?:[.,](\d+))?\s*m?$/.exec(plain);
  if (parts) {
    const [, sign, km, m, rest] = parts;
    if (m!.length !== 3) return bad(`Behind the plus stand three digits: ${km}+${m!.slice(0, 3).padStart(3, "0")}, say`);
    return placeOf(Number(`${sign}${Number(km) * 1000 + Number(m)}.${rest ?? "0"}`), text);
  }
  const plainMetres = /^(-?\d+(?:[.,]\d+)?)\s*(m|km)?$/i.exec(plain);
  // km before a figure without a plus says its unit, as km behind it does.
  const kilometres = (plainMetres?.[2] ?? mark).toLowerCase() === "km";
  if (!plainMetres) return bad(`Not a chainage: ${forms}`);
  if (/^-?[1-9]\d{0,2},\d{3}$/.test(plainMetres[1]!) && !kilometres)
    return bad(`${plain} can be read as ${plain.replace(",", "")} or ${plain.replace(",", ".")} m: write it without the comma`);
  return placeOf(Number((Number(plainMetres[1]!.replace(",", ".")) * (kilometres ? 1000 : 1)).toFixed(6)), text);
}

function placeOf(named: number, text: string): ReturnType<typeof readChainage> {
  const value = running(named);
  return value === null ? { value: null, wrong: `${text.trim()} is passed over by an equation of the chainage` } : { value, wrong: null };
}

/** The same where only a chainage counts, or null. */
export const parseChainage = (text: string): number | null => readChainage(text).value;
