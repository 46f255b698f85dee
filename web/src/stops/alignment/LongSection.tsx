/** The road from the side: existing and design levels, profiles, pits and pipes; heights are exaggerated to fit. */
import { scaleLinear } from "d3-scale";
import { useEffect, useRef, useState } from "react";
import { api, dataOf } from "../../api/client";
import { useModel } from "../../api/hooks";
import { chainageText } from "../../app/chainage";
import { usePlace } from "../../app/place";
import { colour } from "../../app/theme";

const LEFT = 52;

export function LongSection() {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 200 });
  const place = usePlace();
  const data = useModel("long-section", async (project_id) => dataOf(await api.GET("/api/projects/{project_id}/model/long-section", { params: { path: { project_id } } }))).data;
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setSize({ width: e!.contentRect.width, height: e!.contentRect.height }));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const known = data ? [...data.existing, ...data.design, ...Object.values(data.profiles).flat()].filter((v): v is number => v !== null) : [];
  const structures = data?.structures ?? [];
  const low = Math.min(...known, ...structures.map((s) => s.bottom));
  const high = Math.max(...known, ...structures.map((s) => s.top));
  const x = scaleLinear([data?.chainage[0] ?? 0, data?.chainage.at(-1) ?? 1], [LEFT, size.width - 10]);
  const y = scaleLinear([low, high], [size.height - 26, 14]);
  const line = (levels: (number | null)[]) => {
    let pen = "M";
    return levels
      .map((z, i) => {
        if (z === null) {
          pen = "M";
          return "";
        }
        const out = `${pen}${x(data!.chainage[i]!).toFixed(1)} ${y(z).toFixed(1)}`;
        pen = "L";
        return out;
      })
      .join("");
  };
  const exaggeration = (x(1) - x(0)) > 0 && high > low ? Math.abs(y(1) - y(0)) / (x(1) - x(0)) : 1;
  return (
    <div ref={box} style={{ height: "100%", background: "var(--white)" }}>
      {data && known.length > 1 && (
        <svg width={size.width} height={size.height} role="img" aria-label="Long section" style={{ display: "block" }} onClick={(e) => place.goToChainage(x.invert(e.clientX - box.current!.getBoundingClientRect().left))}>
          {y.ticks(5).map((z) => (
            <g key={z}>
              <line x1={LEFT} x2={size.width} y1={y(z)} y2={y(z)} stroke={colour.tin100} />
              <text x={LEFT - 6} y={y(z) + 3.5} textAnchor="end" className="mono" fontSize={10} fill={colour.tin600}>
                {z.toFixed(1)}
              </text>
            </g>
          ))}
          {x.ticks(Math.max(3, Math.floor(size.width / 120))).map((c) => (
            <text key={c} x={x(c)} y={size.height - 6} textAnchor="middle" className="mono" fontSize={10} fill={colour.tin600}>
              {chainageText(c, 0)}
            </text>
          ))}
          <path d={line(data.existing)} fill="none" stroke={colour.tin600} strokeWidth={1.4} />
          <path d={line(data.design)} fill="none" stroke={colour.tin950} strokeWidth={1.8} />
          {Object.entries(data.profiles).map(([name, levels]) => (
            <path key={name} d={line(levels)} fill="none" stroke={colour.sound} strokeWidth={1.4} strokeDasharray="6 3">
              <title>{name}</title>
            </path>
          ))}
          {structures.map((s, i) => (
            <g key={i} stroke={colour.short} fill={colour.white} strokeWidth={1.6}>
              <title>{`${s.name} at ${chainageText(s.chainage)}: ${s.top.toFixed(3)} to ${s.bottom.toFixed(3)}`}</title>
              {s.kind === "pit" ? (
                <rect x={x(s.chainage) - 3} width={6} y={y(s.top)} height={Math.max(3, y(s.bottom) - y(s.top))} />
              ) : (
                <ellipse cx={x(s.chainage)} cy={y((s.top + s.bottom) / 2)} rx={3} ry={Math.max(3, (y(s.bottom) - y(s.top)) / 2)} />
              )}
            </g>
          ))}
          <line x1={x(place.chainage)} x2={x(place.chainage)} y1={0} y2={size.height - 18} stroke={colour.saddle500} strokeDasharray="4 3" />
          <text x={LEFT + 4} y={12} fontSize={11} fill={colour.tin600}>
            existing, design, profiles; pits and pipes. Heights ×{exaggeration.toFixed(0)}
          </text>
        </svg>
      )}
    </div>
  );
}
