/** What is chosen on the bench, with the sentence that reads it back, what is wrong, and the balance of the layers. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button } from "antd";
import type { ReactNode } from "react";
import { Inspector } from "../../common/Inspector";
import { usePlace } from "../../base/place";
import { DimensionsForm } from "./DimensionsForm";
import { FloorForm } from "./FloorForm";
import { PointForm } from "./PointForm";
import { RungForm } from "./RungForm";
import { type Half, halfOf, type Kerbs, pointNames, type Sel, type Side, type Template, withHalf, without, withPointRenamed } from "./spec";
import { KerbPlacementForm, StripForm } from "./StripForm";
import { TemplateForm } from "./TemplateForm";
import type { BenchView } from "./useTryOut";

interface Props {
  documentKey: string;
  spec: Template;
  side: Side;
  sel: Sel | null;
  view: BenchView | undefined;
  kerbs: Kerbs;
  mayEdit: boolean;
  change: (spec: Template) => void;
  select: (sel: Sel | null) => void;
  extra: ReactNode;
  actions: ReactNode;
}

const TITLES: Record<Sel["kind"], string> = {
  point: "Point",
  strip: "Strip",
  kerb: "Kerb",
  floor: "Floor",
  rung: "Rung",
  dimensions: "Dimensions",
  template: "Template",
};

export function BenchInspector(props: Props) {
  const { spec, sel, view, kerbs, mayEdit, change, select, extra, actions } = props;
  const side = sel?.side ?? props.side;
  const half = halfOf(spec, side);
  const kind = sel?.kind ?? "template";
  const sentence = sel ? view?.sentences[`${sel.kind} ${side} ${sel.name}`] : undefined;
  const write = (next: Half) => change(withHalf(spec, side, next));
  const removable =
    sel && !["template", "dimensions"].includes(kind) && !(kind === "strip" && half.strips.length === 1) && !(kind === "point" && half.points.length === 1);
  const loneKerb = kind === "point" && sel !== null && half.kerbs.some((k) => k.at === sel.name);
  return (
    <Inspector
      title={sel?.name ? `${TITLES[kind]} ${sel.name}` : TITLES[kind]}
      extra={
        mayEdit &&
        removable && (
          <Button
            type="text"
            size="small"
            aria-label={`Remove ${sel.name}`}
            title={loneKerb ? "Remove it; its kerb moves inward" : "Remove it"}
            icon={<DeleteOutlined />}
            onClick={() => {
              write(without(half, sel, kerbs));
              select(null);
            }}
          />
        )
      }
    >
      {extra}
      {/* It has its room before the answer is there: what one is about to press must not move away. */}
      {sel && sel.kind !== "template" && sel.kind !== "dimensions" && <p className="sentence">{sentence}</p>}
      <Chosen {...props} half={half} side={side} write={write} />
      <Faults view={view} side={side} spec={spec} select={select} />
      <Balance view={view} />
      {actions}
    </Inspector>
  );
}

function Chosen({ spec, sel, half, side, kerbs, mayEdit, change, select, write }: Props & { half: Half; write: (h: Half) => void }) {
  const place = usePlace();
  const disabled = !mayEdit;
  const names = pointNames(half, kerbs);
  const dimensions = spec.dimensions;
  const open = (kind: "make_up" | "kerb", key: string) => place.select(`${kind}:${key}`);
  const again = (name: string) => sel && select({ ...sel, name });
  switch (sel?.kind) {
    case "point": {
      const p = half.points.find((x) => x.name === sel.name);
      if (!p) return <p className="quiet">This point comes with its kerb.</p>;
      const rename = (name: string) => {
        write(withPointRenamed(half, p.name, name));
        again(name);
      };
      return (
        <PointForm
          point={p}
          parents={names}
          dimensions={dimensions}
          disabled={disabled}
          rename={rename}
          change={(next) => write({ ...half, points: half.points.map((x) => (x === p ? next : x)) })}
        />
      );
    }
    case "strip": {
      const s = half.strips.find((x) => x.name === sel.name);
      return s ? (
        <StripForm
          of={s}
          half={half}
          names={names}
          disabled={disabled}
          open={open}
          dimensions={spec.dimensions}
          widen={(point) => write({ ...half, points: half.points.map((p) => (p.name === point.name ? point : p)) })}
          change={(next) => {
            write({ ...half, strips: half.strips.map((x) => (x === s ? next : x)) });
            again(next.name);
          }}
        />
      ) : null;
    }
    case "kerb": {
      const k = half.kerbs.find((x) => x.name === sel.name);
      return k ? (
        <KerbPlacementForm
          of={k}
          half={half}
          names={names}
          disabled={disabled}
          open={open}
          change={(next) => {
            write(withKerbChanged(half, k, next));
            again(next.name);
          }}
        />
      ) : null;
    }
    case "floor": {
      const f = half.floors.find((x) => x.name === sel.name);
      return f ? (
        <FloorForm
          of={f}
          half={half}
          names={names}
          dimensions={dimensions}
          disabled={disabled}
          change={(next) => {
            write({ ...half, floors: half.floors.map((x) => (x === f ? next : x)) });
            again(next.name);
          }}
        />
      ) : null;
    }
    case "rung": {
      const i = half.ladder.findIndex((x) => x.name === sel.name);
      const ladder = half.ladder;
      const r = ladder[i];
      const move = (by: -1 | 1) => {
        const next = [...ladder];
        [next[i], next[i + by]] = [next[i + by]!, next[i]!];
        write({ ...half, ladder: next });
      };
      return r ? (
        <RungForm
          of={r}
          half={half}
          number={i + 1}
          disabled={disabled}
          move={move}
          change={(next) => {
            write({ ...half, ladder: ladder.map((x) => (x === r ? next : x)) });
            again(next.name);
          }}
        />
      ) : null;
    }
    case "dimensions":
      return <DimensionsForm spec={spec} disabled={disabled} change={change} />;
    default:
      return <TemplateForm spec={spec} side={side} disabled={disabled} change={change} />;
  }
}

