/** The server's answer to a question that changes quickly: one question at a time, the latest wins. */
import { useEffect, useRef, useState } from "react";
import { lineOf } from "./client";

/** question: by identity; null asks nothing. Without a new answer the last one stays. */
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
