/** Pieces that follow one another from a start: each holds its offset or goes over to another one. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import type { Schemas } from "../../api/client";
import { chainageText } from "../../base/chainage";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import type { Piece, PiecesSource } from "./hooks";

interface Props {
  source: PiecesSource;
  onChange: (s: PiecesSource) => void;
  disabled: boolean;
  drawn?: Schemas["GuideOut"];
  /** Of one that stands on another line, offsets are widths outward from that. */
  width?: boolean;
}

export function PiecesForm({ source, onChange, disabled, drawn, width = false }: Props) {
  const set = (i: number, piece: Piece) => onChange({ ...source, pieces: source.pieces.map((p, j) => (j === i ? piece : p)) });
  const setEnd = (i: number, by: "chainage" | "length" | "ratio") => {
    const piece = source.pieces[i]!;
    const laid = drawn?.pieces[i];
    const [from, fromOffset, to, toOffset] = laid ?? [source.start_chainage, 0, source.start_chainage + 30, 3];
    const length = Math.max((to ?? 0) - (from ?? 0), 1);
    const rise = Math.abs((toOffset ?? 0) - (fromOffset ?? 0));
    const end = by === "chainage" ? { by, chainage: to ?? 0 } : by === "length" ? { by, length } : { by, one_in: rise > 0 ? length / rise : 10 };
    set(i, { ...piece, end } as Piece);
  };
  const last = source.pieces.at(-1);
  const offset = last?.kind === "taper" ? last.to_offset : source.start_offset;
  return (
    <>
      <Row label="Starts at">
        <ChainageField
          label="Start of the guide"
          value={source.start_chainage}
          disabled={disabled}
          onChange={(start_chainage) => onChange({ ...source, start_chainage })}
        />
      </Row>
      <Row label={width ? "Wider by" : "At offset"}>
        <NumberField
          label={width ? "Width at the start" : "Offset at the start"}
          unit="m"
          value={source.start_offset}
          disabled={disabled}
          onChange={(start_offset) => onChange({ ...source, start_offset })}
        />
      </Row>
      {drawn?.wrong && <p style={{ color: "var(--fault)", margin: "4px 0" }}>{drawn.wrong}</p>}
      <div role="group" aria-label="Pieces">
        {source.pieces.map((p, i) => (
          <PieceCard
            key={i}
            number={i + 1}
            piece={p}
            laid={drawn?.pieces[i]}
            width={width}
            disabled={disabled}
            offset={offset}
            change={(piece) => set(i, piece)}
            endBy={(by) => setEnd(i, by)}
            remove={source.pieces.length > 1 ? () => onChange({ ...source, pieces: source.pieces.filter((_, j) => j !== i) }) : undefined}
          />
        ))}
      </div>
      {!disabled && (
        <div style={{ display: "flex", gap: 6 }}>
          <Button size="small" onClick={() => onChange({ ...source, pieces: [...source.pieces, { kind: "hold", end: { by: "length", length: 20 } }] })}>
            Add hold
          </Button>
          <Button
            size="small"
            onClick={() =>
              onChange({
                ...source,
                pieces: [...source.pieces, { kind: "taper", to_offset: offset + Math.sign(offset || 1), end: { by: "length", length: 20 }, shape: "straight" }],
              })
            }
          >
            Add taper
          </Button>
        </div>
      )}
    </>
  );
}

interface CardProps {
  number: number;
  piece: Piece;
  /** Where it lies: chainage, offset, chainage, offset. */
  laid: number[] | undefined;
  width: boolean;
  disabled: boolean;
  /** That of the last piece, for one that becomes a taper. */
  offset: number;
  change: (piece: Piece) => void;
  endBy: (by: "chainage" | "length" | "ratio") => void;
  remove: (() => void) | undefined;
}

function PieceCard({ number, piece, laid, width, disabled, offset, change, endBy, remove }: CardProps) {
  return (
    <div role="group" aria-label={`Piece ${number}`} className="card" style={{ padding: 6, margin: "6px 0" }}>
      <div style={{ display: "grid", gridTemplateColumns: "72px 1fr 26px", gap: 4, alignItems: "center" }}>
        <Select
          size="small"
          aria-label={`Kind of piece ${number}`}
          disabled={disabled}
          value={piece.kind}
          options={[
            { value: "hold", label: "hold" },
            { value: "taper", label: "taper" },
          ]}
          onChange={(kind) =>
            change(
              kind === "hold"
                ? { kind, end: piece.end.by === "ratio" ? { by: "length", length: 20 } : piece.end }
                : { kind, to_offset: offset, end: piece.end, shape: "straight" },
            )
          }
        />
        {piece.kind === "taper" ? (
          <span style={{ display: "grid", gridTemplateColumns: "auto 1fr 62px", gap: 4, alignItems: "center" }}>
            <span className="quiet">to</span>
            <NumberField
              label={`${width ? "Width" : "Offset"} after piece ${number}`}
              unit="m"
              value={piece.to_offset}
              disabled={disabled}
              onChange={(to_offset) => change({ ...piece, to_offset })}
            />
            <Select
              size="small"
              aria-label={`Shape of piece ${number}`}
              disabled={disabled}
              value={piece.shape}
              options={[
                { value: "straight", label: "line" },
                { value: "s", label: "S" },
              ]}
              onChange={(shape) => change({ ...piece, shape })}
            />
          </span>
        ) : (
          <span className="quiet">{width ? "keeps its width" : "keeps its offset"}</span>
        )}
        <Button type="text" size="small" aria-label={`Remove piece ${number}`} icon={<DeleteOutlined />} disabled={disabled || !remove} onClick={remove} />
      </div>
      <div style={{ display: "grid", gridTemplateColumns: "110px 1fr", gap: 4, alignItems: "center", marginTop: 4 }}>
        <Select
          size="small"
          aria-label={`End of piece ${number} by`}
          disabled={disabled}
          value={piece.end.by}
          options={[
            { value: "length", label: "after a length" },
            { value: "chainage", label: "at chainage" },
            ...(piece.kind === "taper" ? [{ value: "ratio", label: "by ratio" }] : []),
          ]}
          onChange={endBy}
        />
        {piece.end.by === "length" && (
          <NumberField
            label={`Length of piece ${number}`}
            unit="m"
            least={0.01}
            value={piece.end.length}
            disabled={disabled}
            onChange={(length) => change({ ...piece, end: { by: "length", length } })}
          />
        )}
        {piece.end.by === "chainage" && (
          <ChainageField
            label={`End of piece ${number}`}
            value={piece.end.chainage}
            disabled={disabled}
            onChange={(chainage) => change({ ...piece, end: { by: "chainage", chainage } })}
          />
        )}
        {piece.end.by === "ratio" && (
          <NumberField
            label={`Ratio of piece ${number}`}
            unit="1 in"
            least={0.1}
            value={piece.end.one_in}
            disabled={disabled}
            onChange={(one_in) => change({ ...piece, end: { by: "ratio", one_in } } as Piece)}
          />
        )}
      </div>
      {laid && (
        <span className="mono quiet" style={{ fontSize: 11 }}>
          {chainageText(laid[0]!, 2)} to {chainageText(laid[2]!, 2)}
        </span>
      )}
    </div>
  );
}
