/** One box for chainages, stops, documents and their parts, structures, remarks, problems, fields and actions. */
import { SearchOutlined } from "@ant-design/icons";
import { AutoComplete, Input, type GetRef } from "antd";
import { useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { type AnyDocument, useDocuments, useMayEdit, useProjectId, useRoadKey, useSummary } from "../api/hooks";
import { useFoundPoints, useLongSection, useSurveyLines } from "../plan/hooks";
import { chainageText, parseChainage } from "../base/chainage";
import { type Find, findsOf } from "./finds";
import { usePlace } from "../base/place";
import { searchOfRoad } from "../base/roads";
import { stepping } from "../base/stepping";
import { startTour } from "../base/tour";
import { useUndoRedo } from "./undo";

/** So many are listed. */
const LISTED = 12;
/** What says that there is nothing, among what is listed. */
const NOTHING = "nothing";

export function FindAnything() {
  const [text, setText] = useState("");
  const box = useRef<GetRef<typeof AutoComplete>>(null);
  /** Whether one of the list was gone to with the arrows: Enter takes that, else the first. */
  const stepped = useRef(false);
  const navigate = useNavigate();
  const location = useLocation();
  const project = useProjectId();
  const here = useRoadKey();
  const place = usePlace();
  const mayEdit = useMayEdit();
  const { undo, redo } = useUndoRedo();
  const documents = useDocuments().data?.documents as AnyDocument[] | undefined;
  const problems = useSummary().data?.problems;
  const asked = text !== "";
  const structures = useLongSection(asked)?.structures;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault();
        box.current?.focus();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const surveyed = useSurveyLines(asked).data;
  // The last word may be the number of a point.
  const number = useDeferredValue(text.trim().split(/\s+/).at(-1) ?? "");
  const { data: points, isFetching: asking } = useFoundPoints(/\d/.test(number) ? number : "");
  /** Enter came before the answer: what it brings is taken. */
  const [awaited, setAwaited] = useState(false);
  const all = useMemo(
    () =>
      asked ? findsOf(documents ?? [], here, { problems: problems ?? [], structures: structures ?? [], surveyed: surveyed ?? [], points: points ?? [] }) : [],
    [asked, documents, here, problems, structures, surveyed, points],
  );
  const actions: [label: string, run: () => void][] = [
    ["Go to a chainage", () => stepping.goToDialog()],
    ["Go to another road", () => stepping.roads()],
    ["Play along the road", () => stepping.play()],
    ["Show me around", startTour],
    ["Begin a range here, or end it", () => stepping.range()],
    ["Drop the marked range", () => place.mark(null)],
    ...(mayEdit
      ? ([
          ["Undo", undo],
          ["Redo", redo],
        ] as [string, () => void][])
      : []),
  ];
  const lead = ({ stop, selection, chainage, road }: Find) => {
    const search = new URLSearchParams(searchOfRoad(location.search, road ?? here));
    if (selection) search.set("sel", selection);
    else if (stop) search.delete("sel");
    if (chainage !== undefined) search.set("at", chainage.toFixed(3));
    if (chainage !== undefined) search.delete("side");
    void navigate({ pathname: stop ? `/p/${project}/${stop}` : location.pathname, search: search.toString() });
  };
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const chainage = parseChainage(text);
  const named = [
    ...all.map((f) => ({ value: f.id, label: f.label, run: () => lead(f) })),
    ...actions.map(([label, run]) => ({ value: `do ${label}`, label, run })),
  ].filter((o) => words.length > 0 && words.every((w) => o.label.toLowerCase().includes(w)));
  // What begins with the first word comes first, then what has a word that does.
  const rank = (label: string) => (label.toLowerCase().startsWith(words[0]!) ? 0 : new RegExp(`[^\\p{L}\\d]${escaped(words[0]!)}`, "iu").test(label) ? 1 : 2);
  const found = [
    ...(chainage !== null ? [{ value: `go ${chainage}`, label: `Go to ${chainageText(chainage)}`, run: () => place.goToChainage(chainage) }] : []),
    ...named.sort((a, b) => rank(a.label) - rank(b.label)),
  ];
  const take = (value: string | undefined) => {
    const chosen = found.find((o) => o.value === value);
    if (!chosen) return;
    chosen.run();
    setText("");
    setAwaited(false);
    box.current?.blur();
  };
  const first = found[0]?.value;
  const taking = useRef(take);
  useEffect(() => {
    taking.current = take;
  });
  useEffect(() => {
    if (awaited && first !== undefined) taking.current(first);
  }, [awaited, first]);
  return (
    <AutoComplete
      ref={box}
      style={{ width: 230 }}
      popupMatchSelectWidth={380}
      defaultActiveFirstOption
      value={text}
      options={
        found.length === 0 && words.length > 0
          ? [{ value: NOTHING, label: `Nothing is called “${text.trim()}”` }]
          : found.slice(0, LISTED).map(({ value, label }) => ({ value, label }))
      }
      notFoundContent={null}
      onChange={(v: string) => {
        stepped.current = false;
        setAwaited(false);
        setText(v);
      }}
      onSelect={take}
      onInputKeyDown={(e) => {
        if (e.key === "ArrowDown" || e.key === "ArrowUp") stepped.current = true;
        if (e.key !== "Enter" || stepped.current) return;
        // At once, also where the list has not opened yet.
        e.preventDefault();
        e.stopPropagation();
        if (first !== undefined) take(first);
        else setAwaited(asking || number !== text.trim().split(/\s+/).at(-1));
      }}
    >
      <Input size="small" aria-label="Find anything" placeholder="Find anything" prefix={<SearchOutlined />} suffix={<span className="quiet">Ctrl K</span>} />
    </AutoComplete>
  );
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
