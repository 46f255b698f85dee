/** From where to where a guide runs, as far as its document says: null where the road decides. */
import type { SpecOf } from "../../api/hooks";

export function extentOf({ source }: Pick<SpecOf<"guide">, "source">): { from: number; to: number } | null {
  if (source.by !== "pieces") return null;
  let [at, offset] = [source.start_chainage, source.start_offset];
  for (const piece of source.pieces) {
    const to = piece.kind === "taper" ? piece.to_offset : offset;
    at = piece.end.by === "chainage" ? piece.end.chainage : at + (piece.end.by === "length" ? piece.end.length : piece.end.one_in * Math.abs(to - offset));
    offset = to;
  }
  return at > source.start_chainage ? { from: source.start_chainage, to: at } : null;
}
