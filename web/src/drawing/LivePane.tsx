/** The foot of a stop with the section, or something in its place; its upper edge is dragged, or moved by the arrow keys. */
import { type ReactNode, useRef } from "react";
import { Edge } from "../common/Edge";
import { keptStore } from "../common/store";

const LEAST = 140;
const FIRST = 260;
/** What is left above it, px. */
const ABOVE = 170;

const height = keptStore("tin-saddle section height", FIRST);

export function LivePane({ children }: { children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const tall = height.use((h) => h);
  const most = () => Math.max(LEAST, (box.current?.parentElement?.clientHeight ?? 900) - ABOVE);
  return (
    <div ref={box} className="live" style={{ height: tall, maxHeight: `calc(100% - ${ABOVE}px)` }}>
      <Edge label="Height of the section" runs="horizontal" size={tall} least={LEAST} most={most} first={FIRST} set={height.set} />
      {children}
    </div>
  );
}
