/** How many documents hold something typed that is not saved yet. */
import { useEffect, useSyncExternalStore } from "react";

const listeners = new Set<() => void>();
let open = 0;

function change(by: number): void {
  open += by;
  listeners.forEach((tell) => tell());
}

/** Counts a draft for as long as it is pending. */
export function useCounted(pending: boolean): void {
  useEffect(() => {
    if (!pending) return;
    change(1);
    return () => change(-1);
  }, [pending]);
}

export function useAnyPending(): boolean {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => open > 0,
  );
}
