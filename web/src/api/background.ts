/** Jobs that go on after their dialog was left: what they are is kept here, for the header to follow them to their end. */
import { createStore } from "../common/store";

export interface Going {
  id: string;
  /** What it is, as the beginning of a sentence: "Import of crown.csv". */
  words: string;
}

const going = createStore<readonly Going[]>([]);

/** The dialog of a job was left while it runs. */
export function letRunOn(job: Going): void {
  going.set([...going.get().filter((g) => g.id !== job.id), job]);
}

export function hasEnded(id: string): void {
  going.set(going.get().filter((g) => g.id !== id));
}

export function useGoing(): readonly Going[] {
  return going.use((all) => all);
}
