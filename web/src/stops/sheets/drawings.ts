/** What the pages about drawings share: words, and which drawing or issue the address names. */
import type { Schemas } from "../../api/client";
import type { DocumentOf, SpecOf } from "../../api/hooks";
import { choicesOf } from "../../common/words";

export type DrawingDoc = DocumentOf<"drawing">;
export type Style = SpecOf<"drawing_style">;
export type Sheets = Style["sheets"];
/** The settings of a kind of drawing. */
export type Of<K extends Sheets["kind"]> = Extract<Sheets, { kind: K }>;
export type Status = Schemas["IssueIn"]["status"];

/** Drawings are grouped by what they show, in this order. */
export const KINDS: Record<Sheets["kind"], string> = {
  plan: "Plan",
  long: "Long section",
  typical: "Typical cross-sections",
  sections: "Cross-sections",
  schedule: "Schedules",
  register: "Register",
};

/** Numbers of the first drawing of a kind. */
export const NUMBERS: Record<Sheets["kind"], string> = { plan: "PL", long: "LS", typical: "TS", sections: "XS", schedule: "QS", register: "RG" };

export const STATUSES = choicesOf<Status>({
  comment: "for comment",
  approval: "for approval",
  construction: "for construction",
  as_built: "as built",
});
export const statusWords = (status: string) => STATUSES.find((s) => s.value === status)?.label ?? status;

/** What the address chooses on this stop. */
export type Chosen =
  | { page: "drawings"; drawing: string | null }
  | { page: "reports"; report: string | null }
  | { page: "issues"; issue: number | null }
  | { page: "compare"; before: number; after: number };

export function chosenOf(selection: string | null): Chosen {
  const [what, a, b] = (selection ?? "").split(":");
  if (what === "compare") return { page: "compare", before: Number(a), after: Number(b ?? 0) };
  if (what === "report") return { page: "reports", report: a || null };
  if (what === "issue") return { page: "issues", issue: a ? Number(a) : null };
  return { page: "drawings", drawing: what === "drawing" && a ? a : null };
}

const FIELDS = ["from", "to", "n", "of", "number", "alignment", "project", "revision"];

/** What is wrong with words that may hold fields in braces. */
export function wrongFields(text: string): string | null {
  const unknown = [...text.matchAll(/\{([^{}]*)\}/g)].map((m) => m[1]!).find((name) => !FIELDS.includes(name));
  return unknown === undefined ? null : `There is no field {${unknown}}: use ${FIELDS.map((f) => `{${f}}`).join(", ")}`;
}

/** Titles in the register say the chainages on their sheets, so a drawing is listed without them. */
export const bareTitle = (name: string) => name.replace(/\s*\{[^}]*\}(\s*(to|of)\s*\{[^}]*\})?/g, "").trim() || name;
