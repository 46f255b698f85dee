/** Measuring in a section between two places, and the keys of a drawing. */
import { useCallback, useEffect, useRef, useState } from "react";
import type { Mark } from "./snap";

/** exaggerate: what X does. */
export function useMeasuring(exaggerate: () => void) {
  const [measuring, setMeasuring] = useState(false);
  const [marks, setMarks] = useState<Mark[]>([]);
  const onX = useRef(exaggerate);
  useEffect(() => {
    onX.current = exaggerate;
  });
  const measure = useCallback(() => {
    setMeasuring((m) => !m);
    setMarks([]);
  }, []);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input, textarea, [role=combobox], .ant-modal") || e.ctrlKey || e.metaKey) return;
      if (e.key === "x" || e.key === "X") onX.current();
      if (e.key === "m" || e.key === "M") setMeasuring((m) => !m);
      if (e.key === "Escape" && measuring) {
        setMarks([]);
        setMeasuring(false);
        e.stopPropagation(); // measuring ends first, the marked range is dropped by the next one
      }
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [measuring]);

  const mark = (found: Mark) => setMarks((m) => (m.length === 2 ? [found] : [...m, found]));
  return { measuring, marks, measure, mark };
}
