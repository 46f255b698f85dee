/** A field for a colour; its palette comes when one is first shown. */
import { later } from "./later";

export const ColourField = later(() => import("./ColourPicker").then((m) => m.ColourPicker));
