/** Many sections at a time: at one scale, hinge upon hinge; a click makes one the current one, a pinned one stays while that moves. */
import { PushpinFilled, PushpinOutlined } from "@ant-design/icons";
import { Button, Segmented, Select } from "antd";
import { type ReactNode, useState } from "react";
import { useDocumentsOf, useSummary } from "../../api/hooks";
import { useSection } from "../../api/preview";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { NumberField } from "../../common/NumberField";
import { SectionDrawing } from "../../drawing/SectionDrawing";

const SIZES = [1, 2, 4, 6, 9];
const COLUMNS: Record<number, number> = { 1: 1, 2: 1, 4: 2, 6: 2, 9: 3 };
type Which = "neighbours" | "every" | "problems";
const WHICH: { value: Which; label: string }[] = [
  { value: "neighbours", label: "Neighbours" },
  { value: "every", label: "Every so many" },
  { value: "problems", label: "With problems" },
];

/** begin: how many sections at first. */
export function WallPage({ pages, begin = 4 }: { pages: ReactNode; begin?: number }) {
  const summary = useSummary().data!;
  const place = usePlace();
  const [size, setSize] = useState(begin);
  const [which, setWhich] = useState<Which>("neighbours");
  const [every, setEvery] = useState(5);
  const [pinned, setPinned] = useState<number[]>([]);
  const n = summary.chainage.length;
  const step = which === "every" ? every : 1;
  const wanted =
    which === "problems"
      ? summary.chainage.flatMap((c, i) => (summary.problems.some((p) => p.chainage_from <= c + 1e-3 && p.chainage_to >= c - 1e-3) ? [i] : []))
      : Array.from({ length: n }, (_, i) => i).filter((i) => (i - place.index) % step === 0);
  const free = wanted.filter((i) => !pinned.includes(i));
  const room = Math.max(0, size - pinned.length);
  // The current one stands first, so that stepping on moves the others up.
  const first = free.findIndex((i) => i >= place.index);
  const from = Math.max(0, Math.min(first === -1 ? free.length : first, free.length - room));
  const shown = [...pinned.slice(0, size), ...free.slice(from, from + room)].sort((a, b) => a - b);
  const pin = (i: number) => setPinned(pinned.includes(i) ? pinned.filter((p) => p !== i) : [...pinned, i]);
  return (
    <div className="stage" style={{ gridColumn: "1 / -1" }}>
      <div className="toolbar">
        {pages}
        <span style={{ flex: 1 }} />
        <Segmented<number> size="small" aria-label="How many sections" options={SIZES} value={size} onChange={setSize} />
        <Select<Which> size="small" style={{ width: 140 }} aria-label="Which sections" options={WHICH} value={which} onChange={setWhich} />
        {which === "every" && (
          <NumberField label="Every so many sections" unit="" least={1} most={1000} width={70} value={every} onChange={(v) => setEvery(Math.round(v))} />
        )}
      </div>
      <div
        style={{
          flex: 1,
          minHeight: 0,
          display: "grid",
          gap: 1,
          background: "var(--tin200)",
          gridTemplateColumns: `repeat(${COLUMNS[size]}, minmax(0, 1fr))`,
          gridTemplateRows: `repeat(${size / COLUMNS[size]!}, minmax(0, 1fr))`,
        }}
      >
        {shown.map((i) => (
          <Cell key={i} index={i} current={i === place.index} pinned={pinned.includes(i)} pin={() => pin(i)} go={() => place.goTo(i)} />
        ))}
        {shown.length === 0 && (
          <p className="quiet" style={{ background: "var(--white)", padding: 24 }}>
            No section has a problem.
          </p>
        )}
      </div>
    </div>
  );
}

function Cell({ index, current, pinned, pin, go }: { index: number; current: boolean; pinned: boolean; pin: () => void; go: () => void }) {
  const { section: shown, before } = useSection(index);
  const materials = useDocumentsOf("material");
  const section = shown?.index === index ? shown : undefined;
  const name = section ? chainageText(section.chainage) : "";
  return (
    <div
      style={{ position: "relative", minHeight: 0, background: "var(--white)", outline: current ? "2px solid var(--saddle500)" : undefined, outlineOffset: -2 }}
    >
      <SectionDrawing
        plain
        look="wall"
        section={section}
        before={before}
        materials={materials}
        title={`Section ${name}`}
        controls={
          <>
            <Button
              type="text"
              size="small"
              aria-label={`${pinned ? "Let go" : "Pin"} ${name}`}
              aria-pressed={pinned}
              icon={pinned ? <PushpinFilled style={{ color: "var(--saddle500)" }} /> : <PushpinOutlined />}
              onClick={pin}
            />
            <Button size="small" disabled={current} aria-label={`Go to ${name}`} onClick={go}>
              Go here
            </Button>
          </>
        }
      />
    </div>
  );
}
