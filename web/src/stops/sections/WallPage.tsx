/** Many sections at a time: at one scale, hinge upon hinge; a click makes one the current one, a pinned one stays while that moves. */
import { PushpinFilled, PushpinOutlined } from "@ant-design/icons";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Button, Segmented, Select } from "antd";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { capital } from "../../api/client";
import { type SectionView, useDocumentsOf, useSummary } from "../../api/hooks";
import { useSection } from "../../api/preview";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { NumberField } from "../../common/NumberField";
import { remarkFlags } from "../../drawing/marks";
import { SectionDrawing } from "../../drawing/SectionDrawing";
import { titleOf, useLine, useLineGroups } from "./lines";
import { isOpen } from "../../common/Problems";

/** How many at a time; in a scroll all of them, as many in sight as have room. */
type Size = 1 | 2 | 4 | 6 | 9 | "scroll";
const SIZES: { value: Size; label: string; title?: string }[] = [
  ...([1, 2, 4, 6, 9] as const).map((n) => ({ value: n, label: String(n) })),
  { value: "scroll", label: "Scroll", title: "All of them below each other" },
];
/** Share of the height that one section takes in a scroll. */
const IN_SCROLL = 3;
const COLUMNS: Record<number, number> = { 1: 1, 2: 1, 4: 2, 6: 2, 9: 3 };
const WHICH = [
  { value: "neighbours", label: "Neighbours" },
  { value: "every", label: "Every so many" },
  { value: "problems", label: "With problems" },
];
/** So much of a problem's words names its kind. */
const KIND_WORDS = 44;

/** What may be looked at many at a time: sections of the design, those with one kind of problem, the lines of a group. */
function useWhich() {
  const problems = useSummary().data!.problems.filter(isOpen);
  const groups = useLineGroups().data ?? [];
  const kinds = new Map(problems.map((p) => [p.code, p.message]));
  const named = [...kinds].map(([code, words]) => ({
    value: `problem ${code}`,
    label: capital(words.length > KIND_WORDS ? `${words.slice(0, KIND_WORDS - 1)}…` : words),
  }));
  return [
    { label: "Sections", title: "Sections", options: WHICH },
    ...(groups.length > 0
      ? [{ label: "Section lines", title: "Section lines", options: groups.map((g) => ({ value: `group ${g.key}`, label: `All of ${g.name}` })) }]
      : []),
    ...(named.length > 1 ? [{ label: "One kind of problem", title: "One kind of problem", options: named }] : []),
  ];
}

/** begin: how many sections at first. */
export default function WallPage({ pages, begin = 4 }: { pages: ReactNode; begin?: Size }) {
  const summary = useSummary().data!;
  const place = usePlace();
  const [size, setSize] = useState<Size>(begin);
  const [which, setWhich] = useState("neighbours");
  const choices = useWhich();
  const [every, setEvery] = useState(5);
  const [pinned, setPinned] = useState<number[]>([]);
  const n = summary.chainage.length;
  const counts = (code: string) => which === "problems" || which === `problem ${code}`;
  const step = which === "every" ? every : 1;
  const wanted = which.startsWith("problem")
    ? summary.chainage.flatMap((c, i) =>
        summary.problems.some((p) => isOpen(p) && counts(p.code) && p.chainage_from <= c + 1e-3 && p.chainage_to >= c - 1e-3) ? [i] : [],
      )
    : Array.from({ length: n }, (_, i) => i).filter((i) => (i - place.index) % step === 0);
  const free = wanted.filter((i) => !pinned.includes(i));
  const many = size === "scroll" ? 0 : size;
  const room = Math.max(0, many - pinned.length);
  // The current one stands first, so that stepping on moves the others up.
  const first = free.findIndex((i) => i >= place.index);
  const from = Math.max(0, Math.min(first === -1 ? free.length : first, free.length - room));
  const shown = [...pinned.slice(0, many), ...free.slice(from, from + room)].sort((a, b) => a - b);
  const group = which.startsWith("group ") ? which.slice(6) : null;
  const pin = (i: number) => setPinned(pinned.includes(i) ? pinned.filter((p) => p !== i) : [...pinned, i]);
  const cell = (i: number) => (
    <Cell
      key={i}
      index={i}
      current={i === place.index}
      pinned={pinned.includes(i)}
      pin={() => pin(i)}
      go={(s) => (s.chainage === summary.chainage[i] ? place.goTo(i) : place.goToChainage(s.chainage))}
    />
  );
  return (
    <div className="stage" style={{ gridColumn: "1 / -1" }}>
      <div className="toolbar">
        {pages}
        <span style={{ flex: 1 }} />
        <Segmented<Size> size="small" aria-label="How many sections" options={SIZES} value={size} onChange={setSize} />
        <Select
          size="small"
          style={{ width: 190 }}
          popupMatchSelectWidth={340}
          listHeight={460}
          aria-label="Which sections"
          options={choices}
          value={which}
          onChange={setWhich}
        />
        {which === "every" && (
          <NumberField label="Every so many sections" unit="" least={1} most={1000} width={70} value={every} onChange={(v) => setEvery(Math.round(v))} />
        )}
      </div>
      {size === "scroll" && !group ? (
        <Scroll wanted={wanted} at={place.index} cell={cell} />
      ) : (
        <div
          className="wall"
          style={{
            gridTemplateColumns: `repeat(${COLUMNS[many] ?? 1}, minmax(0, 1fr))`,
            // More lines of a group than have room are scrolled to.
            gridAutoRows: `calc(${100 / (many ? many / COLUMNS[many]! : IN_SCROLL)}% - 1px)`,
          }}
        >
          {group ? <GroupCells group={group} /> : shown.map(cell)}
        </div>
      )}
      {!group && wanted.length === 0 && (
        <p className="quiet" style={{ background: "var(--white)", padding: 24 }}>
          No section has a problem.
        </p>
      )}
    </div>
  );
}

