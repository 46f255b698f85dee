/** Numbers as people write them: with units, as ratios, sums, feet and inches, degrees, with commas or points. Nothing is guessed. */

export type Unit = "m" | "mm" | "%" | "1 in" | "t/m³" | "°" | "m right +" | "km/h" | "per t" | "m/%" | "";

/** Of a metre; the foot is the international one. */
const PER: Record<string, number> = { m: 1, mm: 0.001, cm: 0.01, km: 1000, ft: 0.3048, in: 0.0254 };

export interface Read {
  /** The value in the field's unit; null when the text is not one. */
  value: number | null;
  /** What is wrong. */
  wrong: string | null;
  /** Where it can be read in two ways: both. */
  choices?: number[];
}

const bad = (wrong: string, choices?: number[]): Read => ({ value: null, wrong, choices });
const good = (value: number): Read => ({ value, wrong: null });
/** Without what binary fractions add. */
const clean = (value: number) => Number(value.toPrecision(12));

/**
 * One number in plain digits: decimal point or comma, thousands parted by blanks, commas or points where only one reading is
 * possible. One comma before three digits could part thousands or decimals: both are told.
 */
function plainNumber(text: string): Read | null {
  const t = text.replace(/(?<=\d)[\s\u00a0\u202f](?=\d{3}(?!\d))/g, "");
  if (/^[-+]?[1-9]\d{0,2},\d{3}$/.test(t)) {
    const both = [Number(t.replace(",", "")), Number(t.replace(",", "."))];
    return bad(`${t} can be read as ${both[0]} or ${both[1]}: write it without the comma`, both);
  }
  if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(t) && /,.*[,.]/.test(t)) return good(Number(t.replaceAll(",", "")));
  if (/^[-+]?\d{1,3}(\.\d{3})+,\d+$/.test(t) || /^[-+]?\d{1,3}(\.\d{3}){2,}$/.test(t)) return good(Number(t.replaceAll(".", "").replace(",", ".")));
  const dotted = t.replace(",", ".");
  return /^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/i.test(dotted) ? good(Number(dotted)) : null;
}

