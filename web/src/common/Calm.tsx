/** What need not keep up with the hand: while something is dragged it follows when the hand pauses, and the picture goes first. */
import { type ReactNode, useEffect, useState } from "react";
import { useDragging } from "../api/preview";

/** How long the hand rests before it counts as a pause, ms. */
const PAUSE = 150;

export function Calm({ children }: { children: ReactNode }) {
  const dragging = useDragging();
  const [still, setStill] = useState<{ shown: ReactNode } | null>(null);
  if (dragging !== (still !== null)) setStill(dragging ? { shown: children } : null);
  useEffect(() => {
    if (!dragging) return;
    const timer = window.setTimeout(() => setStill({ shown: children }), PAUSE);
    return () => window.clearTimeout(timer);
  }, [dragging, children]);
  return still ? still.shown : children;
}
