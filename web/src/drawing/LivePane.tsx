/** The foot of a stop with the section, or something in its place; its upper edge is dragged, or moved by the arrow keys. */
import { type ReactNode, useRef } from "react";
import { keptStore } from "../common/store";

const LEAST = 140;
const FIRST = 260;
/** What is left above it, px. */
const ABOVE = 170;

const height = keptStore("tin-saddle section height", FIRST);

export function LivePane({ children }: { children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const from = useRef<{ y: number; height: number } | null>(null);
  const tall = height.use((h) => h);
  const most = () => Math.max(LEAST, (box.current?.parentElement?.clientHeight ?? 900) - ABOVE);
  const set = (h: number) => height.set(Math.round(Math.max(LEAST, Math.min(most(), h))));
  return (
    <div ref={box} className="live" style={{ height: tall, maxHeight: `calc(100% - ${ABOVE}px)` }}>
      <div
        role="separator"
        aria-orientation="horizontal"
        aria-label="Height of the section"
        aria-valuenow={tall}
        aria-valuemin={LEAST}
        tabIndex={0}
        className="live-edge"
        title="Drag to make the section taller; double click for its first height"
        onDoubleClick={() => set(FIRST)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = { y: e.clientY, height: tall };
        }}
        onPointerMove={(e) => from.current && set(from.current.height + from.current.y - e.clientY)}
        onPointerUp={() => (from.current = null)}
        onKeyDown={(e) => {
          const by = { ArrowUp: 20, ArrowDown: -20 }[e.key];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          set(tall + by);
        }}
      />
      {children}
    </div>
  );
}
