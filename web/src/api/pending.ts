/** How many documents hold something typed that is not saved yet. */
import { useEffect } from "react";
import { createStore } from "../common/store";

const open = createStore(0);

/** Counts a draft for as long as it is pending. */
export function useCounted(pending: boolean): void {
  useEffect(() => {
    if (!pending) return;
    open.set(open.get() + 1);
    return () => open.set(open.get() - 1);
  }, [pending]);
}

export function useAnyPending(): boolean {
  return open.use((count) => count > 0);
}
