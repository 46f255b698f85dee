/** How survey lines are drawn: as the code list says. */
import { useMemo } from "react";
import { useDocument } from "../api/hooks";
import type { LineLook } from "./features";

export function useLook(): LineLook {
  const rules = useDocument("code_list")?.spec.rules;
  return useMemo(() => Object.fromEntries((rules ?? []).map((r) => [r.code, { colour: r.colour, width: r.width, dashed: r.dashed }])), [rules]);
}
