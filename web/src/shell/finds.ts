/** What the box at the top finds: what a project holds, by its name, with where it is worked on. One line here for another kind. */
import { capital } from "../api/client";
import type { AnyDocument, Summary } from "../api/hooks";
import { OF_ROAD } from "../api/kinds";
import { chainageText } from "../base/chainage";
import { stops } from "./stops";
import { isOpen } from "../common/Problems";

export interface Find {
  /** Unlike any other. */
  id: string;
  label: string;
  /** Where it leads: a stop, with what is selected there, or a chainage, or both. */
  stop?: string;
  selection?: string;
  chainage?: number;
  /** Of which road it is, where not of the one that is worked on. */
  road?: string;
}

/** Fields that are asked for by their name, and the stop that holds them. */
const FIELDS: [name: string, stop: string][] = [
  ["Least cover", "overlay"],
  ["What governs the levels", "overlay"],
  ["Saw cut", "overlay"],
  ["Milling", "overlay"],
  ["Tie to the old road", "overlay"],
  ["Design speed", "alignment"],
  ["Best fit through surveyed lines", "alignment"],
  ["Intersection points", "alignment"],
  ["Chainage equation", "alignment"],
  ["Section interval", "sections"],
  ["Remarks", "sections"],
  ["Best levels", "levels"],
  ["Standards", "crossfall"],
  ["Superelevation", "crossfall"],
  ["Code list", "survey"],
  ["Breaklines", "survey"],
  ["Import a survey", "survey"],
  ["Library", "templates"],
  ["Masses and volumes", "quantities"],
  ["Cross-section sheets", "sheets"],
  ["Title block", "sheets"],
  ["Register of drawings", "sheets"],
  ["Issue drawings", "sheets"],
];

/** A template's halves, with the points, strips, kerbs, floors and rungs of each. */
function ofTemplate(d: Extract<AnyDocument, { kind: "template" }>): Find[] {
  const halves = (["right", "left"] as const).flatMap((side) => (d.spec[side] ? [{ side, half: d.spec[side] }] : []));
  return halves.flatMap(({ side, half }) =>
    (
      [
        ["point", half.points],
        ["strip", half.strips],
        ["kerb", half.kerbs],
        ["floor", half.floors],
        ["rung", half.ladder],
      ] as const
    ).flatMap(([kind, parts]) =>
      parts.map((part): Find => {
        const selection = `template:${d.key}/${kind}/${side}/${part.name}`;
        return { id: selection, label: `${capital(kind)} ${part.name} of “${d.spec.name}”${d.spec.left ? `, ${side}` : ""}`, stop: "templates", selection };
      }),
    ),
  );
}

/** The road whose document it is: null for what all of them share; of what lies along an alignment the first road on it. */
function roadOf(d: AnyDocument, roads: Extract<AnyDocument, { kind: "road" }>[], here: string): string | null {
  if (d.kind === "section_lines" || d.kind === "drawing") return d.spec.road;
  if (d.kind === "road" || OF_ROAD.has(d.kind)) return d.key;
  const alignment = d.kind === "alignment" ? d.key : d.kind === "guide" || d.kind === "profile" ? d.spec.alignment : null;
  const on = roads.filter((r) => r.spec.alignment === alignment);
  return on.some((r) => r.key === here) ? here : (on[0]?.key ?? null);
}

