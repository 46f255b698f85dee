/** A value that the whole page shares, outside of React. */
import { useSyncExternalStore } from "react";

export interface Store<T> {
  get: () => T;
  set: (next: T) => void;
  /** Called after every change; returns what ends that. */
  subscribe: (tell: () => void) => () => void;
  /** The value, or what is taken out of it, rendered anew when that changes. */
  use: <R>(take: (value: T) => R) => R;
}

export function createStore<T>(value: T): Store<T> {
  const listeners = new Set<() => void>();
  let now = value;
  const subscribe = (tell: () => void) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  };
  return {
    get: () => now,
    set: (next) => {
      now = next;
      listeners.forEach((tell) => tell());
    },
    subscribe,
    use: (take) => useSyncExternalStore(subscribe, () => take(now)),
  };
}

/** A value that the browser keeps for the person, across reloads. */
export function keptStore<T>(name: string, first: T): Store<T> {
  let kept = first;
  try {
    kept = (JSON.parse(localStorage.getItem(name) ?? "null") as T | null) ?? first;
  } catch {
    // What cannot be read is begun anew.
  }
  const store = createStore(kept);
  return {
    ...store,
    set: (next) => {
      store.set(next);
      try {
        localStorage.setItem(name, JSON.stringify(next));
      } catch {
        // A browser that keeps nothing forgets it when the page is closed.
      }
    },
  };
}
