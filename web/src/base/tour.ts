/** Whether somebody is being shown around. */
import { createStore } from "../common/store";

export const touring = createStore(false);

export const startTour = (): void => touring.set(true);
