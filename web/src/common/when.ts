/** A time as people write it: "26 Nov 2026, 21:40". */
export function when(at: string): string {
  return new Date(at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });
}