/** A kerb called otherwise brings its points under its new name. */
function withKerbChanged(half: Half, old: NonNullable<Half["kerbs"]>[number], next: NonNullable<Half["kerbs"]>[number]): Half {
  const kerbs = half.kerbs.map((k) => (k === old ? next : k));
  if (old.name === next.name) return { ...half, kerbs };
  const text = JSON.stringify({ points: half.points, strips: half.strips, floors: half.floors });
  return {
    ...half,
    ...(JSON.parse(text, (_, v: unknown) => (typeof v === "string" && v.startsWith(`${old.name}.`) ? next.name + v.slice(old.name.length) : v)) as Pick<
      Half,
      "points" | "strips" | "floors"
    >),
    kerbs,
  };
}

function Faults({ view, side, spec, select }: { view: BenchView | undefined; side: Side; spec: Template; select: (sel: Sel) => void }) {
  const notes = view?.halves.flatMap((h) => h.notes.map((n) => ({ side: h.side, n }))) ?? [];
  const unique = notes.filter((x, i) => notes.findIndex((y) => y.n === x.n) === i);
  if (!view || (view.faults.length === 0 && unique.length === 0)) return null;
  return (
    <section className="card" aria-label="What is wrong">
      {view.faults.map((f, i) => (
        <button
          key={i}
          type="button"
          className={`problem ${f.severity}`}
          style={{ gridTemplateColumns: "1fr" }}
          onClick={() => {
            const where: Side = f.where.startsWith("left") ? "left" : "right";
            const half = halfOf(spec, where);
            const name = f.names[0] ?? "";
            const kind = half.points.some((p) => p.name === name)
              ? "point"
              : half.strips.some((s) => s.name === name)
                ? "strip"
                : half.ladder.some((r) => r.name === name)
                  ? "rung"
                  : half.floors.some((x) => x.name === name)
                    ? "floor"
                    : half.kerbs.some((k) => k.name === name)
                      ? "kerb"
                      : "template";
            select({ kind, side: spec.left ? where : side, name });
          }}
        >
          <span>
            <strong>{f.where === "half" ? "" : `${f.where}: `}</strong>
            {f.message}
            {f.hint && <span className="quiet"> – {f.hint}</span>}
          </span>
        </button>
      ))}
      {unique.map(({ n }) => (
        <p key={n} className="problem caution" style={{ display: "block", margin: 0 }}>
          On this ground: {n}
        </p>
      ))}
    </section>
  );
}

function Balance({ view }: { view: BenchView | undefined }) {
  if (!view?.built) return null;
  const worst = Math.max(...view.halves.map((h) => Math.abs(h.balance ?? Infinity)));
  const area = view.halves.reduce((sum, h) => sum + (h.area ?? NaN), 0);
  const closed = worst < 1e-6;
  return (
    <div className="card balance" role="status" aria-label="Layer balance">
      <span>Layer balance</span>
      <strong className="mono" style={{ color: closed ? "var(--sound)" : "var(--fault)" }}>
        {closed ? `closed, ${area.toFixed(3)} m²` : `open by ${worst.toFixed(3)} m²`}
      </strong>
    </div>
  );
}
