/** Keys and clipboard of a table while a cell is chosen. */
import { type RefObject, useEffect, useRef } from "react";
import type { Acts } from "./acts";

/** The act that a press stands for. */
function actOf(e: KeyboardEvent): "cut" | "fill" | "remove" | "clear" | "insert" | "up" | "down" | null {
  const control = e.ctrlKey || e.metaKey;
  if (control && e.key.toLowerCase() === "x") return "cut"; // a field that only shows gets no such event of its own
  if (control && e.key.toLowerCase() === "d") return "fill";
  if (control && e.key === "Delete") return "remove";
  if (e.key === "Delete" || e.key === "Backspace") return "clear";
  if (e.key === "Insert" || (e.shiftKey && e.key === "Enter")) return "insert";
  if (e.altKey && e.key === "ArrowUp") return "up";
  if (e.altKey && e.key === "ArrowDown") return "down";
  return null;
}

/** holder: the field that has the focus while cells are chosen. */
export function useTableKeys(chosen: boolean, holder: RefObject<HTMLInputElement | null>, acts: Acts) {
  const now = useRef(acts);
  useEffect(() => {
    now.current = acts;
  });
  useEffect(() => {
    if (!chosen) return;
    /** Before the grid hears of it; while a cell is being typed in, it is the cell's. */
    const ours = (e: Event) => document.activeElement === holder.current && (e.preventDefault(), e.stopPropagation(), true);
    const onCopy = (e: ClipboardEvent) => ours(e) && e.clipboardData?.setData("text/plain", now.current.copied());
    const onPaste = (e: ClipboardEvent) => {
      const text = e.clipboardData?.getData("text/plain") ?? "";
      if (ours(e)) now.current.paste(text);
    };
    const onKey = (e: KeyboardEvent) => {
      const act = actOf(e);
      if (act && ours(e)) void now.current[act]();
    };
    window.addEventListener("copy", onCopy, true);
    window.addEventListener("paste", onPaste, true);
    window.addEventListener("keydown", onKey, true);
    return () => {
      window.removeEventListener("copy", onCopy, true);
      window.removeEventListener("paste", onPaste, true);
      window.removeEventListener("keydown", onKey, true);
    };
  }, [chosen, holder]);
}
