/** How a section stands in its box: fitted, zoomed, exaggerated; kept from section to section under the name of a look. */
import { zoom, zoomIdentity, type D3ZoomEvent, type ZoomBehavior, type ZoomTransform } from "d3-zoom";
import { select } from "d3-selection";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { SectionView } from "../api/hooks";
import { fitted, type Vertex } from "./scale";
import { EXAGGERATIONS, firstHigh, heldOf, holds, keepLook, lookOf, stillFitted, useLook, zoomOf } from "./view";

/** Before the box is known. */
const UNMEASURED = { width: 800, height: 300 };

interface Asked {
  section: SectionView | undefined;
  /** What is fitted stays as it is until this changes. */
  fitTo: unknown;
  look: string | undefined;
  beginHigh: number;
  within: [number, number] | undefined;
}

export function useFitting({ section, fitTo, look, beginHigh, within }: Asked) {
  const svg = useRef<SVGSVGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown>>(undefined);
  const [size, setSize] = useState(UNMEASURED);
  const kept = useLook(look);
  const [view, setView] = useState<ZoomTransform>(() => zoomOf(kept));
  const [ownHigh, setOwnHigh] = useState(beginHigh);

  const now = useMemo(() => ({ to: fitTo, section, within }), [fitTo, section, within]);
  const [held, setHeld] = useState(now);
  const stale = fitTo !== undefined && (held.to !== fitTo || (!held.section && section !== undefined));
  if (stale) setHeld(now);
  const fit = fitTo === undefined || stale ? now : held;
  const high = look ? kept.high || firstHigh(section, size) : ownHigh;
  const base = useMemo(() => (look ? stillFitted(fit.section, size, high, kept) : fitted(fit.section, size, high, fit.within)), [look, fit, size, high, kept]);
  // The first section that is fitted into such a box gives the scale of those after it, and of those beside it.
  const unheld = look !== undefined && size !== UNMEASURED && section !== undefined && !holds(kept, size);
  useEffect(() => {
    if (!unheld || holds(lookOf(look), size)) return;
    const held = heldOf(section, base, size);
    if (held.scale !== null) keepLook(look, held);
  }, [unheld, look, section, base, size]);
  const nextHigh = () => {
    const next = EXAGGERATIONS[(EXAGGERATIONS.indexOf(high) + 1) % EXAGGERATIONS.length]!;
    if (look) keepLook(look, { high: next, scale: null });
    else setOwnHigh(next);
  };
  const onX = useRef(nextHigh);
  useEffect(() => {
    onX.current = nextHigh;
  });
  const exaggerate = useCallback(() => onX.current(), []);
  const fitAgain = useCallback(() => {
    if (svg.current) behaviour.current?.transform(select(svg.current), zoomIdentity);
    // The scale of the sections is found anew too: another road may lie beside this one now.
    if (look) keepLook(look, { scale: null });
  }, [look]);
  const x = useCallback((o: number) => view.applyX(base.left + (o - base.offset) * base.scale), [view, base]);
  const y = useCallback((z: number) => view.applyY(base.middle - (z - base.level) * base.scale * high), [view, base, high]);

  useEffect(() => {
    const node = svg.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setSize({ width: node.clientWidth || 800, height: node.clientHeight || 300 }));
    watch.observe(node);
    const z = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.2, 400])
      .filter((e: MouseEvent) => !e.button && !(e.target as Element).closest("[data-grab]"))
      .on("zoom", (e: D3ZoomEvent<SVGSVGElement, unknown>) => {
        setView(e.transform);
        keepLook(look, { zoom: { k: e.transform.k, x: e.transform.x, y: e.transform.y } });
      });
    behaviour.current = z;
    const drawn = select(node);
    drawn.call(z).on("dblclick.zoom", null);
    if (look) z.transform(drawn, zoomOf(lookOf(look)));
    drawn.on("dblclick", () => z.transform(drawn, zoomIdentity));
    return () => {
      watch.disconnect();
      drawn.on(".zoom", null).on("dblclick", null);
    };
  }, [look]);

  const toPoint = (e: React.PointerEvent | React.MouseEvent): Vertex => {
    const box = svg.current!.getBoundingClientRect();
    const [px, py] = view.invert([e.clientX - box.left, e.clientY - box.top]);
    return [base.offset + (px - base.left) / base.scale, base.level - (py - base.middle) / (base.scale * high)];
  };
  return { svg, size, base, high, x, y, toPoint, exaggerate, fitAgain };
}
