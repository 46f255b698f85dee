/** Intersection points as a table; in plan they can be dragged. */
import { CellTable } from "../../common/cells/CellTable";
import { type Column, numbers, shown } from "../../common/cells/columns";
import type { Ip } from "./hooks";

const nowhere = (first: boolean, last: boolean) => (first ? "start" : last ? "end" : null);

/** What an end of the alignment has not. */
function bent(title: string, name: string, least: number, field: "radius" | "transition_in" | "transition_out", last: number): Column<Ip> {
  return numbers<Ip>({
    title,
    unit: "m",
    least,
    width: 96,
    of: (p) => p[field],
    put: (p, v) => ({ ...p, [field]: v }),
    off: (_, i) => nowhere(i === 0, i === last),
    label: (_, i) => `${name} IP ${i + 1}`,
  });
}

/** A point halfway between two others, a little to one side: else it would be no corner. */
function halfway(ips: readonly Ip[], i: number): Ip {
  const [a, b] = i < ips.length ? [ips[i - 1]!, ips[i]!] : [ips.at(-2)!, ips.at(-1)!];
  return {
    east: (a.east + b.east) / 2 + (b.north - a.north) / 20,
    north: (a.north + b.north) / 2 - (b.east - a.east) / 20,
    radius: 300,
    transition_in: 0,
    transition_out: 0,
  };
}

/** A point behind the last one, as far on as the last leg is long. */
function onwards(ips: readonly Ip[]): Ip {
  const [a, b] = [ips.at(-2)!, ips.at(-1)!];
  return { east: 2 * b.east - a.east, north: 2 * b.north - a.north, radius: 300, transition_in: 0, transition_out: 0 };
}

export function IpTable({ ips, disabled, change }: { ips: Ip[]; disabled: boolean; change: (ips: Ip[]) => void }) {
  const last = ips.length - 1;
  const columns = [
    shown<Ip>({ title: "IP", width: 40, of: (_, i) => String(i + 1) }),
    numbers<Ip>({
      title: "Easting m",
      decimals: 3,
      unit: "m",
      width: 118,
      of: (p) => p.east,
      put: (p, east) => ({ ...p, east }),
      label: (_, i) => `Easting of IP ${i + 1}`,
    }),
    numbers<Ip>({
      title: "Northing m",
      decimals: 3,
      unit: "m",
      width: 118,
      of: (p) => p.north,
      put: (p, north) => ({ ...p, north }),
      label: (_, i) => `Northing of IP ${i + 1}`,
    }),
    bent("Radius m", "Radius at", 1, "radius", last),
    bent("Transition in m", "Transition into", 0, "transition_in", last),
    bent("Transition out m", "Transition out of", 0, "transition_out", last),
  ];
  return (
    <CellTable<Ip>
      label="Intersection points"
      height="fill"
      rows={ips}
      columns={columns}
      disabled={disabled}
      change={change}
      least={2}
      fresh={(all, i) => (i === 0 || i >= all.length ? onwards(i === 0 ? [...all].reverse() : all) : halfway(all, i))}
    />
  );
}
