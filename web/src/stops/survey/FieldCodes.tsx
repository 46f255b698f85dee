/** Lines from the codes of the field: how the office writes them, and what comes of it on the first rows, in colours and in plan. */
import { Alert, Checkbox, Input, Segmented, Select, Spin } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, dataOf, lineOf, type Schemas } from "../../api/client";
import { useProjectId } from "../../api/hooks";
import { CellTable } from "../../common/cells/CellTable";
import { choices, words } from "../../common/cells/columns";
import { NumberField } from "../../common/NumberField";
import { choicesOf } from "../../common/words";
import { type Asked, choicesFor, PieceMenu } from "./PieceMenu";
import "./codes.css";

type Mapping = Schemas["ColumnMapping"];
type Grammar = Schemas["CodeGrammar"];
type Word = Grammar["controls"][number];
type Apart = Schemas["CodesOut"];

const MEANS = choicesOf<Word["means"]>({
  begin: "a line begins",
  end: "it ends",
  close: "it is closed",
  curve: "a curve begins",
  straight: "the curve ends",
  point: "no line",
});
const WORDS = [
  words<Word>({
    title: "Word",
    width: 90,
    most: 12,
    wrong: (t) => (t === "" || /\s/.test(t) ? "One word" : null),
    of: (r) => r.word,
    put: (r, word) => ({ ...r, word }),
    label: (_, i) => `Word ${i + 1}`,
  }),
  choices<Word, Word["means"]>({
    title: "Means",
    width: 140,
    options: MEANS,
    of: (r) => r.means,
    put: (r, means) => ({ ...r, means }),
    label: (_, i) => `Meaning of word ${i + 1}`,
  }),
];
/** Typing settles before the codes are taken apart again, ms. */
const SETTLES = 350;

interface Props {
  upload: number;
  mapping: Mapping;
  onChange: (grammar: Grammar | null) => void;
}

export function FieldCodes({ upload, mapping, onChange }: Props) {
  const grammar = mapping.grammar ?? null;
  const apart = useApart(upload, mapping);
  const found = apart.data;
  // The first answer says which grammar fits; from then on it is the person's.
  const guessed = found?.grammar;
  useEffect(() => {
    if (guessed && grammar === null) onChange(guessed);
  }, [guessed, grammar, onChange]);
  // What speaks for a guess is said as long as it is the guess.
  const [why, setWhy] = useState<{ grammar: Grammar; words: string[] } | null>(null);
  if (found && found.why.length > 0 && why?.words !== found.why) setWhy({ grammar: found.grammar, words: found.why });
  if (apart.error) return <Alert type="error" showIcon title={lineOf(apart.error)} />;
  if (!grammar || !found) return <Spin description="Taking the codes apart" />;
  const set = (fields: Partial<Grammar>) => onChange({ ...grammar, ...fields });
  return (
    <div className="field-codes">
      <div>
        <label>
          <span className="quiet">Begin with</span>
          <Select<string | null>
            size="small"
            aria-label="Begin with"
            placeholder="a usual way of writing"
            value={null}
            options={found.usual.map((u) => ({ value: u.name, label: u.name }))}
            onChange={(name) => set({ ...found.usual.find((u) => u.name === name)!.grammar, points: grammar.points })}
          />
        </label>
        <div className="signs">
          <Sign label="Between codes" short="Between" help="space" most={6} value={grammar.between} set={(between) => set({ between })} />
          <Sign label="Joined by" short="Joined by" help="- or ." most={6} value={grammar.marks} set={(marks) => set({ marks })} />
          <Sign label="Remarks behind" short="Remarks" help="//" most={4} value={grammar.remark} set={(remark) => set({ remark })} />
        </div>
        <label>
          <span className="quiet">Codes without lines</span>
          <Input
            size="small"
            aria-label="Codes without lines"
            defaultValue={grammar.points.join(" ")}
            key={grammar.points.join(" ")}
            onBlur={(e) => set({ points: e.target.value.split(/[\s,;]+/).filter(Boolean) })}
          />
        </label>
        <label>
          <span className="quiet">Break beyond</span>
          <NumberField label="Break beyond" unit="m" least={0.1} most={100_000} value={grammar.longest} onChange={(longest) => set({ longest })} />
        </label>
        <Segmented<"measured" | "along">
          size="small"
          aria-label="Points are joined"
          style={{ marginBottom: 6 }}
          value={grammar.along ? "along" : "measured"}
          options={[
            { value: "measured", label: "as measured" },
            { value: "along", label: "along the road" },
          ]}
          onChange={(by) => set({ along: by === "along" })}
        />
        <Checkbox checked={grammar.figures} onChange={(e) => set({ figures: e.target.checked })}>
          Figures tell lines apart
        </Checkbox>
        <Checkbox checked={grammar.before} onChange={(e) => set({ before: e.target.checked })}>
          Words stand before their code
        </Checkbox>
        <CellTable<Word>
          label="Words among codes"
          rows={grammar.controls}
          columns={WORDS}
          change={(controls) => set({ controls })}
          height={112}
          fresh={(all) => ({ word: `W${all.length + 1}`, means: "begin" })}
          empty="No words yet."
        />
      </div>
      <div>
        <PlanOfLines found={found} />
        <p className="quiet">
          {found.lines.length} {found.lines.length === 1 ? "line" : "lines"} of {found.points} points:
          {found.codes.map((c) => (
            <span key={c.code} className="code-count">
              {c.lines > 0 && <i style={{ background: colourOf(found, c.code) }} />}
              {`${c.code} ${c.lines}`}
            </span>
          ))}
        </p>
        {why?.grammar === grammar && <p>{why.words.map((words) => `${words}.`).join(" ")}</p>}
        {found.told.length > 0 && (
          <p role="status">
            {found.told
              .slice(0, 2)
              .map((t) => `Row ${t.row}: ${t.reason}`)
              .join(". ")}
          </p>
        )}
      </div>
      <Apart found={found} grammar={grammar} set={set} />
    </div>
  );
}

