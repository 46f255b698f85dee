/** What the visible stepping controls share with the keys. */
import { createStore, keptStore } from "../common/store";

const playing = createStore(false);

/** Sections a second. */
export const SPEEDS = [1, 3, 6, 12];
const speed = keptStore("tin-saddle speed", 3);

export const stepping = {
  play: () => {},
  goToDialog: () => {},
  /** Begins a range at the section in view, and ends it when called again. */
  range: () => {},
  /** Opens the choice of roads. */
  roads: () => {},
  setPlaying: playing.set,
  setSpeed: speed.set,
  /** Between two sections, ms. */
  pause: () => 1000 / speed.get(),
};

export function useSpeed(): number {
  return speed.use((now) => now);
}

export function usePlaying(): boolean {
  return playing.use((now) => now);
}