/** 12'6", 12 ft 6 in, 6": metres. */
function feet(text: string): number | null {
  const match = /^([-+]?)(?:(\d+(?:[.,]\d+)?)\s*(?:'|′|ft))?\s*(?:(\d+(?:[.,]\d+)?)\s*(?:"|″|''|in))?$/.exec(text);
  if (!match || (match[2] === undefined && match[3] === undefined)) return null;
  const part = (v: string | undefined) => Number((v ?? "0").replace(",", "."));
  const length = part(match[2]) * PER.ft! + part(match[3]) * PER.in!;
  return match[1] === "-" ? -length : length;
}

/** 12°30'15": degrees. */
function degrees(text: string): Read | null {
  const match = /^([-+]?)(\d+)\s*°\s*(?:(\d+(?:[.,]\d+)?)\s*['′])?\s*(?:(\d+(?:[.,]\d+)?)\s*["″])?$/.exec(text);
  if (!match) return null;
  const [minutes, seconds] = [match[3], match[4]].map((v) => Number((v ?? "0").replace(",", ".")));
  if (minutes! >= 60 || seconds! >= 60) return bad("Minutes and seconds run to 59");
  const value = clean(Number(match[2]) + minutes! / 60 + seconds! / 3600);
  return good(match[1] === "-" ? -value : value);
}

/** One number, with or without a unit, in the field's unit. */
function term(text: string, unit: Unit): Read {
  const own = unit.split(" ")[0]!;
  if (own in PER) {
    const length = feet(text);
    if (length !== null) return good(clean(length / PER[own]!));
  }
  const angle = unit === "°" ? degrees(text) : null;
  if (angle) return angle;
  const match = /^(.*?)\s*(mm|cm|m|km|km\/h|%|°|t\/m³|per t|m\/%)?$/.exec(text);
  const read = plainNumber(match?.[1]?.trim() ?? "");
  if (!read) return bad(`Not a number${unit ? ` in ${unit}` : ""}`);
  const given = match![2];
  if (read.value === null || !given || given === own || given === unit) return read;
  if (given in PER && own in PER) return good(clean((read.value * PER[given]!) / PER[own]!));
  if (given === "%" && unit === "1 in" && read.value !== 0) return good(Math.abs(100 / read.value));
  return bad(`${given} does not go with ${unit || "this field"}`);
}

/** A slope written 1 in 40 or 1:40. Of a crossfall it needs its sign: without one it could rise or fall. */
function ratio(text: string, unit: Unit): Read | null {
  const match = /^([-+]?)1\s*(?:in|:)\s*(\d+(?:[.,]\d+)?)$/.exec(text);
  if (!match) return null;
  const n = Number(match[2]!.replace(",", "."));
  if (n <= 0) return bad("1 in nothing is no slope");
  if (unit === "1 in") return match[1] === "-" ? bad("a side slope has no sign here: cut or fill says which way") : good(n);
  if (unit !== "%") return bad(unit ? `A slope is no value in ${unit}` : "A slope is no number here");
  const pct = clean(100 / n);
  if (match[1] === "") return bad(`Falling or rising? -1 in ${n} falls by ${Number(pct.toFixed(3))} %, +1 in ${n} rises`, [-pct, pct]);
  return good(match[1] === "-" ? -pct : pct);
}

/** What a text means in a unit. Sums are of terms like 3.5 + 250mm - 2 * 0.1. */
export function readNumber(text: string, unit: Unit): Read {
  const plain = text.trim().replaceAll("−", "-");
  const slope = ratio(plain, unit);
  if (slope) return slope;
  const alone = term(plain, unit);
  if (alone.value !== null || alone.choices) return alone;
  if (unit.startsWith("m") && /^\d+\+\d{3}(?:[.,]\d+)?$/.test(plain)) {
    const [km, m] = plain.replace(",", ".").split("+").map(Number) as [number, number];
    return bad(`${plain} looks like a chainage: as a length that is ${km * 1000 + m}, as a sum ${km + m}`, [km * 1000 + m, km + m]);
  }
  // Signs between terms: behind a digit, a unit or a blank, never behind another sign or an exponent.
  const terms = plain.split(/(?<=[\d.%"'°m\s])\s*(?=[-+](?=\s*[\d.]))/);
  if (terms.length < 2 && !/[*/×]/.test(plain.replace("km/h", "").replace("t/m³", "").replace("m/%", ""))) return alone;
  let sum = 0;
  for (const each of terms) {
    const read = product(each.trim(), unit);
    if (read.value === null) return { ...read, choices: undefined };
    sum += read.value;
  }
  return good(clean(sum));
}

function product(text: string, unit: Unit): Read {
  const sign = /^[-+]/.exec(text)?.[0] ?? "";
  const parts = text.slice(sign.length).split(/\s*([*/×])\s*/);
  const first = term(parts[0]!.trim(), unit);
  if (first.value === null) return first;
  let value = sign === "-" ? -first.value : first.value;
  for (let i = 1; i < parts.length; i += 2) {
    const by = plainNumber(parts[i + 1]!.trim());
    if (!by || by.value === null) return by ?? bad(`Not a number${unit ? ` in ${unit}` : ""}`);
    if (parts[i] === "/" && by.value === 0) return bad("Nothing can be divided by 0");
    value = parts[i] === "/" ? value / by.value : value * by.value;
  }
  return good(value);
}

/** Beyond these no field of a unit means anything; a field may ask for less. */
const SENSE: Partial<Record<Unit, [number, number, string]>> = {
  m: [-1e7, 1e7, "length or coordinate"],
  mm: [-20_000, 20_000, "thickness or depth"],
  "%": [-1000, 1000, "slope"],
  "1 in": [0.001, 10_000, "slope"],
  "t/m³": [0, 30, "density"],
  "km/h": [0, 300, "speed"],
  "°": [-360, 360, "angle"],
};

export interface Limits {
  least?: number;
  most?: number;
}

/** The same within the limits of a field. */
export function readWithin(text: string, unit: Unit, { least, most }: Limits): Read {
  const read = readNumber(text, unit);
  if (read.value === null) return read;
  const words = unit === "m right +" ? "m" : unit;
  if (least !== undefined && read.value < least) return bad(`At least ${least} ${words}`.trim());
  if (most !== undefined && read.value > most) return bad(`At most ${most} ${words}`.trim());
  const [low, high, what] = SENSE[unit] ?? [-Infinity, Infinity, ""];
  return read.value < low || read.value > high ? bad(`No ${what}: between ${low} and ${high} ${words}`) : read;
}
