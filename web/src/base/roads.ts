/** Going from one road to another: it stands in the address, and what is said there of a place on the road is left behind. */
import { useCallback } from "react";
import { useNavigate } from "react-router";
import { MAIN } from "../api/kinds";

/** What an address says of a place on a road. */
const OF_PLACE = ["at", "side", "from", "to", "sel"];

/** The search of an address with another road. */
export function searchOfRoad(search: string, road: string): string {
  const next = new URLSearchParams(search);
  if ((next.get("road") ?? MAIN) === road) return next.toString();
  OF_PLACE.forEach((name) => next.delete(name));
  if (road === MAIN) next.delete("road");
  else next.set("road", road);
  return next.toString();
}

/** Goes to a road, at a stop or at the one that is shown. */
export function useGoToRoad(): (road: string, stop?: string) => void {
  const navigate = useNavigate();
  return useCallback(
    (road, stop) => {
      const { pathname, search } = window.location;
      const [, p, project, now] = pathname.split("/");
      void navigate({ pathname: `/${p}/${project}/${stop ?? now ?? ""}`, search: searchOfRoad(search, road) });
    },
    [navigate],
  );
}
