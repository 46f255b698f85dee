/** Guides: documents, what is drawn of them, and what points follow. */
import { api, dataOf, type Schemas } from "../../api/client";
import { type DocumentOf, type SpecOf, useModel } from "../../api/hooks";
import { nearestSection } from "../../base/nearest";

export type Guide = SpecOf<"guide">;
export type GuideDocument = DocumentOf<"guide">;
export type Source = Guide["source"];
export type PiecesSource = Extract<Source, { by: "pieces" }>;
export type Piece = PiecesSource["pieces"][number];
type Drawn = Schemas["GuideOut"] | undefined;
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
function dragJoint(source: PiecesSource, i: number, chainage: number, offset: number): PiecesSource {
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

/** The pieces of a guide that are dragged in the diagram: its own, or the first by which it is wider than the line beneath. */
function dragged({ source }: Guide): { pieces: PiecesSource; part: number | null } | null {
  if (source.by === "pieces") return { pieces: source, part: null };
  if (source.by !== "parts") return null;
  const part = source.parts.findIndex((p) => p.by === "pieces");
  return part < 0 ? null : { pieces: source.parts[part] as PiecesSource, part };
}

/** Where the line beneath a part lies, and which way it is wider. */
function beneath(spec: Guide, part: number | null, drawn: Drawn): (chainage: number, width: number) => number {
  const out = spec.side === "left" ? -1 : 1;
  const step = part === null ? undefined : drawn?.steps[part];
  if (!drawn || !step) return (_, offset) => offset;
  return (chainage, width) => (step[nearestSection(drawn.chainage, [], chainage, 0)] ?? 0) + out * width;
}

/** Start and ends of the pieces as they lie in the diagram. */
export function jointsOf(spec: Guide, drawn: Drawn): { chainage: number; offset: number }[] | null {
  const found = dragged(spec);
  if (!found || (found.part !== null && !drawn)) return null;
  const at = beneath(spec, found.part, drawn);
  const { start_chainage, start_offset } = found.pieces;
  const places = [[start_chainage, start_offset] as const, ...layPieces(found.pieces).map((s) => [s.end, s.to] as const)];
  return places.map(([chainage, offset]) => ({ chainage, offset: at(chainage, offset) }));
}

/** The guide after the joint behind piece `i` (-1: the start) was dragged to a chainage and offset. */
export function withJoint(spec: Guide, drawn: Drawn, i: number, chainage: number, offset: number): Guide {
  const found = dragged(spec);
  if (!found) return spec;
  if (found.part === null) return { ...spec, source: dragJoint(found.pieces, i, chainage, offset) };
  const base = beneath(spec, found.part, drawn)(chainage, 0);
  const width = Math.round((spec.side === "left" ? base - offset : offset - base) * 100) / 100;
  const moved = dragJoint(found.pieces, i, chainage, width);
  const source = spec.source as Extract<Source, { by: "parts" }>;
  return { ...spec, source: { ...source, parts: source.parts.map((p, k) => (k === found.part ? moved : p)) } };
}
