/** Keys for stepping, stops, undo; the dialogs "go to chainage" and "keys". Every key has a visible control too. */
import { Input } from "antd";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { useMayEdit, useProjectId, useSummary } from "../api/hooks";
import { useUndoRedo } from "./undo";
import { letChosenGo, letClickedGo } from "../common/focus";
import { parseChainage } from "../base/chainage";
import { usePlace } from "../base/place";
import { stops } from "./stops";
import { useRangeKey } from "./rangeKey";
import { stepping } from "../base/stepping";
import { Dialog } from "../common/Dialog";

const LIST: [string, string][] = [
  ["← →", "previous and next section (with Shift: ten)"],
  ["Home End", "first and last section"],
  ["G", "go to a chainage"],
  ["Space", "play along the road, and stop"],
  ["1 … 0", "the stops"],
  ["W", "to another road"],
  ["R", "begin a range here, and again: end it"],
  ["F6", "to the next part of the window: stops, stage, inspector, strip"],
  ["Tab, then arrows", "move points, IPs, joints, ends (with Shift: ten times); Enter to type"],
  ["M", "measure between two points of the section"],
  ["X", "exaggerate the heights of the section"],
  ["Ctrl+K", "find anything"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["Esc", "drop the marked range"],
  ["?", "this list"],
];

const PANES = [".trail", ".stage", ".inspector", ".strip"];
const REACHABLE = "a[href], button:not(:disabled), input:not(:disabled):not([tabindex='-1']), select:not(:disabled), [tabindex='0']";

/** The keyboard goes to the next part of the window, or back to the one before. */
function nextPane(by: 1 | -1): void {
  const panes = PANES.flatMap((p) => document.querySelector<HTMLElement>(p) ?? []);
  const now = panes.findIndex((p) => p.contains(document.activeElement));
  const next = panes[(now + by + panes.length) % panes.length];
  const first = next?.querySelector<HTMLElement>("[aria-current=page]") ?? next?.querySelector<HTMLElement>(REACHABLE);
  first?.focus();
}

/** Which key does what, and what the dialogs that they open need. */
function useKeys() {
  useRangeKey();
  const place = usePlace();
  const count = useSummary().data?.chainage.length ?? 0;
  const navigate = useNavigate();
  const { search } = useLocation();
  const project = useProjectId();
  const mayEdit = useMayEdit();
  const { undo, redo } = useUndoRedo();
  const [going, setGoing] = useState(false);
  const [listing, setListing] = useState(false);
  const [typed, setTyped] = useState("");
  const playing = useRef<number>(undefined);
  const index = useRef(place.index);
  useEffect(() => {
    index.current = place.index;
  }, [place.index]);

  useEffect(() => {
    const stop = () => {
      window.clearTimeout(playing.current);
      playing.current = undefined;
      stepping.setPlaying(false);
    };
    const play = () => {
      if (playing.current !== undefined) return stop();
      stepping.setPlaying(true);
      const on = () => {
        if (index.current >= count - 1) return stop();
        place.step(1);
        playing.current = window.setTimeout(on, stepping.pause());
      };
      playing.current = window.setTimeout(on, stepping.pause());
    };
    stepping.play = play;
    stepping.goToDialog = () => setGoing(true);
    const onKey = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (e.key === "F6" && !target.closest(".ant-modal")) {
        e.preventDefault();
        nextPane(e.shiftKey ? -1 : 1);
        return;
      }
      // In a table whose cells are chosen the keys are the table's, but for undo.
      const inCells = target.matches("[data-cells]");
      if (!inCells && target.closest("input, textarea, select, [role=combobox], .ant-modal, [role=slider]")) return;
      const control = e.ctrlKey || e.metaKey;
      if (control && e.key.toLowerCase() === "z") {
        e.preventDefault();
        if (mayEdit) (e.shiftKey ? redo : undo)();
        return;
      }
      if (control || e.altKey || inCells) return;
      const ten = e.shiftKey ? 10 : 1;
      const found = stops.find((s) => s.key === e.key);
      if (found) void navigate({ pathname: `/p/${project}/${found.path}`, search });
      else if (e.key === "ArrowRight") place.step(ten);
      else if (e.key === "ArrowLeft") place.step(-ten);
      else if (e.key === "Home") place.goTo(0);
      else if (e.key === "End") place.goTo(count - 1);
      else if (e.key === "g" || e.key === "G") setGoing(true);
      else if (e.key === "r" || e.key === "R") stepping.range();
      else if (e.key === "w" || e.key === "W") stepping.roads();
      else if (e.key === " " && !target.closest("button, a")) play();
      else if (e.key === "Escape") place.mark(null);
      else if (e.key === "?") setListing(true);
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [place, count, navigate, project, search, mayEdit, undo, redo]);
  useEffect(() => () => window.clearTimeout(playing.current), []);
  useEffect(() => {
    window.addEventListener("click", letClickedGo);
    window.addEventListener("keydown", letChosenGo, true);
    return () => {
      window.removeEventListener("click", letClickedGo);
      window.removeEventListener("keydown", letChosenGo, true);
    };
  }, []);

  const chainage = parseChainage(typed);
  const close = () => {
    (document.activeElement as HTMLElement | null)?.blur(); // the keys work again at once, not after the dialog has faded
    setGoing(false);
    setTyped("");
  };
  return { place, going, listing, setListing, typed, setTyped, chainage, close };
}

export function Keys() {
  const { place, going, listing, setListing, typed, setTyped, chainage, close } = useKeys();
  return (
    <>
      <Dialog
        title="Go to chainage"
        saves
        open={going}
        width={320}
        okText="Go"
        okButtonProps={{ disabled: chainage === null }}
        destroyOnHidden
        onCancel={close}
        onOk={() => {
          if (chainage !== null) place.goToChainage(chainage);
          close();
        }}
      >
        <Input
          autoFocus
          aria-label="Chainage"
          placeholder="1234.5 or 1+234.5"
          value={typed}
          status={typed && chainage === null ? "error" : undefined}
          onChange={(e) => setTyped(e.target.value)}
          onPressEnter={(e) => {
            // Else the key goes on to the button that gets the focus back, and presses it.
            e.preventDefault();
            if (chainage === null) return;
            place.goToChainage(chainage);
            close();
          }}
        />
      </Dialog>
      <Dialog title="Keys" open={listing} footer={null} onCancel={() => setListing(false)}>
        <table className="grid-table">
          <tbody>
            {LIST.map(([key, what]) => (
              <tr key={key}>
                <td className="mono">{key}</td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Dialog>
    </>
  );
}
