/** Edits of the survey by hand: each is one more step on what the imports hold. */
import type { Schemas } from "../../api/client";
import { type SpecOf, useDocument } from "../../api/hooks";
import { useSteps } from "../../api/save";

export type Edit = SpecOf<"survey">["edits"][number];
type PointEdit = Extract<Edit, { by: "point" }>;
export type Point = Schemas["FoundPoint"];

type InUse = SpecOf<"survey">;

/** The survey in use as it is saved, and how it is changed: null when it was refused. */
export function useSurveyInUse() {
  const step = useSteps("survey");
  const write = (next: (now: InUse) => Partial<InUse>) => step((now) => (now ? { ...now, ...next(now) } : null));
  return {
    spec: useDocument("survey")?.spec,
    write,
    add: (edit: Edit) => write((now) => ({ edits: withEdit(now.edits, edit) })),
    remove: (which: number) => write((now) => ({ edits: now.edits.filter((_, i) => i !== which) })),
  };
}

/** One more edit; of the point that was edited last the two are one. */
export function withEdit(edits: Edit[], edit: Edit): Edit[] {
  const last = edits.at(-1);
  const again = edit.by === "point" && last?.by === "point" && last.of.number === edit.of.number && last.of.code === edit.of.code && last.code == null;
  return again ? [...edits.slice(0, -1), { ...last, ...given(edit) }] : [...edits, edit];
}

const given = (edit: PointEdit) => Object.fromEntries(Object.entries(edit).filter(([, v]) => v != null)) as PointEdit;

/** Lines of a code, the nearest first, with how far the point or their nearest end is, m. */
export function nearestLines(lines: Schemas["LineOut"][], code: string, from: number[][], ends: boolean): { name: string; apart: number }[] {
  return lines
    .filter((l) => l.code === code)
    .map((l) => {
      const to = ends ? [l.points[0]!, l.points.at(-1)!] : l.points;
      return { name: l.name, apart: Math.min(...to.flatMap((p) => from.map((q) => Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!)))) };
    })
    .sort((a, b) => a.apart - b.apart);
}

/** A name that no line of a code has: the least free number. */
export function freeName(lines: Schemas["LineOut"][], code: string): string {
  const taken = new Set(lines.filter((l) => l.code === code).map((l) => l.name));
  let k = 1;
  while (taken.has(String(k))) k += 1;
  return String(k);
}
