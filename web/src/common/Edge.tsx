/** An edge of a pane that is dragged, or moved with the arrow keys, to make it larger; a double click gives its first size back. */
import { useRef } from "react";

interface Props {
  label: string;
  /** Which way the edge runs: a pane below a horizontal one grows upward, one right of a vertical one to the left. */
  runs: "horizontal" | "vertical";
  size: number;
  least: number;
  most: () => number;
  first: number;
  set: (size: number) => void;
}

const KEYS = { horizontal: { ArrowUp: 20, ArrowDown: -20 }, vertical: { ArrowLeft: 20, ArrowRight: -20 } } as const;

export function Edge({ label, runs, size, least, most, first, set }: Props) {
  const from = useRef<{ at: number; size: number } | null>(null);
  const at = (e: React.PointerEvent) => (runs === "horizontal" ? e.clientY : e.clientX);
  const put = (v: number) => set(Math.round(Math.max(least, Math.min(most(), v))));
  return (
    <div
      role="separator"
      aria-orientation={runs}
      aria-label={label}
      aria-valuenow={size}
      aria-valuemin={least}
      tabIndex={0}
      className={`edge ${runs}`}
      title="Drag to make it larger; double click for its first size"
      onDoubleClick={() => put(first)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { at: at(e), size };
      }}
      onPointerMove={(e) => from.current && put(from.current.size + from.current.at - at(e))}
      onPointerUp={() => (from.current = null)}
      onKeyDown={(e) => {
        const by = (KEYS[runs] as Record<string, number>)[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        put(size + by);
      }}
    />
  );
}