function ofDocument(d: AnyDocument): Find[] {
  const named = (label: string, stop: string, selection?: string): Find => ({ id: `${d.kind} ${d.key}`, label, stop, selection });
  switch (d.kind) {
    case "road":
      return [{ id: `road ${d.key}`, label: `Road “${d.spec.name}”` }];
    case "template":
      return [named(`Template “${d.spec.name}”`, "templates", `template:${d.key}`), ...ofTemplate(d)];
    case "make_up":
      return [
        named(`Make-up “${d.spec.name}”`, "templates", `make_up:${d.key}`),
        ...d.spec.courses.map((c, i): Find => ({
          id: `course ${d.key} ${i}`,
          label: `Course ${c.name} of “${d.spec.name}”`,
          stop: "templates",
          selection: `make_up:${d.key}`,
        })),
      ];
    case "median":
      return [named(`Median “${d.spec.name}”`, "templates", `median:${d.key}`)];
    case "kerb":
      return [named(`Kerb “${d.spec.name}”`, "templates", `kerb:${d.key}`)];
    case "material":
      return [named(`Material “${d.spec.name}”`, "templates", `material:${d.key}`)];
    case "guide":
      return [named(`Guide “${d.spec.name}”`, "guides", d.key)];
    case "alignment":
      return [named(`Alignment “${d.spec.name}”`, "alignment")];
    case "profile":
      return [named(`Profile “${d.spec.name}”`, "levels", `profile:${d.key}:0`)];
    case "surface":
      return [named(`Surface “${d.spec.name}”`, "survey")];
    case "section_lines":
      return [
        named(`Section lines “${d.spec.name}”`, "sections", `lines:${d.key}:0`),
        ...d.spec.lines.flatMap((line, i): Find[] =>
          line.name
            ? [{ id: `line ${d.key} ${i}`, label: `Section line ${line.name} of “${d.spec.name}”`, stop: "sections", selection: `lines:${d.key}:${i}` }]
            : [],
        ),
      ];
    case "drawing":
      return [named(`Drawing ${d.spec.number} “${d.spec.name}”`, "sheets", `drawing:${d.key}`)];
    case "report":
      return [named(`Report “${d.spec.name}”`, "sheets", `report:${d.key}`)];
    case "code_list":
      return d.spec.rules.map((r): Find => ({ id: `code ${r.code}`, label: `Survey code ${r.code}`, stop: "survey" }));
    case "remarks":
      return d.spec.remarks.map((r, i): Find => ({ id: `remark ${i}`, label: `Remark “${r.text}”`, stop: "sections", chainage: r.from_chainage }));
    case "treatments":
      return d.spec.ranges.map((r, i): Find => ({
        id: `treatment ${i}`,
        label: `${capital(r.work.kind)} ${chainageText(r.from_chainage, 0)} to ${chainageText(r.to_chainage, 0)}`,
        stop: "overlay",
        chainage: r.from_chainage,
      }));
    default:
      return [];
  }
}

interface Found {
  problems: Summary["problems"];
  /** Pits and pipes with where they lie along the road. */
  structures: { name: string; chainage: number }[];
  surveyed: { code: string; name: string }[];
  points: { number: string; code: string; level: number }[];
}

/** All that can be found. */
export function findsOf(documents: AnyDocument[], here: string, { problems, structures, surveyed, points }: Found): Find[] {
  const roads = documents.filter((d): d is Extract<AnyDocument, { kind: "road" }> => d.kind === "road");
  return [
    ...stops.map((s): Find => ({ id: `stop ${s.path}`, label: `Stop ${s.title}`, stop: s.path })),
    ...FIELDS.map(([name, stop]): Find => ({ id: `field ${name}`, label: `${name}: ${stops.find((s) => s.path === stop)!.title}`, stop })),
    ...documents.flatMap((d) => {
      const road = roadOf(d, roads, here);
      if (road === null || road === here || d.kind === "drawing") return ofDocument(d);
      const name = roads.find((r) => r.key === road)?.spec.name;
      return ofDocument(d).map((found) => ({
        ...found,
        id: `${found.id} of ${road}`,
        road,
        label: d.kind === "road" ? found.label : `${found.label}, ${name}`,
      }));
    }),
    ...structures.map((s, i): Find => ({ id: `structure ${i}`, label: `Structure ${s.name}`, chainage: s.chainage })),
    ...surveyed.map((l): Find => ({
      id: `surveyed ${l.code} ${l.name}`,
      label: `Surveyed line ${l.code} ${l.name}`,
      stop: "survey",
      selection: `surveyed:${l.code} ${l.name}`,
    })),
    ...points.map((p): Find => ({
      id: `point ${p.number}`,
      label: `Survey point ${p.number} ${p.code}, level ${p.level.toFixed(3)}`,
      stop: "survey",
      selection: `point:${p.number}`,
    })),
    ...problems
      .filter(isOpen)
      .map((p, i): Find => ({ id: `problem ${i}`, label: `Problem at ${chainageText(p.chainage_from, 0)}: ${p.message}`, chainage: p.chainage_from })),
  ];
}
