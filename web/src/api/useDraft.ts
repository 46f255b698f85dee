/** A document being edited on the screen: the thin hook over the rules of draft.ts. */
import { App } from "antd";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { differencesOf } from "../common/differences";
import { begin, type Base, type Effect, type Event, type State, step } from "./draft";
import { type Kind, type SpecOf, useProjectId } from "./hooks";
import { useCounted } from "./pending";
import { drop as dropPreview, setDragging, show as showPreview, useSettle } from "./preview";
import { putLast, useSaving } from "./save";

/** After how long a save is tried again when the server cannot be reached, ms. */
const AGAIN = 3000;
/** A change that is saved at once is previewed when it is not written after so long, ms. */
const PREVIEW_AFTER = 400;
const TOLD = {
  away: "Not saved yet: the server cannot be reached, or you are signed out. What you typed is kept.",
  merged: "Somebody else changed this meanwhile; both changes are in.",
};

/** What was typed and not saved, kept by the browser while the server is away or the page is closed. */
const shelf = {
  name: (project: number, kind: Kind, key: string) => `tin-saddle ${project} ${kind} ${key}`,
  put: (name: string, kept: unknown) => {
    try {
      localStorage.setItem(name, JSON.stringify(kept));
    } catch {
      // A browser that keeps nothing still saves to the server.
    }
  },
  take: <T>(name: string): T | null => {
    const text = localStorage.getItem(name);
    if (text) localStorage.removeItem(name);
    return text ? (JSON.parse(text) as T) : null;
  },
};

/** What is on the screen of a document and not known to be written. */
interface Open<S> {
  latest: S | null;
  held: S | null;
}
const CLOSED = { latest: null, held: null };

/** A drag ends without anything by Escape, or when the pointer is taken away. */
function useGivenUp(dragging: boolean, giveUp: () => void) {
  useEffect(() => {
    if (!dragging) return;
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== "Escape") return;
      e.stopPropagation();
      giveUp();
    };
    window.addEventListener("keydown", onKey, true);
    window.addEventListener("pointercancel", giveUp);
    return () => {
      window.removeEventListener("keydown", onKey, true);
      window.removeEventListener("pointercancel", giveUp);
    };
  }, [dragging, giveUp]);
}

/**
 * What is typed shows at once and is saved after `wait` ms, one save after another. What is dragged shows as well, and is saved when it is
 * let go; Escape goes back. Meanwhile everything in view is previewed with it (see preview.ts). While nothing is pending it follows the
 * saved version. While the server cannot be reached what is typed stays and is tried again, and it is there when the page is opened again.
 */
export function useDraft<K extends Kind>(kind: K, key: string, saved: { spec: SpecOf<K>; version: number } | undefined, wait = 600) {
  type S = SpecOf<K>;
  const project = useProjectId();
  const save = useSaving();
  const settle = useSettle(project);
  const { message } = App.useApp();
  const states = useRef(new Map<string, State<S>>());
  const timers = useRef(new Map<string, number>());
  const [open, setOpen] = useState<ReadonlyMap<string, Open<S>>>(new Map());
  /** Something happens to the document with a key: several may be open at once, the last one still being saved. */
  const happens = useMemo(() => {
    const later = (of: string, after: number) => {
      window.clearTimeout(timers.current.get(of));
      timers.current.set(
        of,
        window.setTimeout(() => run(of, { type: "due" }), after),
      );
    };
    const act = (of: string, effect: Effect<S>) => {
      switch (effect.do) {
        case "wait":
          if (wait > 0) {
            showPreview(kind, of, effect.spec);
            return later(of, wait);
          }
          // It is on its way before anything is drawn, and what follows from it comes as soon as a preview would: that is for a slow server.
          window.setTimeout(() => states.current.get(of)?.latest?.spec === effect.spec && showPreview(kind, of, effect.spec), PREVIEW_AFTER);
          return run(of, { type: "due" });
        case "send":
          window.clearTimeout(timers.current.get(of));
          return void save({ kind, key: of, spec: effect.spec, version: effect.base.version, base: effect.base.spec } as Parameters<typeof save>[0]).then(
            (written) => run(of, { type: "answered", written }),
          );
        case "sendLast":
          return void putLast(project, { kind, key: of, spec: effect.spec, version: effect.base.version, base: effect.base.spec } as Parameters<
            typeof save
          >[0]).then(
            () => localStorage.removeItem(shelf.name(project, kind, of)),
            () => undefined,
          );
        case "tryAgain":
          return later(of, AGAIN);
        case "shelve":
          return shelf.put(shelf.name(project, kind, of), { spec: effect.spec, base: effect.base });
        case "unshelve":
          return localStorage.removeItem(shelf.name(project, kind, of));
        case "show":
          return showPreview(kind, of, effect.spec);
        case "drop":
          return dropPreview(kind, of);
        case "settle":
          return settle(kind, of, effect.spec);
        case "tell":
          return void message[effect.what === "away" ? "warning" : "info"]({
            key: effect.what === "away" ? "unreachable" : "merged",
            content: TOLD[effect.what],
            duration: 6,
          });
      }
    };
    const run = (of: string, event: Event<S>): void => {
      const [next, effects] = step(states.current.get(of) ?? begin<S>(), event);
      states.current.set(of, next);
      effects.forEach((effect) => act(of, effect));
      const { latest, held } = states.current.get(of)!;
      setOpen((was) => {
        const before = was.get(of) ?? CLOSED;
        const now = { latest: latest?.spec ?? null, held };
        return before.latest === now.latest && before.held === now.held ? was : new Map(was).set(of, now);
      });
    };
    return run;
  }, [kind, wait, project, save, settle, message]);
  const change = useCallback((spec: S) => saved && happens(key, { type: "typed", spec, saved }), [saved, key, happens]);
  const drag = useCallback((spec: S, done: boolean) => saved && happens(key, { type: "dragged", spec, done, saved }), [saved, key, happens]);
  const giveUp = useCallback(() => happens(key, { type: "gaveUp" }), [key, happens]);
  useEffect(() => {
    if (!saved) happens(key, { type: "removed" });
  }, [saved, key, happens]);
  const { latest, held } = open.get(key) ?? CLOSED;
  const dragging = held !== null;
  useEffect(() => {
    if (!dragging) return;
    setDragging(true);
    return () => {
      setDragging(false);
      happens(key, { type: "dragEnded" });
    };
  }, [dragging, key, happens]);
  useGivenUp(dragging, giveUp);
  useEffect(() => {
    const onPress = () => happens(key, { type: "pressed" });
    window.addEventListener("pointerdown", onPress, true);
    return () => window.removeEventListener("pointerdown", onPress, true);
  }, [key, happens]);
  useEffect(() => {
    if (!saved) return;
    const soon = window.setTimeout(() => {
      const kept = shelf.take<{ spec: S; base: Base<S> }>(shelf.name(project, kind, key));
      // What a closing page sent may have arrived after all.
      if (kept?.spec && differencesOf(saved.spec, kept.spec).length > 0) happens(key, { type: "typed", spec: kept.spec, saved: kept.base });
    });
    return () => window.clearTimeout(soon);
  }, [saved, project, kind, key, happens]);
  useEffect(() => {
    const leave = () => [...states.current.keys()].forEach((of) => happens(of, { type: "closing" }));
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [happens]);
  useEffect(() => () => happens(key, { type: "due" }), [happens, key]);
  useCounted([...open.values()].some((o) => o.latest !== null));
  return { spec: held ?? latest ?? saved?.spec, pending: latest !== null, change, drag, giveUp };
}
