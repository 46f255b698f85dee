/** The lines of a group as a table: what is typed of each, and what came of it. */
import { useMemo } from "react";
import { usePlace } from "../../base/place";
import { CellTable } from "../../common/cells/CellTable";
import { chainages, numbers, numbersOrNone, shown, words } from "../../common/cells/columns";
import { type Line, lineTitle, type PlacedGroup } from "./lines";

interface Props {
  lines: Line[];
  placed: PlacedGroup | undefined;
  /** Row of the line in view. */
  current: number;
  choose: (row: number) => void;
  disabled: boolean;
  change: (lines: Line[]) => void;
}

/** Only lines at a chainage have one, and an angle. */
const notAt = (l: Line) => (l.kind === "at" ? null : "");
/** A path and a run are as long as they are. */
const wide = (l: Line) => (l.kind === "path" || l.kind === "run" ? "" : null);

const OWN = [
  words<Line>({ title: "Name", width: 90, most: 80, of: (l) => l.name, put: (l, name) => ({ ...l, name }), label: (_, i) => `Name of line ${i + 1}` }),
  chainages<Line>({
    of: (l) => (l.kind === "at" ? l.chainage : 0),
    put: (l, chainage) => (l.kind === "at" ? { ...l, chainage } : l),
    off: notAt,
    label: (_, i) => `Chainage of line ${i + 1}`,
  }),
  numbers<Line>({
    title: "Angle °",
    help: "Right of square",
    unit: "°",
    least: -80,
    most: 80,
    width: 66,
    of: (l) => (l.kind === "at" ? l.angle_deg : 0),
    put: (l, angle_deg) => (l.kind === "at" ? { ...l, angle_deg } : l),
    off: notAt,
    label: (_, i) => `Angle of line ${i + 1}`,
  }),
  ...(["left", "right"] as const).map((side) =>
    numbersOrNone<Line>({
      title: side === "left" ? "Left m" : "Right m",
      unit: "m",
      least: 0,
      most: 500,
      none: "the group's",
      width: 84,
      of: (l) => l[side] ?? null,
      put: (l, v) => ({ ...l, [side]: v }),
      off: wide,
      label: (_, i) => `Width ${side} of line ${i + 1}`,
    }),
  ),
  words<Line>({
    title: "Remark",
    width: 140,
    most: 400,
    of: (l) => l.remark,
    put: (l, remark) => ({ ...l, remark }),
    label: (_, i) => `Remark of line ${i + 1}`,
  }),
];

export function LineTable({ lines, placed, current, choose, disabled, change }: Props) {
  const { chainage } = usePlace();
  const columns = useMemo(
    () => [
      shown<Line>({
        title: "Line",
        right: false,
        width: 150,
        of: (l, i) => {
          const many = l.kind === "regular" ? (placed?.lines.filter((p) => p.number === i).length ?? 0) : 0;
          return many ? `${lineTitle(l)} (${many})` : lineTitle(l);
        },
        className: (_, i) => (placed?.wrong.some((w) => w.number === i) ? "cells-bad" : undefined),
      }),
      ...OWN,
    ],
    [placed],
  );
  return (
    <>
      <CellTable<Line>
        label="Lines of the group"
        rows={lines}
        columns={columns}
        disabled={disabled}
        change={change}
        movable
        fresh={() => ({ kind: "at", name: "", remark: "", left: null, right: null, chainage: Number(chainage.toFixed(3)), angle_deg: 0 })}
        current={current}
        onRow={choose}
        empty="No lines yet: add some, or pick them in plan."
      />
      {placed?.wrong.map((w) => (
        <p key={w.number} role="alert" style={{ color: "var(--fault)", margin: "4px 0" }}>
          {lines[w.number] ? lineTitle(lines[w.number]!) : "A line"}: {w.why}
        </p>
      ))}
    </>
  );
}
