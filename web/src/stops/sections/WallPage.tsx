/** Many sections at a time: at one scale, hinge upon hinge; a click makes one the current one, a pinned one stays while that moves. */
import { PushpinFilled, PushpinOutlined } from "@ant-design/icons";
import { Button, Segmented, Select } from "antd";
import { type ReactNode, useState } from "react";
import { capital } from "../../api/client";
import { type SectionView, useDocumentsOf, useSummary } from "../../api/hooks";
import { useSection } from "../../api/preview";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { NumberField } from "../../common/NumberField";
import { remarkFlags } from "../../drawing/marks";
import { SectionDrawing } from "../../drawing/SectionDrawing";
import { titleOf, useLine, useLineGroups } from "./lines";

const SIZES = [1, 2, 4, 6, 9];
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
  const problems = useSummary().data!.problems;
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
export function WallPage({ pages, begin = 4 }: { pages: ReactNode; begin?: number }) {
  const summary = useSummary().data!;
  const place = usePlace();
  const [size, setSize] = useState(begin);
  const [which, setWhich] = useState("neighbours");
  const choices = useWhich();
  const [every, setEvery] = useState(5);
  const [pinned, setPinned] = useState<number[]>([]);
  const n = summary.chainage.length;
  const counts = (code: string) => which === "problems" || which === `problem ${code}`;
  const step = which === "every" ? every : 1;
  const wanted = which.startsWith("problem")
    ? summary.chainage.flatMap((c, i) => (summary.problems.some((p) => counts(p.code) && p.chainage_from <= c + 1e-3 && p.chainage_to >= c - 1e-3) ? [i] : []))
    : Array.from({ length: n }, (_, i) => i).filter((i) => (i - place.index) % step === 0);
  const free = wanted.filter((i) => !pinned.includes(i));
  const room = Math.max(0, size - pinned.length);
  // The current one stands first, so that stepping on moves the others up.
  const first = free.findIndex((i) => i >= place.index);
  const from = Math.max(0, Math.min(first === -1 ? free.length : first, free.length - room));
  const shown = [...pinned.slice(0, size), ...free.slice(from, from + room)].sort((a, b) => a - b);
  const group = which.startsWith("group ") ? which.slice(6) : null;
  const pin = (i: number) => setPinned(pinned.includes(i) ? pinned.filter((p) => p !== i) : [...pinned, i]);
  return (
    <div className="stage" style={{ gridColumn: "1 / -1" }}>
      <div className="toolbar">
        {pages}
        <span style={{ flex: 1 }} />
        <Segmented<number> size="small" aria-label="How many sections" options={SIZES} value={size} onChange={setSize} />
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
      <div
        className="wall"
        style={{
          gridTemplateColumns: `repeat(${COLUMNS[size]}, minmax(0, 1fr))`,
          // More lines of a group than have room are scrolled to.
          gridAutoRows: `calc(${100 / (size / COLUMNS[size]!)}% - 1px)`,
        }}
      >
        {group && <GroupCells group={group} />}
        {!group &&
          shown.map((i) => (
            <Cell
              key={i}
              index={i}
              current={i === place.index}
              pinned={pinned.includes(i)}
              pin={() => pin(i)}
              go={(s) => (s.chainage === summary.chainage[i] ? place.goTo(i) : place.goToChainage(s.chainage))}
            />
          ))}
        {!group && shown.length === 0 && (
          <p className="quiet" style={{ background: "var(--white)", padding: 24 }}>
            No section has a problem.
          </p>
        )}
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
            <Button size="small" disabled={current} aria-label={`Go to ${name}`} onClick={() => section && go(section)}>
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
          <Button size="small" aria-label={`Go to ${title}`} onClick={() => place.select(`lines:${group}:${part}`)}>
            Go here
          </Button>
        }
      />
    </div>
  );
}
