/** Keys on what can be dragged: arrows move it by a step, with Shift by ten; Enter leads to where its value is typed. */
import type { KeyboardEvent } from "react";

const WAYS: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

/** Attributes of something that can be dragged, so that keys reach it. `move` gets steps to the right and up. */
export function nudged(move: (right: number, up: number) => void, choose?: () => void) {
  return {
    tabIndex: 0,
    onKeyDown: (e: KeyboardEvent) => {
      const way = WAYS[e.key];
      if (way && !e.ctrlKey && !e.metaKey && !e.altKey) {
        const times = e.shiftKey ? 10 : 1;
        move(way[0] * times, way[1] * times);
      } else if (e.key === "Enter") {
        choose?.();
        toValue();
      } else return;
      e.preventDefault();
      e.stopPropagation();
    },
  };
}

/** To the first value in the inspector, once it shows what was chosen. */
function toValue(): void {
  window.setTimeout(() => {
    const field = document.querySelector<HTMLInputElement>(".inspector .number input:not(:disabled), .inspector input.number:not(:disabled)");
    field?.focus();
    field?.select();
  }, 120);
}
