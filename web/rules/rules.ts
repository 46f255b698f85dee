/** The rules that the tests ask, by name: a line [name, arguments] in, {value} or {wrong} out. */
import { createInterface } from "node:readline";
import { begin, type Event, type State, step } from "../src/api/draft";
import { chainageText, readChainage, setEquations } from "../src/base/chainage";
import { nearestSection } from "../src/base/nearest";
import { between } from "../src/common/between";
import { type Area, cellsOf, headOf, planPaste, textOf } from "../src/common/cells/block";
import * as kinds from "../src/common/cells/columns";
import { FORMS, readNumber, readWithin, type Unit } from "../src/common/numbers";
import { signed } from "../src/common/signed";
import { insertedAt, jointsOf } from "../src/stops/templates/insert";
import { type Course, courseColumns } from "../src/stops/templates/courses";

type Rows = Record<string, unknown>[];
/** A column as a test describes it. */
type Described = { key: string; unit?: Unit; optional?: boolean; chainage?: boolean; options?: string[]; shown?: boolean };

function columnOf({ key, unit, optional, chainage, options, shown }: Described): kinds.Column<Rows[number]> {
  const given = { title: key, key, of: (r: Rows[number]) => r[key] as never, put: (r: Rows[number], v: unknown) => ({ ...r, [key]: v }), label: () => key };
  if (chainage) return kinds.chainages(given);
  if (shown) return kinds.shown({ title: key, key, of: (r) => String(r[key]) });
  if (options) return kinds.choices({ ...given, options: options.map((o) => ({ value: o, label: o })) });
  if (unit === undefined) return kinds.words(given);
  return optional ? kinds.numbersOrNone({ ...given, unit, none: "none" }) : kinds.numbers({ ...given, unit });
}

const RULES: Record<string, (...given: never[]) => unknown> = {
  readNumber,
  readWithin,
  forms: (unit: Unit) => FORMS[unit],
  readChainage: (text: string, equations: never[]) => (setEquations(equations), readChainage(text)),
  chainageText: (chainage: number, decimals: number, equations: never[]) => (setEquations(equations), chainageText(chainage, decimals)),
  nearestSection,
  draftStep: (state: State<unknown> | null, event: Event<unknown>) => step(state ?? begin(), event),
  between: (chainage: number[], values: (number | null)[], at: number[]) => at.map(between(chainage, values)),
  signed,
  cellsOf,
  copied: (rows: Rows, columns: Described[], heads: boolean) => {
    const made = columns.map(columnOf);
    return (heads ? `${headOf(made)}\n` : "") + textOf(rows, made);
  },
  pasted: (rows: Rows, columns: Described[], text: string, at: { row: number; col: number }, keyed?: string, mayGrow = true) => {
    const made = columns.map(columnOf);
    const fresh = () => Object.fromEntries(columns.map((c) => [c.key, c.chainage || c.unit !== undefined ? 0 : ""]));
    setEquations([]);
    return planPaste({ rows, columns: made, keyed, fresh: mayGrow ? fresh : undefined }, cellsOf(text), { min: at, max: at });
  },
  /** A course after every cell was written out and read again, and what is wrong. */
  courseAgain: (course: Course) => {
    let again = { ...course, name: "", inner: { kind: "flush" }, outer: { kind: "flush" }, coat: null } as Course;
    const wrong: string[] = [];
    courseColumns([{ value: course.material, label: "Gravel" }]).forEach((column) => {
      const text = column.kind.copy(column.of(course, 0));
      const read = text === "" && column.kind.empty ? { value: column.kind.empty.value, wrong: null } : column.kind.read(text);
      if (read.wrong !== null) wrong.push(read.wrong);
      else again = column.put!(again, read.value, 0);
    });
    return { again, wrong };
  },
  joints: jointsOf,
  insertedAt,
  readCoat: (text: string) => courseColumns([]).at(-1)!.kind.read(text),
  pastedInto: (rows: Rows, columns: Described[], text: string, at: Area) => planPaste({ rows, columns: columns.map(columnOf) }, cellsOf(text), at),
};

for await (const line of createInterface({ input: process.stdin })) {
  const [name, given] = JSON.parse(line) as [string, never[]];
  let answer: unknown;
  try {
    const value = RULES[name]!(...given);
    answer = { value: value ?? null };
  } catch (error) {
    answer = { wrong: String(error) };
  }
  process.stdout.write(`${JSON.stringify(answer)}\n`);
}
