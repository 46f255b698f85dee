/** A short way around the window: what its parts are for. It is begun by the person, and left at any time. */
import { Tour as Around } from "antd";
import { touring } from "../base/tour";

const at = (selector: string) => () => document.querySelector<HTMLElement>(selector);

const STEPS: { at: string; placement: "right" | "center" | "left" | "top" | "bottom" | "bottomRight"; title: string; words: string }[] = [
  {
    at: ".trail",
    placement: "right",
    title: "The stops follow the job",
    words: "From the survey to the sheets. A dot is green when all is sound, ochre or red where something is to be looked at. Keys 1 to 0 lead there.",
  },
  {
    at: ".stage",
    placement: "center",
    title: "The stage shows the work",
    words: "Plan, section, diagram or table. What can be dragged has a handle; arrows move it too. Nothing is lost: every change is one step of undo.",
  },
  {
    at: ".inspector",
    placement: "left",
    title: "The inspector says what is chosen",
    words: "Its figures, and what can be changed. Numbers may be typed with units, as slopes and as sums.",
  },
  {
    at: ".strip",
    placement: "top",
    title: "The strip is the whole road",
    words: "Drag on it to move along; hold Shift and drag, or press R, to mark a range. What can be done with a range then stands above it.",
  },
  {
    at: "[aria-label='Find anything']",
    placement: "bottom",
    title: "Find anything",
    words: "A chainage, a template, a problem, a field, an action: Ctrl+K, a few letters, Enter.",
  },
  {
    at: ".fresh",
    placement: "bottomRight",
    title: "What is not right yet",
    words: "All problems of the road, each with its place. One may be left as it is with a reason; it comes back when it grows.",
  },
  {
    at: ".trail-guide",
    placement: "right",
    title: "The guide",
    words: "The page of the guide for the stop you are at, beside the work. The question mark key shows all keys.",
  },
];

export function Tour() {
  const shown = STEPS.filter((s) => document.querySelector(s.at));
  return (
    <Around
      open
      onClose={() => touring.set(false)}
      steps={shown.map((s) => ({
        placement: s.placement,
        title: s.title,
        description: (
          <div role="status" aria-label="Shown around">
            {s.words}
          </div>
        ),
        target: at(s.at) as () => HTMLElement,
      }))}
    />
  );
}