/** The first codes taken apart; a click on a piece says what it is instead. */
function Apart({
  found,
  grammar,
  set,
}: {
  found: NonNullable<ReturnType<typeof useApart>["data"]>;
  grammar: Grammar;
  set: (fields: Partial<Grammar>) => void;
}) {
  const [piece, setPiece] = useState<Asked | null>(null);
  return (
    <div tabIndex={0} className="apart">
      <table className="grid-table mono" aria-label="Codes taken apart">
        <tbody>
          {found.rows.map((row) => (
            <tr key={row.row}>
              <td className="quiet">{row.row}</td>
              <td>
                {row.pieces.map((p, i) => (
                  // Not for the Tab key: there are hundreds, and all can be said at the left.
                  <button
                    key={i}
                    type="button"
                    tabIndex={-1}
                    className={`piece ${p.kind}`}
                    title={`${TITLES[p.kind]}; click to say what it is`}
                    onClick={(e) => setPiece({ piece: p, x: e.clientX, y: e.clientY })}
                  >
                    {p.text}
                  </button>
                ))}
              </td>
              <td>{row.lines.join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {piece && <PieceMenu asked={piece} choices={choicesFor(piece.piece, grammar, MEANS)} choose={set} close={() => setPiece(null)} />}
    </div>
  );
}

const TITLES: Record<Apart["rows"][number]["pieces"][number]["kind"], string> = {
  code: "code",
  line: "tells the line apart",
  control: "word",
  remark: "remark",
  between: "between",
};

interface SignProps {
  label: string;
  /** As there is room for it. */
  short: string;
  help: string;
  most: number;
  value: string;
  set: (v: string) => void;
}

function Sign({ label, short, help, most, value, set }: SignProps) {
  const shown = value.replaceAll(" ", "␣");
  return (
    <label title={label}>
      <span className="quiet">{short}</span>
      <Input size="small" aria-label={label} placeholder={help} maxLength={most} value={shown} onChange={(e) => set(e.target.value.replaceAll("␣", " "))} />
    </label>
  );
}

/** The codes taken apart by the server, a moment after the last change; the last answer stays until the next. */
function useApart(upload: number, mapping: Mapping) {
  const project = useProjectId();
  const [asked, setAsked] = useState(mapping);
  useEffect(() => {
    const timer = window.setTimeout(() => setAsked(mapping), SETTLES);
    return () => window.clearTimeout(timer);
  }, [mapping]);
  return useQuery({
    queryKey: ["codes apart", project, upload, asked],
    queryFn: async () =>
      dataOf(
        await api.POST("/api/projects/{project_id}/uploads/{upload_id}/codes", { params: { path: { project_id: project, upload_id: upload } }, body: asked }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
}

const [WIDE, HIGH] = [220, 160];

/** Colours of codes that have none of their own yet, in turn. */
const TURNS = ["#A4602C", "#2A5C8A", "#4B7345", "#8A3F78", "#1B2327", "#B8860B", "#3F7F7F"];

const colourOf = (found: Apart, code: string) =>
  found.lines.find((l) => l.code === code)?.colour ?? TURNS[found.codes.findIndex((c) => c.code === code) % TURNS.length];

/** The lines of the first rows from above, each code in its colour. */
function PlanOfLines({ found }: { found: Apart }) {
  const view = useMemo(() => {
    const all = found.lines.flatMap((l) => l.points);
    if (all.length === 0) return null;
    const [x, y] = [all.map((p) => p[0]!), all.map((p) => p[1]!)];
    const [x0, y0] = [Math.min(...x), Math.min(...y)];
    const scale = Math.min((WIDE - 12) / Math.max(Math.max(...x) - x0, 1e-6), (HIGH - 12) / Math.max(Math.max(...y) - y0, 1e-6));
    return (p: readonly number[]) => `${(6 + (p[0]! - x0) * scale).toFixed(1)},${(HIGH - 6 - (p[1]! - y0) * scale).toFixed(1)}`;
  }, [found]);
  return (
    <svg className="plan-of-lines" width={WIDE} height={HIGH} role="img" aria-label={`${found.lines.length} lines in plan`}>
      {view &&
        found.lines.map((l) => (
          <polyline key={`${l.code} ${l.name}`} points={l.points.map(view).join(" ")} fill="none" stroke={colourOf(found, l.code)} strokeWidth={1.4}>
            <title>{`${l.code} ${l.name}`}</title>
          </polyline>
        ))}
    </svg>
  );
}
