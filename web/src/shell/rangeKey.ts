/** Marking a range without the mouse: it begins at the section in view, grows while one steps on, and ends where one says so. */
import { App } from "antd";
import { useEffect, useRef } from "react";
import { chainageText } from "../base/chainage";
import { usePlace } from "../base/place";
import { stepping } from "../base/stepping";

export function useRangeKey(): void {
  const { chainage, range, mark } = usePlace();
  const { message } = App.useApp();
  const begun = useRef<number | null>(null);
  const marked = range !== null;
  useEffect(() => {
    stepping.range = () => {
      if (begun.current === null) {
        begun.current = chainage;
        void message.info(`The range begins at ${chainageText(chainage)}: step on, then press R again.`, 5);
      } else {
        void message.info(`The range ends at ${chainageText(chainage)}.`, 3);
        begun.current = null;
      }
    };
  }, [chainage, message]);
  useEffect(() => {
    const from = begun.current;
    if (from !== null && Math.abs(chainage - from) > 1e-3) mark({ from: Math.min(from, chainage), to: Math.max(from, chainage) });
  }, [chainage, mark]);
  // Dropped with Escape, it is not begun any more either.
  useEffect(() => {
    if (!marked) return;
    return () => void (begun.current = null);
  }, [marked]);
}
