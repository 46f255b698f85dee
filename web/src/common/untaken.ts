/** What was typed, could not be read, and goes with its field: it is told, so that nobody believes it was taken. */
import { App } from "antd";
import { useEffect, useRef } from "react";

/** Where the browser keeps what is half typed in a field while its page is loaded again. */
const place = (label: string) => `tin-saddle typed ${location.pathname}${location.search} ${label}`;

/** What was half typed in a field when its page was left, once. */
export function halfTyped(label: string): string | null {
  const kept = sessionStorage.getItem(place(label));
  if (kept !== null) sessionStorage.removeItem(place(label));
  return kept;
}

export function useUntaken(label: string, typed: string | null, wrong: string | null): void {
  const { message } = App.useApp();
  const last = useRef({ label, typed, wrong });
  useEffect(() => {
    last.current = { label, typed, wrong };
  });
  useEffect(() => {
    const leave = () => {
      const { label, typed } = last.current;
      if (typed !== null) sessionStorage.setItem(place(label), typed);
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
