/** A number with its sign, a true minus; no sign on a zero. */
export function signed(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  return Number(text) === 0 ? text : `${value < 0 ? "−" : "+"}${text}`;
}
