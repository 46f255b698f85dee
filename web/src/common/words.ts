/**
 * Choices of a document's field as the schema has them: a table with the words for every value, in the order they are offered.
 * A value that the schema gets and the table lacks fails the type check.
 */
import { DEFAULTS } from "../api/defaults";
import type { SpecOf } from "../api/hooks";

export function choicesOf<K extends string>(words: Record<K, string>): { value: K; label: string }[] {
  return (Object.keys(words) as K[]).map((value) => ({ value, label: words[value] }));
}

type Work = SpecOf<"treatments">["ranges"][number]["work"];
type Overlay = Extract<Work, { kind: "overlay" }>;

/** What sets the level of the hinge. */
export type Governs = Overlay["governs"];
export const GOVERNS: Record<Governs["kind"], string> = {
  cover: "Cover",
  edges: "Edges",
  level_table: "Level table",
  profile: "Profile",
  line: "Level of a guide",
  kerb_to_kerb: "Kerb to kerb",
};

/** A rule as it begins. profile, guide: keys of the first ones that there are. */
export function freshRule(kind: Governs["kind"], profile: string, guide: string): Governs {
  switch (kind) {
    case "profile":
      return { ...DEFAULTS.ProfileGoverns, profile };
    case "line":
      return { ...DEFAULTS.LineGoverns, guide };
    case "kerb_to_kerb":
      return DEFAULTS.KerbToKerb;
    default:
      return { kind };
  }
}

/** Where a crossfall comes from. */
export const FALLS: Record<Overlay["left_crossfall"]["by"], string> = { given: "Given", measured: "Measured", table: "Adopted" };

export function freshFall(by: Overlay["left_crossfall"]["by"]): Overlay["left_crossfall"] {
  return by === "given" ? DEFAULTS.GivenCrossfall : { by };
}
