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
