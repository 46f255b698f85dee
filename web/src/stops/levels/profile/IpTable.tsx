/** All IPs of a profile: what is typed, what follows, what breaks a limit. Rows are marked for changes of many at once. */
import { Checkbox } from "antd";
import { useMemo } from "react";
import { AlongTable, chainageOf } from "../../../common/cells/AlongTable";
import { drawn, numbers, shown } from "../../../common/cells/columns";
import type { ProfileLook } from "../../../common/LongLayers";
import { signed } from "../../../common/signed";
import type { Profile } from "./profile";

type Point = Profile["points"][number];

interface Props {
  look: ProfileLook;
  chosen: number;
  choose: (i: number) => void;
  marked: Set<number>;
  mark: (m: Set<number>) => void;
  mayEdit: boolean;
  /** Takes all IPs as they are typed. */
  write: (points: Point[]) => void;
}

/** The first and the last one have no curve. */
const tidy = (points: Point[]): Point[] => points.map((p, i) => (i === 0 || i === points.length - 1 ? { ...p, length_in: 0, length_out: 0 } : p));

export function IpTable({ look, chosen, choose, marked, mark, mayEdit, write }: Props) {
  const { ips } = look;
  const points = look.spec.points;
  const columns = useMemo(() => {
    const ip = (i: number) => ips[i];
    const figure = (value: number | null | undefined, decimals: number, sign = false) =>
      value === null || value === undefined ? "" : sign ? signed(value, decimals) : value.toFixed(decimals);
    const uncurved = (_: Point, i: number) => (ip(i)?.change === null ? "" : null);
    return [
      drawn<Point>({
        title: "",
        key: "mark",
        width: 34,
        render: (_, i) => (
          <Checkbox
            aria-label={`Mark IP ${i + 1}`}
            checked={marked.has(i)}
            onChange={() => mark(marked.has(i) ? new Set([...marked].filter((m) => m !== i)) : new Set([...marked, i]))}
          />
        ),
      }),
      shown<Point>({
        title: "IP",
        width: 44,
        of: (_, i) => `${i + 1}${(ip(i)?.remarks.length ?? 0) > 0 ? " !" : ""}`,
        className: (_, i) => ((ip(i)?.remarks.length ?? 0) > 0 ? "cells-bad" : undefined),
      }),
      chainageOf<Point>((i) => `of IP ${i + 1}`),
      numbers<Point>({
        title: "Level m",
        decimals: 3,
        unit: "m",
        width: 84,
        of: (p) => p.level,
        put: (p, level) => ({ ...p, level }),
        label: (_, i) => `Level of IP ${i + 1}`,
      }),
      shown<Point>({ title: "Grade in %", of: (_, i) => figure(ip(i)?.grade_in, 2, true) }),
      shown<Point>({ title: "Change %", of: (_, i) => figure(ip(i)?.change, 2, true) }),
      numbers<Point>({
        title: "Curve m",
        unit: "m",
        least: 0,
        of: (p) => Number((p.length_in + p.length_out).toFixed(3)),
        put: (p, length) => ({ ...p, length_in: length / 2, length_out: length / 2 }),
        off: uncurved,
        label: (_, i) => `Curve of IP ${i + 1}`,
      }),
      numbers<Point>({
        title: "K",
        help: "Length of the vertical curve per percent of change of grade, m/%",
        unit: "m/%",
        least: 0,
        width: 60,
        of: (_, i) => Number((ip(i)?.k ?? 0).toFixed(1)),
        put: (p, k, i) => {
          const length = k * Math.abs(ip(i)?.change ?? 0);
          return { ...p, length_in: length / 2, length_out: length / 2 };
        },
        off: uncurved,
        label: (_, i) => `K of IP ${i + 1}`,
      }),
      shown<Point>({ title: "Longest m", help: "The longest curve that fits between its neighbours", of: (_, i) => figure(ip(i)?.longest, 1) }),
      shown<Point>({ title: "High, low at", help: "Chainage of the highest or lowest point of the curve", width: 84, of: (_, i) => figure(ip(i)?.turn, 1) }),
      shown<Point>({
        title: "On a bend",
        right: false,
        of: (_, i) => ((ip(i)?.length ?? 0) > 0 && (ip(i)?.arcs.length ?? 0) > 0 ? (ip(i)!.within_arc ? "within" : "partly") : ""),
        className: () => "cells-caution",
      }),
    ];
  }, [ips, marked, mark]);
  const every = points.map((_, i) => i);
  return (
    <AlongTable<Point>
      label="IPs of the profile"
      height="fill"
      rows={points}
      columns={columns}
      disabled={!mayEdit}
      change={(next) => {
        if (next.length !== points.length) mark(new Set());
        write(next);
      }}
      tidy={tidy}
      least={2}
      fresh={(chainage, all, i) => {
        const [a, b] = [all[Math.max(0, i - 1)] ?? all[0], all[Math.min(i, all.length - 1)] ?? all[0]];
        return { chainage, level: Number((((a?.level ?? 0) + (b?.level ?? 0)) / 2).toFixed(3)), length_in: 0, length_out: 0 };
      }}
      current={chosen}
      onRow={(i) => {
        choose(i);
      }}
      also={
        <Checkbox
          checked={marked.size > 0 && marked.size >= every.length}
          indeterminate={marked.size > 0 && marked.size < every.length}
          onChange={() => mark(marked.size ? new Set() : new Set(every))}
        >
          Mark all IPs
        </Checkbox>
      }
    />
  );
}
