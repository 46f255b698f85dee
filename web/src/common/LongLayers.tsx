/** What a long section carries besides its lines: the plan's curvature on top, structures, and a profile's figures. */
import type { Schemas } from "../api/client";
import { type Summary, useDocument } from "../api/hooks";
import { chainageText } from "../base/chainage";
import { colour } from "../base/theme";
import type { Scales } from "./AlongChart";

type Structure = Schemas["BeneathOut"];
export type ProfileLook = Schemas["ProfileOut"];

/** px that the band takes above the plot. */
export const BAND = 34;

/** Curvature of the plan, right turns up and left turns down, and beneath it the vertical curves; one on the other is marked. */
export function CurvatureBand({ scales: { x, left, right }, curves, look }: { scales: Scales; curves: Summary["curves"]; look?: ProfileLook }) {
  const sharpest = Math.max(1e-9, ...curves.map((c) => Math.max(Math.abs(c.first), Math.abs(c.last))));
  const y = (k: number) => 12 - (k / sharpest) * 8;
  return (
    <g>
      <line x1={left} x2={right} y1={12} y2={12} stroke={colour.tin400} strokeWidth={0.8} />
      {curves.map((c) => {
        const [a, b] = [x(c.start), x(c.end)];
        const radius = c.first !== 0 && c.first === c.last ? 1 / Math.abs(c.first) : null;
        return (
          <g key={c.start}>
            <polygon points={`${a},12 ${a},${y(c.first)} ${b},${y(c.last)} ${b},12`} fill={colour.tin200} stroke={colour.tin600} strokeWidth={0.8} />
            {radius && b - a > 52 && (
              <text x={(a + b) / 2} y={c.first > 0 ? 22 : 9} textAnchor="middle" className="mono">
                R {radius.toFixed(0)}
              </text>
            )}
          </g>
        );
      })}
      {look?.ips.map((ip, i) => {
        const p = look.spec.points[i]!;
        if (ip.length === 0) return null;
        const both = ip.arcs.length > 0;
        const [a, b] = [x(p.chainage - p.length_in), x(p.chainage + p.length_out)];
        return (
          <rect key={i} x={a} width={Math.max(2, b - a)} y={25} height={5} fill={both ? colour.caution : colour.sound} fillOpacity={0.75}>
            <title>{`Vertical curve ${chainageText(p.chainage - p.length_in, 1)} to ${chainageText(p.chainage + p.length_out, 1)}${both ? (ip.within_arc ? ", within a curve of the plan" : ", partly on a curve of the plan") : ""}`}</title>
          </rect>
        );
      })}
    </g>
  );
}

/** Pits and pipes; those with too little above them are filled. */
export function StructuresBeneath({ scales: { x, y }, structures, short = [] }: { scales: Scales; structures: Structure[]; short?: string[] }) {
  return (
    <>
      {structures.map((s, i) => (
        <g key={i} stroke={short.includes(s.name) ? colour.fault : colour.short} fill={short.includes(s.name) ? colour.fault : colour.white} strokeWidth={1.6}>
          <title>{`${s.name} at ${chainageText(s.chainage)}: ${s.top?.toFixed(3) ?? "not known"} to ${s.bottom?.toFixed(3) ?? "not known"}`}</title>
          {s.top === null || s.bottom === null ? (
            <path d={`M${x(s.chainage) - 4},${y(s.top ?? s.bottom ?? 0)}h8`} />
          ) : s.kind === "pit" ? (
            <rect x={x(s.chainage) - 3} width={6} y={y(s.top)} height={Math.max(3, y(s.bottom) - y(s.top))} />
          ) : (
            <ellipse cx={x(s.chainage)} cy={y((s.top + s.bottom) / 2)} rx={3.5} ry={Math.max(3, (y(s.bottom) - y(s.top)) / 2)} />
          )}
        </g>
      ))}
    </>
  );
}