/** All wanted sections below each other; those in sight are drawn, and the current one is kept there. */
function Scroll({ wanted, at, cell }: { wanted: number[]; at: number; cell: (i: number) => ReactNode }) {
  const frame = useRef<HTMLDivElement>(null);
  const [height, setHeight] = useState(180);
  // The functions that it gives are called in this render alone.
  // eslint-disable-next-line react-hooks/incompatible-library
  const scroll = useVirtualizer({ count: wanted.length, getScrollElement: () => frame.current, estimateSize: () => height, overscan: 1 });
  useEffect(() => {
    if (!frame.current) return;
    const watch = new ResizeObserver(([entry]) => setHeight(Math.max(120, Math.floor(entry!.contentRect.height / IN_SCROLL))));
    watch.observe(frame.current);
    return () => watch.disconnect();
  }, []);
  useEffect(() => scroll.measure(), [scroll, height]);
  const current = wanted.findIndex((i) => i >= at);
  useEffect(() => {
    if (current >= 0) scroll.scrollToIndex(current, { align: "auto" });
  }, [scroll, current, height]);
  return (
    <div ref={frame} className="scroll" role="group" aria-label="Sections to scroll through" tabIndex={0}>
      <div style={{ position: "relative", height: scroll.getTotalSize() }}>
        {scroll.getVirtualItems().map((item) => (
          <div
            key={item.key}
            style={{ position: "absolute", top: item.start, height: item.size, width: "100%", display: "grid", borderBottom: "1px solid var(--tin200)" }}
          >
            {cell(wanted[item.index]!)}
          </div>
        ))}
      </div>
    </div>
  );
}

function Cell({ index, current, pinned, pin, go }: { index: number; current: boolean; pinned: boolean; pin: () => void; go: (section: SectionView) => void }) {
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
        flags={section && remarkFlags(section)}
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
            <Button size="small" disabled={current} aria-label={`Go here: ${name}`} onClick={() => section && go(section)}>
              Go here
            </Button>
          </>
        }
      />
    </div>
  );
}

/** All lines of a group, as they stand along their own paths. */
function GroupCells({ group }: { group: string }) {
  const lines = useLineGroups().data?.find((g) => g.key === group)?.lines ?? [];
  return lines.map((line) => <LineCell key={line.part} group={group} part={line.part} title={titleOf(line)} />);
}

const NO_SURFACES: string[] = [];

function LineCell({ group, part, title }: { group: string; part: number; title: string }) {
  const place = usePlace();
  const { data } = useLine(group, part, NO_SURFACES, true);
  const materials = useDocumentsOf("material");
  const shown = data?.group === group && data.part === part ? data : undefined;
  return (
    <div style={{ position: "relative", minHeight: 0, background: "var(--white)" }}>
      <SectionDrawing
        plain
        section={shown}
        designs={shown?.designs}
        flags={shown && [...shown.marks, ...remarkFlags(shown)]}
        within={shown && [shown.start - 0.5, shown.end + 0.5]}
        materials={materials}
        title={title}
        controls={
          <Button size="small" aria-label={`Go here: ${title}`} onClick={() => place.select(`lines:${group}:${part}`)}>
            Go here
          </Button>
        }
      />
    </div>
  );
}
