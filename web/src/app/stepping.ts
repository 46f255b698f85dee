/** What the visible stepping controls share with the keys. */
import { createStore } from "../common/store";

const playing = createStore(false);

export const stepping = {
  play: () => {},
  goToDialog: () => {},
  setPlaying: playing.set,
};

export function usePlaying(): boolean {
  return playing.use((now) => now);
}
