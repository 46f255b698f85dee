/** Guides: documents, what is drawn of them, and what points follow. */
import { api, dataOf } from "../../api/client";
import { type DocumentOf, type SpecOf, useModel } from "../../api/hooks";

export type Guide = SpecOf<"guide">;
export type GuideDocument = DocumentOf<"guide">;
export type Source = Guide["source"];
export type PiecesSource = Extract<Source, { by: "pieces" }>;
export type Piece = PiecesSource["pieces"][number];
export type Rule = NonNullable<SpecOf<"follow">["rules"]>[number];

export function useDiagram() {
  return useModel("guide-diagram", async (of) => dataOf(await api.GET("/api/projects/{project_id}/guides/diagram", { params: of })));
}

export function useFollowed() {
  return useModel("followed", async (of) => dataOf(await api.GET("/api/projects/{project_id}/guides/followed", { params: of })));
}

/** Where each piece ends, by the same rules as the core; only to know what a drag means before it is sent. */
export function layPieces(source: PiecesSource): { start: number; end: number; from: number; to: number }[] {
  let [chainage, offset] = [source.start_chainage, source.start_offset];
  return source.pieces.map((p) => {
    const to = p.kind === "hold" ? offset : p.to_offset;
    const end = p.end.by === "chainage" ? p.end.chainage : p.end.by === "length" ? chainage + p.end.length : chainage + p.end.one_in * Math.abs(to - offset);
    const laid = { start: chainage, end, from: offset, to };
    [chainage, offset] = [end, to];
    return laid;
  });
}

/** Pieces after the joint behind piece `i` (-1: the start) was dragged to a chainage and offset. */
export function dragJoint(source: PiecesSource, i: number, chainage: number, offset: number): PiecesSource {
  if (i < 0) return { ...source, start_chainage: chainage, start_offset: source.pieces[0]?.kind === "hold" ? offset : source.start_offset };
  const laid = layPieces(source);
  const piece = source.pieces[i]!;
  const start = laid[i]!.start;
  const along = Math.max(chainage - start, 0.01);
  const to = piece.kind === "taper" ? offset : laid[i]!.to;
  const rise = Math.abs(to - laid[i]!.from);
  const end =
    piece.end.by === "chainage"
      ? { ...piece.end, chainage: start + along }
      : piece.end.by === "length"
        ? { ...piece.end, length: along }
        : { ...piece.end, one_in: rise > 1e-6 ? along / rise : piece.end.one_in };
  const moved = (piece.kind === "taper" ? { ...piece, to_offset: offset, end } : { ...piece, end }) as Piece;
  return { ...source, pieces: source.pieces.map((p, j) => (j === i ? moved : p)) };
}
