/** From where to where a guide runs, as far as its document says: null where the road decides. */
import type { SpecOf } from "../../api/hooks";
import { layPieces } from "./hooks";

export function extentOf({ source }: Pick<SpecOf<"guide">, "source">): { from: number; to: number } | null {
  if (source.by !== "pieces") return null;
  const to = layPieces(source).at(-1)?.end ?? source.start_chainage;
  return to > source.start_chainage ? { from: source.start_chainage, to } : null;
}
