/** Columns of a make-up's courses: thickness as a figure or a dimension's name, ends in words. */
import { type SpecOf } from "../../api/hooks";
import { DEFAULTS } from "../../api/defaults";
import { choices, type Column, phrases, type Told, words } from "../../common/cells/columns";
import { readWithin } from "../../common/numbers";
import { isDimensionName } from "./spec";

export type Course = SpecOf<"make_up">["courses"][number];
type End = NonNullable<Course["outer"]>;
type Coat = NonNullable<Course["coat"]>;
type Thickness = Course["thickness_mm"];

const wrong = (words: string): { value: null; wrong: string } => ({ value: null, wrong: words });

function readThickness(text: string): Told<Thickness> {
  const t = text.trim();
  if (isDimensionName(t)) return { value: t, wrong: null };
  const read = readWithin(t, "mm", { least: 0.1, most: 5000 });
  return read.value !== null ? { value: read.value, wrong: null } : wrong(`${read.wrong}, and no name of a dimension`);
}

/** A coat: its name, and how much of it, kg/m². */
function readCoat(text: string): Told<Coat> {
  const [, name, rate] = /^(.*?\S)\s+([\d.,]+)\s*(?:kg\s*\/\s*m[²2])?$/i.exec(text.trim()) ?? [];
  const read = rate === undefined ? null : readWithin(rate, "", { least: 0.01, most: 20 });
  if (name === undefined || read === null) return wrong("a name and how much of it in kg/m²: Tack coat 0.3");
  return read.value !== null ? { value: { name, rate: read.value }, wrong: null } : wrong(`${read.wrong} kg/m²`);
}

const figure = (v: number) => String(Number(v.toFixed(6)));

/** Ends of a course: the words before a figure, its unit, and how far it may go. A new one is a line here. */
const ENDS: { [K in End["kind"]]: { words: string; write: (e: Extract<End, { kind: K }>) => string; read: (figure: string) => Told<End> } } = {
  flush: { words: "upright", write: () => "", read: () => ({ value: { kind: "flush" }, wrong: null }) },
  carry: {
    words: "carried on",
    write: (e) => `${figure(e.distance)} m`,
    read: (text) => within(text || "0.2", "m", 0.001, 100, (distance) => ({ kind: "carry", distance })),
  },
  to_slope: { words: "to the slope", write: () => "", read: () => ({ value: { kind: "to_slope" }, wrong: null }) },
  under_kerb: {
    words: "under the kerb",
    write: (e) => `${figure(e.behind)} m behind`,
    read: (text) => within(text.replace(/\s*behind$/, "") || "0.15", "m", 0, 10, (behind) => ({ kind: "under_kerb", behind })),
  },
  batter: {
    words: "at a slope",
    write: (e) => `1 : ${figure(e.one_in)}`,
    read: (text) => within(text.replace(/^1\s*(?::|in)\s*/, "") || String(DEFAULTS.Batter.one_in), "1 in", 0.01, 5, (one_in) => ({ kind: "batter", one_in })),
  },
};

function within(text: string, unit: "m" | "1 in", least: number, most: number, made: (v: number) => End): Told<End> {
  const read = readWithin(text, unit, { least, most });
  return read.value !== null ? { value: made(read.value), wrong: null } : wrong(read.wrong ?? "not a number");
}

function writeEnd(end: End): string {
  const { words, write } = ENDS[end.kind];
  return `${words} ${(write as (e: End) => string)(end)}`.trim();
}

function readEnd(outer: boolean): (text: string) => Told<End> {
  const kinds = (Object.keys(ENDS) as End["kind"][]).filter((k) => outer || k !== "to_slope");
  return (text) => {
    const [, words = "", figure = ""] = /^([a-z ]*?)\s*(\d.*)?$/.exec(text.trim().toLowerCase()) ?? [];
    // The beginning of its words is enough where only one begins so.
    const [kind, other] = words ? kinds.filter((k) => ENDS[k].words.startsWith(words)) : [];
    if (!kind || other) return wrong(`“${text.trim()}” is none of ${kinds.map((k) => ENDS[k].words).join(", ")}`);
    return ENDS[kind].read(figure);
  };
}

const SUGGESTED: End[] = [{ kind: "flush" }, { kind: "carry", distance: 0.2 }, { kind: "under_kerb", behind: 0.15 }, DEFAULTS.Batter];

function ends(side: "inner" | "outer"): Column<Course> {
  const outer = side === "outer";
  return phrases<Course, End>({
    title: outer ? "Outer end" : "Inner end",
    width: 172,
    suggestions: [...SUGGESTED, ...(outer ? [{ kind: "to_slope" } as const] : [])].map(writeEnd),
    write: writeEnd,
    read: readEnd(outer),
    of: (c) => c[side],
    put: (c, end) => ({ ...c, [side]: end }),
    label: (_, i) => `${outer ? "Outer" : "Inner"} end of course ${i + 1}`,
  });
}

export function courseColumns(materials: { value: string; label: string }[]): Column<Course>[] {
  const write = (v: Thickness | null) => (v === null ? "" : typeof v === "number" ? figure(v) : v);
  return [
    words<Course>({
      title: "Course, from the top",
      width: 150,
      wrong: (text) => (text === "" ? "it needs a name" : null),
      of: (c) => c.name,
      put: (c, name) => ({ ...c, name }),
      label: (_, i) => `Name of course ${i + 1}`,
    }),
    choices<Course, string>({
      title: "Material",
      width: 150,
      options: materials,
      of: (c) => c.material,
      put: (c, material) => ({ ...c, material }),
      label: (_, i) => `Material of course ${i + 1}`,
    }),
    phrases<Course, Thickness>({
      title: "Thickness mm",
      help: "In mm, or the name of a dimension of the template",
      width: 100,
      write,
      read: readThickness,
      of: (c) => c.thickness_mm,
      put: (c, thickness_mm) => ({ ...c, thickness_mm }),
      label: (_, i) => `Thickness of course ${i + 1}`,
    }),
    phrases<Course, Thickness | null>({
      title: "Outside mm",
      help: "Thickness at the outer side where it is another one",
      width: 90,
      write,
      read: readThickness,
      empty: { value: null, words: "the same" },
      of: (c) => c.outer_thickness_mm ?? null,
      put: (c, outer_thickness_mm) => ({ ...c, outer_thickness_mm }),
      label: (_, i) => `Outer thickness of course ${i + 1}`,
    }),
    ends("inner"),
    ends("outer"),
    phrases<Course, Coat | null>({
      title: "Coat beneath",
      help: "What is sprayed on before the course is laid, in kg/m²: “Tack coat 0.3”",
      width: 130,
      suggestions: ["Tack coat 0.3", "Prime 1.2"],
      write: (coat) => (coat ? `${coat.name} ${figure(coat.rate)} kg/m²` : ""),
      read: readCoat,
      empty: { value: null, words: "none" },
      of: (c) => c.coat ?? null,
      put: (c, coat) => ({ ...c, coat }),
      label: (_, i) => `Coat beneath course ${i + 1}`,
    }),
  ];
}
