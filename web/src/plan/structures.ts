/** Pits and pipes as the plan draws them. */
import { useMemo } from "react";
import { useDocument } from "../api/hooks";

export function useStructureMarks() {
  const spec = useDocument("structures")?.spec;
  return useMemo(
    () => [
      ...(spec?.pits ?? []).map((p) => ({ name: p.name, kind: "pit" as const, points: [[p.east, p.north]] })),
      ...(spec?.pipes ?? []).map((p) => ({ name: p.name, kind: "pipe" as const, points: p.points.map((q) => [q.east, q.north]) })),
    ],
    [spec],
  );
}
