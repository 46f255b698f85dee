/** All drawings in order: number, title, revision, and a dot where one is not what was issued. */
import { Button, Dropdown } from "antd";
import { useEffect, useRef, useState } from "react";
import { useDocumentsOf, useMayEdit } from "../../api/hooks";
import { type ResultOf, useWork } from "../../api/jobs";
import { freshKey, useSave, useSaveTogether } from "../../api/save";
import { DEFAULTS } from "../../api/defaults";
import { usePlace } from "../../base/place";
import { bareTitle, type DrawingDoc, KINDS, NUMBERS, type Sheets } from "./drawings";

/** What a dragged drawing is in the hand. */
const DRAGGED = "application/x-drawing-place";

export const inOrder = (drawings: DrawingDoc[]) => drawings.toSorted((a, b) => a.spec.place - b.spec.place || a.key.localeCompare(b.key));

export function Register({ drawings, chosen }: { drawings: DrawingDoc[]; chosen: string | null }) {
  const styles = useDocumentsOf("drawing_style");
  // The register takes up all drawings: the one that is looked at comes first.
  const looked = useWork("sheets", chosen !== null, chosen ?? "");
  const register = useWork("register", !looked.running).result;
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const kindOf = (d: DrawingDoc) => styles.find((s) => s.key === d.spec.style)?.spec.sheets.kind;
  const together = useSaveTogether();
  const rows = inOrder(drawings);
  const now = useRef(rows);
  const under = useRef(Promise.resolve());
  useEffect(() => {
    now.current = rows;
  });
  /** One drawing to the place that `to` finds; all whose place changes by that are one step. Moves wait for each other. */
  const move: Move = (key, to) => {
    under.current = under.current.then(async () => {
      const from = now.current.findIndex((d) => d.key === key);
      const at = to(now.current, from);
      if (from < 0 || at < 0 || at >= now.current.length || at === from) return;
      const one = now.current[from]!;
      const documents = now.current
        .toSpliced(from, 1)
        .toSpliced(at, 0, one)
        .flatMap((d, k) => (d.spec.place === k + 1 ? [] : [{ kind: "drawing" as const, key: d.key, version: d.version, spec: { ...d.spec, place: k + 1 } }]));
      await together.mutateAsync({ title: `Drawing ${one.spec.number} moved in the register`, documents }).catch(() => null);
    });
  };
  const add = async (style: string, kind: Sheets["kind"]) => {
    const key = freshKey("drawing");
    const last = Math.max(0, ...drawings.map((d) => d.spec.place));
    const like = drawings.find((d) => kindOf(d) === kind);
    const spec = {
      ...DEFAULTS.Drawing,
      name: like?.spec.name ?? KINDS[kind],
      number: freeNumber(drawings, like?.spec.number ?? NUMBERS[kind]),
      style,
      place: last + 1,
    };
    if ((await save({ kind: "drawing", key, version: 0, spec })) !== null) place.select(`drawing:${key}`);
  };
  return (
    <nav className="side-list" aria-label="Register" style={{ width: 236, overflow: "auto" }}>
      {rows.map((d) => (
        <Item
          key={d.key}
          drawing={d}
          kind={KINDS[kindOf(d) ?? "sections"]}
          told={register?.drawings.find((r) => r.key === d.key)}
          on={d.key === chosen}
          move={mayEdit && rows.length > 1 ? move : null}
        />
      ))}
      {mayEdit && rows.length > 1 && (
        <p className="quiet" style={{ padding: "0 10px" }}>
          Drag to order, or Alt+Up and Alt+Down.
        </p>
      )}
      {mayEdit && (
        <div style={{ padding: 10 }}>
          <Dropdown
            trigger={["click"]}
            autoFocus
            menu={{
              items: styles.map((s) => ({ key: s.key, label: s.spec.name })),
              onClick: ({ key }) => void add(key, styles.find((s) => s.key === key)!.spec.sheets.kind),
            }}
          >
            <Button size="small">Add a drawing</Button>
          </Dropdown>
        </div>
      )}
    </nav>
  );
}

type Told = ResultOf<"register">["drawings"][number];

/** Brings a drawing to another place of the register, found when its turn comes. */
type Move = (key: string, to: (rows: DrawingDoc[], from: number) => number) => void;

interface ItemProps {
  drawing: DrawingDoc;
  kind: string;
  told: Told | undefined;
  on: boolean;
  /** Nothing where none may be moved. */
  move: Move | null;
}

function Item({ drawing, kind, told, on, move }: ItemProps) {
  const place = usePlace();
  const [over, setOver] = useState(false);
  const since = told && (told.changed.length > 0 || told.gone > 0) ? `${told.changed.length + told.gone} sheets are not as issued` : null;
  return (
    <button
      type="button"
      className={over ? "list-item register-item over" : "list-item register-item"}
      aria-pressed={on}
      aria-keyshortcuts={move ? "Alt+ArrowUp Alt+ArrowDown" : undefined}
      draggable={move !== null}
      onClick={() => place.select(`drawing:${drawing.key}`)}
      onKeyDown={(e) => {
        if (!move || !e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
        e.preventDefault();
        e.stopPropagation();
        const by = e.key === "ArrowUp" ? -1 : 1;
        move(drawing.key, (_, from) => from + by);
      }}
      onDragStart={(e) => e.dataTransfer.setData(DRAGGED, drawing.key)}
      onDragOver={(e) => {
        if (!move || !e.dataTransfer.types.includes(DRAGGED)) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        setOver(false);
        const dragged = e.dataTransfer.getData(DRAGGED);
        move?.(dragged, (rows) => rows.findIndex((d) => d.key === drawing.key));
      }}
    >
      <span className="mono">{drawing.spec.number}</span>
      <span>
        {bareTitle(drawing.spec.name)}
        <br />
        <small className="quiet">
          {told?.fault ? (
            <span style={{ color: "var(--fault)" }}>{told.fault}</span>
          ) : (
            [kind === bareTitle(drawing.spec.name) ? "" : kind, told && `${told.sheets.length} ${told.sheets.length === 1 ? "sheet" : "sheets"}`]
              .filter(Boolean)
              .join(", ")
          )}
        </small>
      </span>
      <span className="mono" title={told?.revision ? `Issued as ${told.revision}, ${told.status}` : undefined}>
        {told?.revision}
      </span>
      {since ? <span role="img" aria-label={since} title={since} className="dot" style={{ background: "var(--saddle500)" }} /> : <span />}
    </button>
  );
}

/** A number that no drawing has yet: the one given, or with the next figure behind it. */
function freeNumber(drawings: DrawingDoc[], wanted: string): string {
  const taken = new Set(drawings.map((d) => d.spec.number));
  let n = 2;
  while (taken.has(`${wanted}${n}`)) n += 1;
  return taken.has(wanted) ? `${wanted}${n}` : wanted;
}
