/** Numbers as people write them: with units, as ratios, sums, fractions, feet and inches, degrees, with commas or points. Nothing is guessed. */

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

/** Three ways in which a field of a unit takes a number, for whoever wrote none. */
export const FORMS: Record<Unit, string> = {
  m: "3.5, 350 mm or 11'6\"",
  mm: "45, 4.5 cm or 0.045 m",
  "%": "-2.5, -1 in 40 or -25 ‰",
  "1 in": "4, 1 in 4 or 25 %",
  "t/m³": "2.4, 2,4 or 2.4 t/m³",
  "°": "62.5, 62°30' or 62-30-00",
  "m right +": "3.5, -350 mm or 11'6\"",
  "km/h": "80, 80 km/h or 70 + 10",
  "per t": "71.50, 71,50 or 70 + 1.5",
  "m/%": "12, 12 m/% or 10 + 2",
  "": "3, 2 + 1 or 2 * 2",
};

const bad = (wrong: string, choices?: number[]): Read => ({ value: null, wrong, choices });
const good = (value: number): Read => ({ value, wrong: null });
const none = (unit: Unit) => bad(`Not a number${unit ? ` in ${unit.split(" right")[0]}` : ""}: write ${FORMS[unit]}`);
/** Without what binary fractions add. */
const clean = (value: number) => Number(value.toPrecision(12));
const point = (text: string) => Number(text.replace(",", "."));

