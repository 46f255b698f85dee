/** Asking the server while something changes quickly: one question at a time, the latest wins. */
import { useCallback, useEffect, useRef, useState } from "react";
import { lineOf } from "./client";

/** The answer to a question; question: by identity; null asks nothing. Without a new answer the last one stays. */
export function useLatest<Q extends object, A>(question: Q | null, ask: (question: Q) => Promise<A>): { answer: A | undefined; error: string | null } {
  const [answer, setAnswer] = useState<A>();
  const [error, setError] = useState<string | null>(null);
  const waiting = useRef<Q | null>(null);
  const asking = useRef(false);
  const gone = useRef(false);
  const how = useRef(ask);
  useEffect(() => {
    how.current = ask;
  });
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  useEffect(() => {
    waiting.current = question;
    const left = () => gone.current;
    const go = async () => {
      if (asking.current) return;
      asking.current = true;
      while (waiting.current && !left()) {
        const now = waiting.current;
        waiting.current = null;
        try {
          const found = await how.current(now);
          if (!left()) {
            setAnswer(found);
            setError(null);
          }
        } catch (e) {
          if (!left()) setError(lineOf(e));
        }
      }
      asking.current = false;
    };
    void go();
  }, [question]);
  return { answer, error };
}

/** Does something with the newest of what it is given, one after another; what was overtaken meanwhile is left out. */
export function useNewest<A>(work: (given: A) => Promise<void>): (given: A) => void {
  const waiting = useRef<{ given: A } | null>(null);
  const busy = useRef(false);
  const how = useRef(work);
  useEffect(() => {
    how.current = work;
  });
  return useCallback((given: A) => {
    waiting.current = { given };
    const go = async () => {
      if (busy.current) return;
      busy.current = true;
      while (waiting.current) {
        const now = waiting.current.given;
        waiting.current = null;
        await how.current(now);
      }
      busy.current = false;
    };
    void go();
  }, []);
}
