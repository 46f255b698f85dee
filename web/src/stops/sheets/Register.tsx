/** All drawings in order: number, title, revision, and a dot where one is not what was issued. */
import { Button, Dropdown } from "antd";
import { useDocumentsOf, useMayEdit } from "../../api/hooks";
import { type ResultOf, useWork } from "../../api/jobs";
import { freshKey, useSave } from "../../api/save";
import { DEFAULTS } from "../../api/defaults";
import { usePlace } from "../../app/place";
import { bareTitle, type DrawingDoc, KINDS, type Sheets } from "./drawings";

export const inOrder = (drawings: DrawingDoc[]) => drawings.toSorted((a, b) => a.spec.place - b.spec.place || a.key.localeCompare(b.key));

export function Register({ drawings, chosen }: { drawings: DrawingDoc[]; chosen: string | null }) {
  const styles = useDocumentsOf("drawing_style");
  const register = useWork("register", true).result;
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const kindOf = (d: DrawingDoc) => styles.find((s) => s.key === d.spec.style)?.spec.sheets.kind;
  const add = async (style: string, kind: Sheets["kind"]) => {
    const key = freshKey("drawing");
    const last = Math.max(0, ...drawings.map((d) => d.spec.place));
    const like = drawings.find((d) => kindOf(d) === kind);
    const spec = { ...DEFAULTS.Drawing, name: like?.spec.name ?? KINDS[kind], number: freeNumber(drawings, like?.spec.number ?? "D"), style, place: last + 1 };
    if ((await save({ kind: "drawing", key, version: 0, spec })) !== null) place.select(`drawing:${key}`);
  };
  return (
    <nav className="side-list" aria-label="Register" style={{ width: 236, overflow: "auto" }}>
      {(Object.keys(KINDS) as Sheets["kind"][]).map((kind) => {
        const rows = inOrder(drawings).filter((d) => kindOf(d) === kind);
        return (
          rows.length > 0 && (
            <div key={kind}>
              <h3>{KINDS[kind]}</h3>
              {rows.map((d) => (
                <Item key={d.key} drawing={d} told={register?.drawings.find((r) => r.key === d.key)} on={d.key === chosen} />
              ))}
            </div>
          )
        );
      })}
      {drawings
        .filter((d) => kindOf(d) === undefined)
        .map((d) => (
          <Item key={d.key} drawing={d} told={register?.drawings.find((r) => r.key === d.key)} on={d.key === chosen} />
        ))}
      {mayEdit && (
        <div style={{ padding: 10 }}>
          <Dropdown
            trigger={["click"]}
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

function Item({ drawing, told, on }: { drawing: DrawingDoc; told: Told | undefined; on: boolean }) {
  const place = usePlace();
  const since = told && (told.changed.length > 0 || told.gone > 0) ? `${told.changed.length + told.gone} sheets are not as issued` : null;
  return (
    <button
      type="button"
      className="list-item"
      aria-pressed={on}
      onClick={() => place.select(`drawing:${drawing.key}`)}
      style={{ display: "grid", gridTemplateColumns: "44px 1fr auto 10px", gap: 6, alignItems: "baseline" }}
    >
      <span className="mono">{drawing.spec.number}</span>
      <span>
        {bareTitle(drawing.spec.name)}
        <br />
        <small className="quiet">
          {told?.fault ? (
            <span style={{ color: "var(--fault)" }}>{told.fault}</span>
          ) : told ? (
            `${told.sheets.length} ${told.sheets.length === 1 ? "sheet" : "sheets"}`
          ) : (
            " "
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