/** Other roads that come near: their hinges, named where they have most room. */
export function RoadsAlong({ scales: { x, y, top, bottom }, roads }: { scales: Scales; roads: Schemas["RoadAlongOut"][] }) {
  return (
    <>
      {roads.map((road) => {
        const longest = road.runs.reduce((a, b) => (b.length > a.length ? b : a));
        const [c, z] = longest[Math.floor(longest.length / 2)] as [number, number];
        return (
          <g key={road.key}>
            <title>{`Hinge of ${road.name}`}</title>
            {road.runs.map((run, i) => (
              <polyline
                key={i}
                points={run.map(([c, z]) => `${x(c!).toFixed(1)},${y(z!).toFixed(1)}`).join(" ")}
                fill="none"
                stroke={colour.tin600}
                strokeDasharray="12 4"
                strokeWidth={1.1}
              />
            ))}
            {y(z) > top && y(z) < bottom && (
              <text x={x(c)} y={y(z) + 14} textAnchor="middle" fill={colour.tin800} stroke={colour.white} strokeWidth={3} paintOrder="stroke">
                {road.name}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

/** Remarks of the designers: a flag at a place, a bar over a range, its words where there is room. */
export function RemarksAlong({ scales: { x, top, bottom, left, right } }: { scales: Scales }) {
  const remarks = useDocument("remarks")?.spec.remarks ?? [];
  const places = remarks.map((r) => x(r.from_chainage));
  const roomy = withRoom(
    places,
    places.map((p) => p >= left && p <= right),
    90,
  );
  return (
    <g stroke={colour.saddle700} role="group" aria-label="Remarks">
      {remarks.map((r, i) => (
        <g key={i}>
          <title>{`${chainageText(r.from_chainage)}${r.to_chainage == null ? "" : ` to ${chainageText(r.to_chainage)}`}: ${r.text}`}</title>
          <line x1={places[i]} x2={places[i]} y1={top} y2={bottom} strokeDasharray="2 4" />
          {r.to_chainage != null && <line x1={places[i]} x2={x(r.to_chainage)} y1={top + 2} y2={top + 2} strokeWidth={2.4} />}
          {roomy.has(i) && (
            <text x={places[i]! + 4} y={top + 14} style={{ fill: colour.saddle700, stroke: "none" }}>
              {r.text.length > 24 ? `${r.text.slice(0, 23)}…` : r.text}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}

/** Which places, of those that have something to say, stand more than `gap` px from the one before that says it. */
function withRoom(places: number[], speaks: boolean[], gap: number): Set<number> {
  const found = new Set<number>();
  let last = -Infinity;
  places.forEach((at, i) => {
    if (!speaks[i] || at - last <= gap) return;
    found.add(i);
    last = at;
  });
  return found;
}

/** A profile: tangents and parabolas; with words, grades, lengths and K are written where there is room. */
export function ProfileLines({
  scales: { x, y, top, bottom },
  look,
  tone = colour.sound,
  words = true,
}: {
  scales: Scales;
  look: ProfileLook;
  tone?: string;
  words?: boolean;
}) {
  const points = look.spec.points;
  const places = points.map((p) => x(p.chainage));
  const roomy = withRoom(
    places,
    look.ips.map((ip) => ip.change !== null),
    84,
  );
  return (
    <g>
      <polyline points={points.map((p) => `${x(p.chainage)},${y(p.level)}`).join(" ")} fill="none" stroke={tone} strokeWidth={0.9} strokeDasharray="2 3" />
      <polyline points={look.drawn.map(([c, z]) => `${x(c)},${y(z)}`).join(" ")} fill="none" stroke={tone} strokeWidth={2} />
      {points.map((p, i) => {
        const ip = look.ips[i]!;
        const next = points[i + 1];
        const width = next ? x(next.chainage) - x(p.chainage) : 0;
        const room = roomy.has(i);
        return (
          <g key={i}>
            <circle cx={x(p.chainage)} cy={y(p.level)} r={2} fill={tone} />
            {words && next && width > 60 && (
              <text
                x={(x(p.chainage) + x(next.chainage)) / 2}
                y={Math.min(bottom - 6, (y(p.level) + y(next.level)) / 2 + 18)}
                textAnchor="middle"
                className="mono"
                style={{ fill: ip.grade_out !== null && Math.abs(ip.grade_out) > look.most_grade + 1e-4 ? colour.fault : colour.tin800 }}
              >
                {`${ip.grade_out! > 0 ? "+" : ip.grade_out! < 0 ? "−" : ""}${Math.abs(ip.grade_out!).toFixed(2)} %`}
                {width > 140 && `, ${(next.chainage - p.chainage).toFixed(1)} m`}
              </text>
            )}
            {words && ip.change !== null && room && (
              <text
                x={x(p.chainage)}
                y={Math.min(bottom - 6, Math.max(top + 10, y(p.level) - 14))}
                textAnchor="middle"
                className="mono"
                style={{ fill: ip.remarks.length > 0 ? colour.fault : colour.tin800 }}
              >
                {ip.k === null ? `${ip.change.toFixed(2)} %` : `K ${ip.k.toFixed(1)} L ${ip.length.toFixed(0)}`}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}