/** The words of units, behind a number in any letters. */
const WORDS: [RegExp, string][] = [
  [/km\s*\/\s*h|kmh|kph/y, "km/h"],
  [/t\s*\/\s*m[³3]/y, "t/m³"],
  [/m\s*\/\s*%/y, "m/%"],
  [/per t\b/y, "per t"],
  [/millimet(?:re|er)s?\b|mm\b/y, "mm"],
  [/centimet(?:re|er)s?\b|cm\b/y, "cm"],
  [/kilomet(?:re|er)s?\b|km\b/y, "km"],
  [/met(?:re|er)s?\b|m\b/y, "m"],
  [/(?:feet|foot|ft)\b|['′]/y, "ft"],
  [/(?:inch(?:es)?|in)\b|''|["″]/y, "in"],
  [/%|percent\b|per cent\b/y, "%"],
  [/‰|per mille\b/y, "‰"],
  [/°|deg(?:rees?)?\b/y, "°"],
];
const FRACTIONS: Record<string, number> = { "½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8 };

/**
 * One number in plain digits: decimal point or comma, thousands parted by blanks, commas or points where only one reading is
 * possible. One comma before three digits could part thousands or decimals: both are told.
 */
function plainNumber(text: string): Read | null {
  const t = text.replace(/(?<=\d)\s(?=\d{3}(?!\d))/g, "");
  if (/^[1-9]\d{0,2},\d{3}$/.test(t)) {
    const both = [Number(t.replace(",", "")), point(t)];
    return bad(`${t} can be read as ${both[0]} or ${both[1]}: write it without the comma`, both);
  }
  if (/^\d{1,3}(,\d{3})+(\.\d+)?$/.test(t) && /,.*[,.]/.test(t)) return good(Number(t.replaceAll(",", "")));
  if (/^\d{1,3}(\.\d{3})+,\d+$/.test(t) || /^\d{1,3}(\.\d{3}){2,}$/.test(t)) return good(point(t.replaceAll(".", "")));
  return /^(?:\d+[.,]?\d*|[.,]\d+)(?:e[-+]?\d+)?$/.test(t) ? good(point(t)) : null;
}

/** A number met in a text, before it is known what it is multiplied with. given: whether it has a unit of its own. */
interface Met {
  value: number;
  given: boolean;
}

/** What ends the reading: the text is no number, or has two meanings. */
class Stop extends Error {
  constructor(readonly read: Read) {
    super(read.wrong ?? "");
  }
}

/** Reads sums of products of numbers, brackets and units from left to right. */
class Reader {
  private at = 0;

  constructor(
    private readonly text: string,
    private readonly unit: Unit,
  ) {}

  whole(): number {
    const met = this.sum();
    if (!this.ended()) throw new Stop(none(this.unit));
    return met.value;
  }

  private ended(): boolean {
    this.take(/\s*/y);
    return this.at >= this.text.length;
  }

  /** What stands here, which is then passed. */
  private take(pattern: RegExp): RegExpExecArray | null {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text);
    if (found) this.at += found[0].length;
    return found;
  }

  private sum(): Met {
    let sign = this.take(/\s*([-+])\s*/y)?.[1] ?? "+";
    const sum: Met = { value: 0, given: false };
    for (;;) {
      const term = this.product();
      sum.value += sign === "-" ? -term.value : term.value;
      sum.given ||= term.given;
      const next = this.take(/\s*([-+])\s*/y);
      if (!next) return sum;
      sign = next[1]!;
    }
  }

  private product(): Met {
    const product = this.factor();
    for (let next = this.take(/\s*([*/])\s*/y); next; next = this.take(/\s*([*/])\s*/y)) {
      const by = this.factor();
      if (next[1] === "/" && by.given) throw new Stop(bad("Divide by a plain number, without a unit"));
      if (by.given && product.given) throw new Stop(bad("Of what is multiplied only one has a unit"));
      if (next[1] === "/" && by.value === 0) throw new Stop(bad("Nothing can be divided by 0"));
      product.value = next[1] === "/" ? product.value / by.value : product.value * by.value;
      product.given ||= by.given;
    }
    return product;
  }

  private factor(): Met {
    this.take(/\s*/y);
    if (this.take(/\(/y)) {
      const inside = this.sum();
      if (!this.take(/\s*\)/y)) throw new Stop(bad("A bracket is not closed"));
      return inside;
    }
    const value = this.number();
    const before = this.at;
    this.take(/\s*/y);
    const given = WORDS.find(([word]) => this.take(word))?.[1];
    if (given === undefined) {
      this.at = before;
      return { value, given: false };
    }
    if (given === "°" && this.unit === "°") return { value: this.minutes(value), given: true };
    const met = this.converted(value, given);
    // 12 ft 6 in and 12'6" are one length.
    if (given === "ft") {
      const inches = this.take(/\s*(\d+(?:[.,]\d+)?)\s*(?:in(?:ch(?:es)?)?\b|''|["″])/y);
      if (inches) met.value += this.converted(point(inches[1]!), "in").value;
    }
    return met;
  }

  private number(): number {
    const mixed = this.take(/(\d+)\s+(\d{1,2})\s*\/\s*(\d{1,2})(?![\d.,])/y);
    if (mixed && Number(mixed[2]) < Number(mixed[3])) return Number(mixed[1]) + Number(mixed[2]) / Number(mixed[3]);
    if (mixed) this.at -= mixed[0].length;
    const part = this.take(/(\d*)\s*([½¼¾⅓⅔⅛⅜⅝⅞])/y);
    if (part) return Number(part[1] || "0") + FRACTIONS[part[2]!]!;
    const digits = this.take(/\d{1,3}(?:\s\d{3})+(?!\d)(?:[.,]\d+)*|[\d.,]+(?:e[-+]?\d+)?/y);
    const read = digits && plainNumber(digits[0]);
    if (!read) throw new Stop(none(this.unit));
    if (read.value === null) {
      // Only what stands alone can be chosen by a click.
      const sign = this.text === `-${digits[0]}` ? -1 : 1;
      const alone = this.text.replace(/^[-+]/, "") === digits[0];
      throw new Stop({ ...read, choices: alone ? read.choices?.map((v) => sign * v) : undefined });
    }
    return read.value;
  }

  /** 12°30'15" behind its degrees. */
  private minutes(whole: number): number {
    const [minutes, seconds] = [/\s*(\d+(?:[.,]\d+)?)\s*['′]/y, /\s*(\d+(?:[.,]\d+)?)\s*["″]/y].map((p) => point(this.take(p)?.[1] ?? "0"));
    return ofDegrees(whole, minutes!, seconds!);
  }

  private converted(value: number, given: string): Met {
    const own = this.unit.split(" ")[0]!;
    if (given === own || given === this.unit) return { value, given: true };
    if (given in PER && own in PER) return { value: clean((value * PER[given]!) / PER[own]!), given: true };
    if (given === "‰" && own === "%") return { value: clean(value / 10), given: true };
    if ((given === "%" || given === "‰") && this.unit === "1 in" && value !== 0) return { value: clean((given === "%" ? 100 : 1000) / value), given: true };
    throw new Stop(bad(`${given} does not go with ${this.unit || "this field"}`));
  }
}

function ofDegrees(whole: number, minutes: number, seconds: number): number {
  if (minutes >= 60 || seconds >= 60) throw new Stop(bad("Minutes and seconds run to 59"));
  return clean(whole + minutes / 60 + seconds / 3600);
}

/** 62-30-15 and 62 30 15: degrees, minutes and seconds as a surveyor writes them. 62-30 could be a difference as well. */
function bearing(text: string): Read | null {
  const match = /^([-+]?)(\d{1,3})([-\s])(\d{1,2})(?:\3(\d{1,2}(?:[.,]\d+)?))?$/.exec(text);
  if (!match) return null;
  const sign = match[1] === "-" ? -1 : 1;
  const value = sign * ofDegrees(Number(match[2]), Number(match[4]), point(match[5] ?? "0"));
  if (match[3] !== "-" || match[5] !== undefined) return good(value);
  const difference = sign * Number(match[2]) - Number(match[4]);
  return bad(`${text} is ${match[2]} degrees ${match[4]} minutes, or a difference`, [value, difference]);
}

/** A slope written 1 in 40 or 1:40. Of a crossfall it needs its sign: without one it could rise or fall. */
function ratio(text: string, unit: Unit): Read | null {
  const match = /^([-+]?)(\d+(?:[.,]\d+)?)\s*(in|:)\s*(\d+(?:[.,]\d+)?)$/.exec(text);
  if (!match || (match[3] === "in" && match[2] !== "1")) return null;
  const [up, n] = [point(match[2]!), point(match[4]!)];
  if (unit !== "%" && unit !== "1 in") return bad(unit ? `A slope is no value in ${unit}` : "A slope is no number here");
  if (n <= 0 || up <= 0) return bad("1 in nothing is no slope");
  if (unit === "1 in" && match[1] === "-") return bad("a side slope has no sign here: cut or fill says which way");
  if (up !== 1) {
    const both = [clean(up / n), clean(n / up)];
    const words = `${up}:${n} is 1 in ${both[0]} where across comes first, 1 in ${both[1]} where up comes first`;
    return unit === "1 in" ? bad(words, both) : bad(`${words}: write 1 in`);
  }
  if (unit === "1 in") return good(n);
  const pct = clean(100 / n);
  if (match[1] === "") return bad(`Falling or rising? -1 in ${n} falls by ${Number(pct.toFixed(3))} %, +1 in ${n} rises`, [-pct, pct]);
  return good(match[1] === "-" ? -pct : pct);
}

/** What people type for one and the same: signs of minus and times, kinds of blanks, capitals. */
function plainly(text: string): string {
  return text
    .trim()
    .toLowerCase()
    .replace(/[−–﹣－]/g, "-")
    .replace(/[\u00a0\u2000-\u200a\u202f\u3000]/g, " ")
    .replace(/(?<=[\d.)]\s*)[x×·](?=\s*[\d.(])/g, "*")
    .replaceAll("÷", "/");
}

/** What a text means in a unit: one number, or a sum like 3.5 + 250mm - 2 * (0.1 + 0.2). */
export function readNumber(text: string, unit: Unit): Read {
  const plain = plainly(text);
  try {
    const slope = ratio(plain, unit) ?? (unit === "°" ? bearing(plain) : null);
    if (slope) return slope;
    if (unit.startsWith("m") && /^\d+\+\d{3}(?:[.,]\d+)?$/.test(plain)) {
      const [km, m] = plain.split("+").map(point) as [number, number];
      return bad(`${plain} looks like a chainage: as a length that is ${km * 1000 + m}, as a sum ${km + m}`, [km * 1000 + m, km + m]);
    }
    const value = new Reader(plain, unit).whole();
    return /^[-+]?[\d.,\s]+$/.test(plain) ? good(value) : good(clean(value));
  } catch (stop) {
    if (stop instanceof Stop) return stop.read;
    throw stop;
  }
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
