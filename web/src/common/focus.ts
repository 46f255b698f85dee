/** Where the keys go: after a value is taken over, or a toggle was clicked, they belong to the work again. */

/** Leaves a field: arrows step along the road and Ctrl+Z undoes. In a dialog the field keeps the focus, so that Tab goes on. */
export function backToWork(field: HTMLElement): void {
  if (field.closest(".ant-modal")) {
    // What leaves takes over; the focus stays where it was.
    field.blur();
    field.focus();
  } else field.blur();
}

/** A toggle or list that was clicked with the mouse does not keep the arrows. */
export function letClickedGo(e: MouseEvent): void {
  if (e.detail === 0) return; // pressed by a key
  const on = document.activeElement;
  if (!(on instanceof HTMLElement) || on.closest(".ant-modal")) return;
  const toggle = on.matches("input[type=radio], input[type=checkbox]");
  const picked = on.matches("[role=combobox]") && (e.target as Element).closest(".ant-select-item-option") && !on.closest(".ant-select-multiple");
  if (toggle || picked) on.blur();
}

/** A list in which Enter chose does not keep the keys either. */
export function letChosenGo(e: KeyboardEvent): void {
  const box = e.target;
  if (e.key !== "Enter" || !(box instanceof HTMLElement) || !box.matches("[role=combobox][aria-expanded=true]")) return;
  if (!box.closest(".ant-modal, .ant-select-multiple")) window.setTimeout(() => box.blur());
}
