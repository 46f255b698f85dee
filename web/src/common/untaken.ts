/** What was typed, could not be read, and goes with its field: it is told, so that nobody believes it was taken. */
import { App } from "antd";
import { useEffect, useRef } from "react";

export function useUntaken(label: string, typed: string | null, wrong: string | null): void {
  const { message } = App.useApp();
  const last = useRef({ label, typed, wrong });
  useEffect(() => {
    last.current = { label, typed, wrong };
  });
  useEffect(
    () => () => {
      const { label, typed, wrong } = last.current;
      if (typed !== null && wrong !== null) void message.warning(`“${typed}” in ${label} was not taken: ${wrong}`, 8);
    },
    [message],
  );
}
