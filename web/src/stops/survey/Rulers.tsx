/** The first lines of a file of fixed widths, with a ruler where each column begins: clicked into being, dragged, moved by arrows, taken out. */
import { useRef, useState } from "react";

interface Props {
  lines: string[];
  /** Where the second column and those after it begin, in characters. */
  breaks: number[];
  onChange: (breaks: number[]) => void;
}

const MOST = 2000;

export function Rulers({ lines, breaks, onChange }: Props) {
  const sheet = useRef<HTMLPreElement>(null);
  const letter = useRef<HTMLSpanElement>(null);
  const [held, setHeld] = useState<{ index: number; at: number } | null>(null);
  const at = (e: React.PointerEvent | React.MouseEvent) => {
    const wide = letter.current!.getBoundingClientRect().width / 10;
    return Math.max(1, Math.min(MOST, Math.round((e.clientX - sheet.current!.getBoundingClientRect().left) / wide)));
  };
  const put = (index: number, to: number) =>
    onChange([...new Set(breaks.map((b, i) => (i === index ? Math.max(1, Math.min(MOST, to)) : b)))].sort((a, b) => a - b));
  const out = (index: number) => breaks.length > 1 && onChange(breaks.filter((_, i) => i !== index));
  return (
    <div className="rulers" tabIndex={0} role="group" aria-label="Where columns begin">
      <pre ref={sheet} onClick={(e) => e.target === e.currentTarget && onChange([...new Set([...breaks, at(e)])].sort((a, b) => a - b))}>
        {lines.slice(0, 10).join("\n")}
        <span ref={letter} className="letter" aria-hidden="true">
          0000000000
        </span>
        {breaks.map((b, i) => (
          <span
            key={i}
            role="slider"
            tabIndex={0}
            className="ruler"
            aria-label={`Column ${i + 2} begins at`}
            aria-valuenow={b}
            aria-valuemin={1}
            aria-valuemax={MOST}
            title="Drag it, or move it with the arrows; Delete or a double click takes it out"
            style={{ left: `${held?.index === i ? held.at : b}ch` }}
            onDoubleClick={() => out(i)}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setHeld({ index: i, at: b });
            }}
            onPointerMove={(e) => held && setHeld({ ...held, at: at(e) })}
            onPointerUp={() => {
              if (held && held.at !== b) put(i, held.at);
              setHeld(null);
            }}
            onKeyDown={(e) => {
              const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
              if (by) put(i, b + by);
              else if (e.key === "Delete" || e.key === "Backspace") out(i);
              else return;
              e.preventDefault();
              e.stopPropagation();
            }}
          />
        ))}
      </pre>
    </div>
  );
}
