/** A function that stays the same while what it does follows what is shown: for parts that are not to be rendered anew with their whole. */
import { useCallback, useLayoutEffect, useRef } from "react";

export function useStable<A extends unknown[], R>(act: (...given: A) => R): (...given: A) => R {
  const now = useRef(act);
  useLayoutEffect(() => {
    now.current = act;
  });
  return useCallback((...given: A) => now.current(...given), []);
}
