/** What the visible stepping controls share with the keys. */
import { useSyncExternalStore } from "react";

const listeners = new Set<() => void>();
let playing = false;

export const stepping = {
  play: () => {},
  goToDialog: () => {},
  setPlaying(now: boolean) {
    playing = now;
    listeners.forEach((tell) => tell());
  },
};

export function usePlaying(): boolean {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => playing,
  );
}
