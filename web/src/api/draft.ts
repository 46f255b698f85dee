/**
 * What becomes of one document that is being edited: typed, dragged, sent, answered, kept while the server is away or the page closes.
 * `step` gives the next state and what is to be done; `useDraft` does it, and the rules hold it against the server's own rules of change.
 */
/** What a draft rests on: the version, and the spec that it had. */
export interface Base<S> {
  version: number;
  spec?: S;
}
/** What the server answers to a save: with a base sent along it may hold somebody else's change too. */
export interface Written {
  version: number;
  /** Whether somebody else's change is in it beside one's own. */
  merged: boolean;
}
interface Typed<S> {
  number: number;
  spec: S;
}

export interface State<S> {
  /** How often something was typed. */
  typed: number;
  /** What was typed last, until it is known to be written or refused. */
  latest: Typed<S> | null;
  /** What is on its way. */
  sending: Typed<S> | null;
  /** What was sent and not answered, and may have arrived: it is sent once more before anything else, which changes nothing where it has. */
  unheard: Typed<S> | null;
  /** Number of what was sent last, 0 where that was not answered. */
  sent: number;
  /** Whether more is to be sent once the answer is there. */
  due: boolean;
  base: Base<S>;
  /** What is dragged, and what the drag began on: a colleague's change that arrives meanwhile is put together with it, not written over. */
  held: S | null;
  grasped: Base<S> | null;
  /** A drag that was given up: what is dragged on counts for nothing until the next press. */
  givenUp: boolean;
}

export type Event<S> =
  | { type: "typed"; spec: S; saved: Base<S> }
  | { type: "due" }
  | { type: "answered"; written: Written | null | "unreachable" }
  | { type: "dragged"; spec: S; done: boolean; saved: Base<S> }
  | { type: "gaveUp" }
  | { type: "pressed" }
  | { type: "dragEnded" }
  | { type: "closing" }
  | { type: "removed" };

export type Effect<S> =
  /** Send it when its time has come: `due`. */
  | { do: "wait"; spec: S }
  | { do: "send"; spec: S; base: Base<S> }
  /** Send it with a page that is going; its answer is for nobody. */
  | { do: "sendLast"; spec: S; base: Base<S> }
  | { do: "tryAgain" }
  | { do: "shelve"; spec: S; base: Base<S> }
  | { do: "unshelve" }
  /** Everything in view follows it, is as it is saved, or stays until what follows from it is there. */
  | { do: "show"; spec: S }
  | { do: "drop" }
  | { do: "settle"; spec: S }
  | { do: "tell"; what: "away" | "merged" };

type Next<S> = [State<S>, Effect<S>[]];

export const begin = <S>(): State<S> => ({
  typed: 0,
  latest: null,
  sending: null,
  unheard: null,
  sent: 0,
  due: false,
  base: { version: 0 },
  held: null,
  grasped: null,
  givenUp: false,
});

export function step<S>(now: State<S>, event: Event<S>): Next<S> {
  switch (event.type) {
    case "typed":
      return typed(now, event.spec, event.saved);
    case "due":
      return send(now);
    case "answered":
      return answered(now, event.written);
    case "dragged": {
      const over = event.done || now.givenUp;
      const from = now.grasped ?? event.saved;
      const next = { ...now, held: over ? null : event.spec, grasped: over ? null : from };
      if (now.givenUp) return [next, []];
      return event.done ? typed(next, event.spec, from) : [next, [{ do: "show", spec: event.spec }]];
    }
    case "gaveUp":
      // What was typed before and is still on its way stays shown.
      return [{ ...now, givenUp: true, held: null, grasped: null }, [now.latest ? { do: "show", spec: now.latest.spec } : { do: "drop" }]];
    case "pressed":
      return [now.givenUp ? { ...now, givenUp: false } : now, []];
    case "dragEnded":
      // Whoever leaves the stop with something in the hand has not let it go: nothing of it stays on the screen.
      return [{ ...now, held: null, grasped: null }, now.latest ? [] : [{ do: "drop" }]];
    case "closing": {
      if (!now.latest || now.latest.number === now.sent) return [now, []];
      // What was sent before may be on its way still: this rests on it, whether it has arrived or not.
      const base = now.sending ? { ...now.base, spec: now.sending.spec } : now.base;
      const { spec } = now.latest;
      return [
        now,
        [
          { do: "shelve", spec, base },
          { do: "sendLast", spec, base },
        ],
      ];
    }
    case "removed":
      // One that is removed and made anew counts its versions from the beginning.
      return [now.latest ? now : { ...now, base: { version: 0 } }, []];
  }
}

function typed<S>(now: State<S>, spec: S, saved: Base<S>): Next<S> {
  // What is shown may still be as it was before one's own last save: that one is known to be newer.
  const newer = now.base.version > saved.version;
  const base = now.latest || newer ? now.base : saved;
  const number = now.typed + 1;
  return [{ ...now, typed: number, latest: { number, spec }, base }, [{ do: "wait", spec }]];
}

function send<S>(now: State<S>): Next<S> {
  if (!now.latest || now.latest.number === now.sent) return [now, []];
  if (now.sending) return [{ ...now, due: true }, []];
  const sending = now.unheard ?? now.latest;
  const due = sending.number !== now.latest.number;
  return [{ ...now, sending, unheard: null, sent: sending.number, due }, [{ do: "send", spec: sending.spec, base: now.base }]];
}

function answered<S>(now: State<S>, written: Written | null | "unreachable"): Next<S> {
  const sent = now.sending;
  if (!sent) return [now, []];
  if (written === "unreachable") {
    const spec = (now.latest ?? sent).spec;
    return [
      { ...now, sending: null, unheard: sent, sent: 0, due: false },
      [{ do: "tell", what: "away" }, { do: "shelve", spec, base: now.base }, { do: "tryAgain" }],
    ];
  }
  const effects: Effect<S>[] = [{ do: "unshelve" }];
  let base = now.base;
  if (written) {
    if (written.merged) effects.push({ do: "tell", what: "merged" });
    // What is typed on knows nothing of the other change: it is put together with it again, from what was sent.
    base = { version: written.merged ? base.version : written.version, spec: sent.spec };
  }
  const latest = now.latest?.number === sent.number ? null : now.latest;
  if (written) effects.push({ do: "settle", spec: sent.spec });
  else if (!latest) effects.push({ do: "drop" });
  const next = { ...now, latest, base, sending: null };
  if (!now.due) return [next, effects];
  const [last, more] = send({ ...next, due: false });
  return [last, [...effects, ...more]];
}
