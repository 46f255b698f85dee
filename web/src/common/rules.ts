/** Rules that govern the hinge's level, as a form offers them: how each begins, and which lack what they would name. */
import { useDocumentsOf } from "../api/hooks";
import { freshRule, type Governs } from "./words";

export function useRules() {
  const profiles = useDocumentsOf("profile");
  const guides = useDocumentsOf("guide");
  const lacks: Partial<Record<Governs["kind"], boolean>> = { profile: profiles.length === 0, line: guides.length === 0 };
  const fresh = (kind: Governs["kind"]) => freshRule(kind, profiles[0]?.key ?? "", guides[0]?.key ?? "");
  return { profiles, guides, fresh, lacks: (kind: Governs["kind"] | "bridge") => kind !== "bridge" && lacks[kind] === true };
}
