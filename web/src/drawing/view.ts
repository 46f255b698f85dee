/** How a person looks at sections: exaggeration, zoom and scale, kept by the browser for each kind of view across stops and reloads. */
import { type ZoomTransform, zoomIdentity } from "d3-zoom";
import type { SectionView } from "../api/hooks";
import { keptStore } from "../common/store";
import { type Fit, fitted, levelAt, type Vertex } from "./scale";

export const EXAGGERATIONS = [1, 2, 5, 10];
/** The least cover is to be seen at the first look: so many pixels high. */
const SEEN = 8;

export interface Look {
  high: number;
  zoom: { k: number; x: number; y: number };
  /** The section before the last change is drawn behind. */
  before: boolean;
  /** The overlay is drawn many times as high above the old surface. */
  stretched: boolean;
  /** Pixels per metre, and where the middle of the box lies from the hinge; null before the first section was fitted. */
  scale: number | null;
  from: Vertex;
  /** Of the box that it was fitted into: another one is fitted anew. */
  box: [number, number];
}

interface Size {
  width: number;
  height: number;
}

const KEPT = "tin-saddle looks";
const FIRST: Look = { high: 0, zoom: { k: 1, x: 0, y: 0 }, before: true, stretched: false, scale: null, from: [0, 0], box: [0, 0] };

/** By the name of the view; what an earlier release kept may lack something. */
const looks = keptStore<Readonly<Record<string, Partial<Look>>>>(KEPT, {});
/** The same look is the same object, so that nothing is drawn anew for it. */
const whole = new WeakMap<Partial<Look>, Look>();

export function lookOf(view: string | undefined): Look {
  const kept = view && looks.get()[view];
  if (!kept) return FIRST;
  const found = whole.get(kept) ?? { ...FIRST, ...kept };
  whole.set(kept, found);
  return found;
}

/** How one looks at a kind of view; drawings side by side of one kind share it. */
export function useLook(view: string | undefined): Look {
  return looks.use(() => lookOf(view));
}

export function keepLook(view: string | undefined, part: Partial<Look>): void {
  if (!view) return;
  looks.set({ ...looks.get(), [view]: { ...lookOf(view), ...part } });
}

export function zoomOf(look: Look): ZoomTransform {
  return zoomIdentity.translate(look.zoom.x, look.zoom.y).scale(look.zoom.k);
}

/** What a section is held by: its hinge, else the ground at the alignment. */
function anchorOf(section: SectionView): Vertex | null {
  if (section.hinge) return section.hinge;
  const ground = levelAt(section.existing, 0);
  return ground === null ? null : [0, ground];
}

/** The exaggeration at which the least cover is seen, where one is asked for. */
export function firstHigh(section: SectionView | undefined, size: Size): number {
  if (!section || section.least_cover === null) return 1;
  const cover = section.least_cover;
  return EXAGGERATIONS.find((high) => cover * fitted(section, size, high).scale * high >= SEEN) ?? EXAGGERATIONS.at(-1)!;
}

/** Whether the scale that is kept was found for such a box. */
export function holds(look: Look, size: Size): boolean {
  return look.scale !== null && Math.abs(look.box[0] - size.width) < 3 && Math.abs(look.box[1] - size.height) < 3;
}

/** The place of a section in its box: as the one before stood, hinge upon hinge, so that stepping keeps the picture still. */
export function stillFitted(section: SectionView | undefined, size: Size, high: number, look: Look): Fit {
  const fresh = fitted(section, size, high);
  const anchor = section && anchorOf(section);
  if (look.scale === null || !holds(look, size) || !anchor) return fresh;
  return { ...fresh, scale: look.scale, offset: anchor[0] + look.from[0], level: anchor[1] + look.from[1] };
}

/** What is held of a section that was just fitted. */
export function heldOf(section: SectionView, fit: Fit, size: Size): Pick<Look, "scale" | "from" | "box"> {
  const anchor = anchorOf(section);
  const box: [number, number] = [size.width, size.height];
  return anchor ? { scale: fit.scale, from: [fit.offset - anchor[0], fit.level - anchor[1]], box } : { scale: null, from: [0, 0], box };
}
