/** The foot of a stop with the section, or something in its place; its upper edge is dragged, or moved by the arrow keys. */
import { type ReactNode, useRef } from "react";
import { Edge } from "../common/Edge";
import { keptStore } from "../common/store";

const LEAST = 140;
const FIRST = 260;
/** What is left above it where a stop does not ask for more, px. */
const ABOVE = 170;

const height = keptStore("tin-saddle section height", FIRST);

export function LivePane({ above = ABOVE, children }: { above?: number; children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const tall = height.use((h) => h);
  const most = () => Math.max(LEAST, (box.current?.parentElement?.clientHeight ?? 900) - above);
  return (
    <div ref={box} className="live" style={{ height: tall, maxHeight: `max(${LEAST}px, calc(100% - ${above}px))` }}>
      <Edge label="Height of the section" runs="horizontal" size={tall} least={LEAST} most={most} first={FIRST} set={height.set} />
      {children}
    </div>
  );
}
