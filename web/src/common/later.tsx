/** Parts of a stop whose program comes when they are first shown, so that the stop itself is there sooner. */
import { type ComponentType, lazy, Suspense } from "react";

/** The part; nothing stands in its place until it is there. */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): ComponentType<P> {
  const Part = lazy(async () => ({ default: await load() }));
  return function Later(props: P) {
    return (
      <Suspense>
        <Part {...props} />
      </Suspense>
    );
  };
}
