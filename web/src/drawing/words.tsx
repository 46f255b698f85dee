/** The head and the line below a drawing: its buttons, and what is under the pointer. */
import { Button, Tooltip } from "antd";
import { memo } from "react";
import type { SectionView } from "../api/hooks";
import { signed } from "../common/signed";
import type { Moved } from "./before";
import { levelAt, type Vertex } from "./scale";
import type { Mark } from "./snap";

interface HeadProps {
  high: number;
  measuring: boolean;
  exaggerate: () => void;
  measure: () => void;
  fit: () => void;
}

/** Not rendered anew at every picture while something is dragged. */
export const HeadButtons = memo(function HeadButtons({ high, measuring, exaggerate, measure, fit }: HeadProps) {
  return (
    <>
      <Tooltip title="Exaggerate heights (X)">
        <Button size="small" aria-label={`Exaggeration: ×${high} high`} onClick={exaggerate}>
          ×{high} high
        </Button>
      </Tooltip>
      <Tooltip title="Measure between two points (M)">
        <Button size="small" type={measuring ? "primary" : "default"} aria-pressed={measuring} onClick={measure}>
          Measure
        </Button>
      </Tooltip>
      <Button size="small" onClick={fit}>
        Fit
      </Button>
    </>
  );
});

interface ReadoutProps {
  at: Vertex;
  section: SectionView | undefined;
  designs: Vertex[][] | undefined;
  before: SectionView | undefined;
  stretched: boolean | undefined;
}

export function Readout({ at, section, designs, before, stretched }: ReadoutProps) {
  const existing = section ? levelAt(section.existing, at[0]) : null;
  const design = designs ? levelAt(designs, at[0]) : null;
  const earlier = before ? levelAt([before.design], at[0]) : null;
  const by = design !== null && earlier !== null ? 1000 * (design - earlier) : 0;
  return (
    <>
      {signed(at[0], 3)} m{!stretched && `, level ${at[1].toFixed(3)}`}
      {existing !== null && ` · existing ${existing.toFixed(3)}`}
      {design !== null && ` · design ${design.toFixed(3)}`}
      {existing !== null && design !== null && ` · ${signed(1000 * (design - existing), 0)} mm`}
      {Math.abs(by) >= 0.05 && ` · before ${earlier!.toFixed(3)}, ${signed(by, Math.abs(by) < 1 ? 1 : 0)} mm`}
    </>
  );
}

export function MovedWords({ moved }: { moved: Moved }) {
  const mm = (v: number) => `${signed(1000 * v, 0)} mm`;
  return (
    <span role="status" aria-label="Since the last change">
      since the last change: {moved.hinge !== null && `hinge ${mm(moved.hinge)}, `}
      {moved.least < -5e-5 && moved.greatest > 5e-5
        ? `${mm(moved.least)} to ${mm(moved.greatest)}`
        : `up to ${mm(moved.greatest > -moved.least ? moved.greatest : moved.least)}`}
    </span>
  );
}

export function Measured({ a, b }: { a: Mark; b: Mark }) {
  const across = b.at[0] - a.at[0];
  const up = b.at[1] - a.at[1];
  const ratio = up !== 0 ? Math.abs(across / up) : Infinity;
  return (
    <span role="status" aria-label="Measured">
      {(a.name || b.name) && `${a.name || "place"} to ${b.name || "place"}: `}across {signed(across, 3)} m, up {signed(up, 3)} m
      {across !== 0 && `, ${signed((100 * up) / Math.abs(across), 2)} %`}
      {Number.isFinite(ratio) && `, 1 in ${ratio.toFixed(2)}`}
    </span>
  );
}
