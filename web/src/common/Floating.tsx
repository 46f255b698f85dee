/** Something that lies over a drawing, such as a legend: moved by its head, and folded. Where it was put is kept by the browser. */
import { DownOutlined, UpOutlined } from "@ant-design/icons";
import { Button } from "antd";
import { type ReactNode, useRef, useState } from "react";
import { keptStore } from "./store";
import { nudged } from "./nudge";

/** Distances from the right and the lower edge of the drawing, px. */
interface Put {
  right: number;
  bottom: number;
  folded: boolean;
}

/** Beside the small buttons in the corner of a plan. */
const FIRST: Put = { right: 52, bottom: 10, folded: false };
const kept = keptStore<Record<string, Put>>("tin-saddle floating", {});
const STEP = 10;

export function Floating({ title, extra, children }: { title: string; extra?: ReactNode; children: ReactNode }) {
  const [box, setBox] = useState<HTMLElement | null>(null);
  const held = useRef<{ x: number; y: number; put: Put } | null>(null);
  const put = kept.use((all) => all[title] ?? FIRST);
  const set = (next: Put) => {
    const room = box?.offsetParent;
    const within = (v: number, most: number) => Math.max(0, Math.min(v, most));
    kept.set({
      ...kept.get(),
      [title]: {
        ...next,
        right: within(next.right, (room?.clientWidth ?? 9999) - (box?.offsetWidth ?? 0)),
        bottom: within(next.bottom, (room?.clientHeight ?? 9999) - (box?.offsetHeight ?? 0)),
      },
    });
  };
  return (
    <section ref={setBox} className="floating" aria-label={title} style={{ right: put.right, bottom: put.bottom }}>
      <div className="floating-head">
        <span
          role="button"
          aria-label={`Move ${title}`}
          title="Drag to move it"
          className="floating-grip"
          {...nudged((right, up) => set({ ...put, right: put.right - right * STEP, bottom: put.bottom + up * STEP }))}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            held.current = { x: e.clientX, y: e.clientY, put };
          }}
          onPointerMove={(e) => {
            const from = held.current;
            if (from) set({ ...from.put, right: from.put.right + from.x - e.clientX, bottom: from.put.bottom + from.y - e.clientY });
          }}
          onPointerUp={() => (held.current = null)}
        >
          <strong>{title}</strong>
        </span>
        <span>
          {!put.folded && extra}
          <Button
            type="text"
            size="small"
            aria-label={put.folded ? `Unfold ${title}` : `Fold ${title}`}
            icon={put.folded ? <UpOutlined /> : <DownOutlined />}
            onClick={() => set({ ...put, folded: !put.folded })}
          />
        </span>
      </div>
      {!put.folded && children}
    </section>
  );
}
