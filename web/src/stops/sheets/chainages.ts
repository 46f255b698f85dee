/** A list of chainages typed in one field, divided by blanks, commas or semicolons. */
import { chainageText, readChainage } from "../../base/chainage";

const parts = (text: string) => text.split(/[;,\s]+/).filter((p) => p !== "");

export const readChainages = {
  written: (chainages: number[]) => chainages.map((c) => chainageText(c, 3)).join("  "),
  wrong: (text: string) => {
    const bad = parts(text).find((p) => readChainage(p).value === null);
    return bad === undefined ? null : `“${bad}” is not a chainage of this road`;
  },
  read: (text: string) => parts(text).map((p) => readChainage(p).value!),
};
