/** What was typed, could not be read, and goes with its field: it is told, so that nobody believes it was taken. */
import { App } from "antd";
import { useEffect, useRef } from "react";

/** Where the browser keeps what is half typed in a field while its page is loaded again. */
const place = (label: string) => `tin-saddle typed ${location.pathname}${location.search} ${label}`;

/** A page is loaded again within so long, ms: what is older belongs to another visit. */
const AGAIN = 20_000;

/** What was half typed in a field when its page was left to be loaded again. */
export function halfTyped(label: string): string | null {
  const kept = sessionStorage.getItem(place(label));
  if (kept === null) return null;
  const { typed, at } = JSON.parse(kept) as { typed: string; at: number };
  return Date.now() - at < AGAIN ? typed : null;
}

export function useUntaken(label: string, typed: string | null, wrong: string | null): void {
  const { message } = App.useApp();
  const last = useRef({ label, typed, wrong });
  useEffect(() => {
    last.current = { label, typed, wrong };
  });
  useEffect(() => {
    if (typed === null) sessionStorage.removeItem(place(label));
  }, [typed, label]);
  useEffect(() => {
    const leave = () => {
      const { label, typed } = last.current;
      if (typed !== null) sessionStorage.setItem(place(label), JSON.stringify({ typed, at: Date.now() }));
      else sessionStorage.removeItem(place(label));
    };
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, []);
  useEffect(
    () => () => {
      const { label, typed, wrong } = last.current;
      if (typed !== null && wrong !== null) void message.warning(`“${typed}” in ${label} was not taken: ${wrong}`, 8);
    },
    [message],
  );
}
