/** A half as rows of a table, from the hinge outward, and back. */
import type { SpecOf } from "../../api/hooks";

export type Half = SpecOf<"template">["right"];
export type StripKind = Half["strips"][number]["kind"];

export interface StripRow {
  row: "strip";
  name: string;
  kind: StripKind;
  /** Name of its outer point. */
  point: string;
  width: number;
  level: { kind: "turns" } | { kind: "fall"; pct: number } | { kind: "rise"; rise: number };
  new: string;
  overExisting: string | null;
}

export interface KerbRow {
  row: "kerb";
  name: string;
  profile: string;
}

export type Row = StripRow | KerbRow;

/** The rows, or null when a half has ties that the table does not show. lastVertex: name of a kerb profile's back. */
export function rowsOf(half: Half, lastVertex: (profile: string) => string): Row[] | null {
  const rows: Row[] = [];
  let here = "hinge";
  for (;;) {
    const kerb = half.kerbs.find((k) => k.at === here);
    if (kerb) {
      rows.push({ row: "kerb", name: kerb.name, profile: kerb.profile });
      here = `${kerb.name}.${lastVertex(kerb.profile)}`;
      continue;
    }
    const strip = half.strips.find((s) => s.from_point === here);
    if (!strip) break;
    const point = half.points.find((p) => p.name === strip.to_point);
    if (!point || point.offset.kind !== "width" || point.offset.parent !== here || point.level.parent !== here) return null;
    rows.push({
      row: "strip",
      name: strip.name,
      kind: strip.kind,
      point: point.name,
      width: point.offset.width,
      level: point.level.kind === "rise" ? { kind: "rise", rise: point.level.rise } : point.level.crossfall_pct === null ? { kind: "turns" } : { kind: "fall", pct: point.level.crossfall_pct },
      new: strip.new,
      overExisting: strip.over_existing ?? null,
    });
    here = strip.to_point;
  }
  return rows.length === half.strips.length + half.kerbs.length ? rows : null;
}

export function halfOf(rows: Row[], ladder: Half["ladder"], lastVertex: (profile: string) => string): Half {
  const half: Half = { points: [], strips: [], kerbs: [], ladder };
  let here = "hinge";
  for (const r of rows) {
    if (r.row === "kerb") {
      half.kerbs.push({ name: r.name, profile: r.profile, at: here });
      here = `${r.name}.${lastVertex(r.profile)}`;
      continue;
    }
    half.points.push({
      name: r.point,
      offset: { kind: "width", parent: here, width: r.width },
      level: r.level.kind === "rise" ? { kind: "rise", parent: here, rise: r.level.rise } : { kind: "fall", parent: here, crossfall_pct: r.level.kind === "turns" ? null : r.level.pct },
    });
    half.strips.push({ name: r.name, kind: r.kind, from_point: here, to_point: r.point, new: r.new, over_existing: r.overExisting });
    here = r.point;
  }
  return half;
}

/** A name that none of the rows has yet. */
export function freeName(wish: string, rows: Row[]): string {
  const taken = new Set(rows.flatMap((r) => (r.row === "strip" ? [r.name, r.point] : [r.name])));
  let name = wish;
  for (let i = 2; taken.has(name); i++) name = `${wish}${i}`;
  return name;
}
