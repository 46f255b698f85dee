/** Made by bin/schema from the registry of documents. */
import type { Kind } from "./hooks";

/** The road and the alignment that a project begins with, and what it has exactly one of. */
export const MAIN = "main";
/** Of these kinds every road has exactly one, under the road's key. */
export const OF_ROAD: ReadonlySet<Kind> = new Set<Kind>([
  "sections",
  "treatments",
  "template_plan",
  "follow",
  "crossfalls",
  "levels",
  "milling",
  "remarks",
  "left_problems",
  "variants",
]);
