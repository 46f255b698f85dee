/** The outline of a template: halves, points, strips, kerbs, boxing, ladder. */
import { PlusOutlined } from "@ant-design/icons";
import { Button } from "antd";
import type { ReactNode } from "react";
import { chainOf, drawnSide, halfOf, type Kerbs, numberOf, type Sel, type SelKind, type Side, type Template } from "./spec";
import type { BenchView } from "./useTryOut";

interface Props {
  spec: Template;
  side: Side;
  kerbs: Kerbs;
  view: BenchView | undefined;
  sel: Sel | null;
  uses: Map<string, string>;
  mayEdit: boolean;
  select: (sel: Sel) => void;
  add: (kind: SelKind) => void;
}

export function Outline({ spec, side, kerbs, view, sel, uses, mayEdit, select, add }: Props) {
  const half = halfOf(spec, side);
  const drawn = drawnSide(spec, side);
  const at = (name: string) => view?.points.find((p) => p.name === name && p.side === side);
  const wrong = new Set(view?.faults.filter((f) => !f.where.includes("half ") || f.where.startsWith(side) || !spec.left).flatMap((f) => f.names) ?? []);
  const chosen = (kind: SelKind, name: string) => sel?.kind === kind && sel.name === name && sel.side === drawn;
  const item = (kind: SelKind, name: string, figure?: ReactNode) => (
    <button
      key={`${kind} ${name}`}
      type="button"
      className={`outline-item${wrong.has(name) ? " wrong" : ""}`}
      aria-pressed={chosen(kind, name)}
      onClick={() => select({ kind, side: drawn, name })}
    >
      <span className="name">{name}</span>
      <span className="figure">{figure}</span>
    </button>
  );
  const group = (title: string, kind: SelKind, children: ReactNode, word: string) => (
    <section aria-label={title}>
      <h3>
        {title}
        {mayEdit && <Button type="text" size="small" aria-label={`Add ${word}`} title={`Add ${word}`} icon={<PlusOutlined />} onClick={() => add(kind)} />}
      </h3>
      {children}
    </section>
  );
  const chain = chainOf(half, kerbs);
  const loose = half.strips.filter((s) => !chain.some((c) => c.kind === "strip" && c.name === s.name));
  return (
    <nav className="outline" aria-label="Outline">
      <button
        type="button"
        className="outline-item"
        aria-pressed={sel?.kind === "template"}
        onClick={() => select({ kind: "template", side: drawn, name: "" })}
      >
        <span className="name">Template</span>
      </button>
      <button
        type="button"
        className="outline-item"
        aria-pressed={sel?.kind === "dimensions"}
        onClick={() => select({ kind: "dimensions", side: drawn, name: "" })}
      >
        <span className="name">Dimensions</span>
        <span className="figure">{spec.dimensions.length || ""}</span>
      </button>
      {group(
        "Points",
        "point",
        half.points.map((p) => item("point", p.name, at(p.name) ? Math.abs(at(p.name)!.offset).toFixed(2) : "")),
        "a point",
      )}
      {group(
        "Strips",
        "strip",
        <>
          {chain.filter((c) => c.kind === "strip").map((c) => item("strip", c.name, half.strips.find((s) => s.name === c.name)?.kind.replace("_", " ")))}
          {loose.map((s) => item("strip", s.name, "loose"))}
        </>,
        "a strip",
      )}
      {group(
        "Kerbs",
        "kerb",
        half.kerbs.map((k) => item("kerb", k.name, k.at)),
        "a kerb",
      )}
      {group(
        "Boxing",
        "floor",
        half.floors.map((f) => item("floor", f.name, f.zones[0] ? `${numberOf(f.zones[0].depth_mm, spec.dimensions)} mm` : "")),
        "a floor",
      )}
      {group(
        "Slope ladder",
        "rung",
        half.ladder.map((r) => item("rung", r.name, uses.get(r.name) ?? "")),
        "a rung",
      )}
    </nav>
  );
}
