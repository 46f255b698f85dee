/** Section lines as the server speaks of them, and words for them. */
import { api, dataOf, type Schemas } from "../../api/client";
import { type SpecOf, useModel } from "../../api/hooks";
import { chainageText } from "../../base/chainage";

export type LineGroup = SpecOf<"section_lines">;
export type Line = LineGroup["lines"][number];
export type PlacedGroup = Schemas["PlacedGroup"];
export type PlacedLine = Schemas["PlacedLine"];
export type LineView = Schemas["LineView"];
export type Widths = LineGroup["widths"];

export const KINDS: Record<Line["kind"], string> = {
  regular: "At an interval",
  at: "At a chainage",
  path: "Along a path",
  structure: "At a structure",
  run: "Between structures",
};

export function useLineGroups() {
  return useModel("lines", async (of) => dataOf(await api.GET("/api/projects/{project_id}/lines", { params: of })) as PlacedGroup[]);
}

/** The road along a line; nothing while there is no such line. */
export function useLine(key: string, part: number, surfaces: string[], there: boolean) {
  return useModel(
    "line",
    async (of) =>
      dataOf(
        await api.GET("/api/projects/{project_id}/lines/{key}/parts/{part}", { params: { path: { ...of.path, key, part }, query: { surfaces, ...of.query } } }),
      ) as LineView,
    [key, part, surfaces],
    there,
  );
}

/** A skew as people say it: "square", "12.50° right of square". */
export function angleText(angle: number | null): string {
  if (angle === null) return "";
  if (Math.abs(angle) < 5e-4) return "square";
  return `${Math.abs(angle).toFixed(3).replace(/0+$/, "").replace(/\.$/, "")}° ${angle > 0 ? "right" : "left"} of square`;
}

/** What a line that came out of a group is called. */
export function titleOf(line: { kind: string; name: string; chainage: number | null; angle_deg: number | null }): string {
  const where = line.chainage === null ? "" : chainageText(line.chainage);
  const how = line.kind === "path" ? "path" : line.kind === "run" ? "run" : line.angle_deg ? angleText(line.angle_deg) : "";
  return [line.name, where, how].filter(Boolean).join(", ");
}

/** What a line of the document is called in the list. */
export function lineTitle(line: Line): string {
  switch (line.kind) {
    case "regular":
      return `${line.name ? `${line.name}, ` : ""}every ${line.interval} m, ${chainageText(line.from_chainage, 0)} to ${chainageText(line.to_chainage, 0)}`;
    case "at":
      return [line.name, chainageText(line.chainage), line.angle_deg ? angleText(line.angle_deg) : ""].filter(Boolean).join(", ");
    case "path":
      return [line.name || "Path", `${line.points.length} corners`].join(", ");
    case "structure":
      return [line.name, `at ${line.structure}`].filter(Boolean).join(", ");
    case "run":
      return [line.name, `${line.first} to ${line.last}`].filter(Boolean).join(", ");
  }
}

/** Which part of which group is chosen, in the address: "lines:key:part". */
export function chosenOf(selection: string | null): { key: string; part: number } | null {
  const [what, key, part] = (selection ?? "").split(":");
  return what === "lines" ? { key: key ?? "", part: Number(part ?? "0") || 0 } : null;
}
