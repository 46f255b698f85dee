/** Where the person is: stop, chainage, range and selection, all in the address. */
import { useCallback, useMemo } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useSummary } from "../api/hooks";
import { nearestSection } from "./nearest";

export interface Range {
  from: number;
  to: number;
}

export interface Place {
  /** Row of the current section, -1 before the road is solved. */
  index: number;
  chainage: number;
  range: Range | null;
  selection: string | null;
  goTo: (index: number) => void;
  /** So many sections on, from where the address says one is, which is ahead of what is rendered. */
  step: (by: number) => void;
  goToChainage: (chainage: number) => void;
  /** Marks a range, or changes one end of it, or drops it. */
  mark: (range: Partial<Range> | null) => void;
  select: (selection: string | null) => void;
}

export function usePlace(): Place {
  const [search] = useSearchParams();
  // Unlike what sets the search, it is the same from step to step.
  const navigate = useNavigate();
  const summary = useSummary().data;
  const at = Number(search.get("at") ?? "0");
  const side = Number(search.get("side") ?? "0");
  const from = search.get("from");
  const to = search.get("to");
  const index = useMemo(() => nearestSection(summary?.chainage ?? [], summary?.side ?? [], at, side), [summary, at, side]);
  const range = useMemo(() => (from !== null && to !== null ? { from: Number(from), to: Number(to) } : null), [from, to]);
  const set = useCallback(
    (values: Record<string, string | null>) => {
      // From the address itself, which is ahead of what is rendered while a step is under way.
      const next = new URLSearchParams(window.location.search);
      for (const [key, value] of Object.entries(values)) {
        if (value === null) next.delete(key);
        else next.set(key, value);
      }
      void navigate({ search: next.toString() }, { replace: true });
    },
    [navigate],
  );
  const goTo = useCallback(
    (row: number) => {
      if (!summary?.chainage.length) return;
      const i = Math.max(0, Math.min(summary.chainage.length - 1, row));
      set({ at: summary.chainage[i]!.toFixed(3), side: summary.side[i] ? String(summary.side[i]) : null });
    },
    [summary, set],
  );
  const step = useCallback(
    (by: number) => {
      const now = new URLSearchParams(window.location.search);
      goTo(nearestSection(summary?.chainage ?? [], summary?.side ?? [], Number(now.get("at") ?? "0"), Number(now.get("side") ?? "0")) + by);
    },
    [summary, goTo],
  );
  const goToChainage = useCallback((c: number) => set({ at: c.toFixed(3), side: null }), [set]);
  const mark = useCallback(
    (r: Partial<Range> | null) =>
      set(
        r === null
          ? { from: null, to: null }
          : { ...(r.from !== undefined && { from: r.from.toFixed(3) }), ...(r.to !== undefined && { to: r.to.toFixed(3) }) },
      ),
    [set],
  );
  const select = useCallback((s: string | null) => set({ sel: s }), [set]);
  return { index, chainage: summary?.chainage[index] ?? at, range, selection: search.get("sel"), goTo, step, goToChainage, mark, select };
}
