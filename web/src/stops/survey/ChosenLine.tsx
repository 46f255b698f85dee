/** The survey line that is chosen, with what can be edited on it by hand. */
import { Button, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useDocument, useMayEdit } from "../../api/hooks";
import { Figures, Row } from "../../common/Inspector";
import { usePointsOfLine } from "../../plan/hooks";
import { type Edit, nearestLines, useSurveyInUse } from "./edits";

interface Props {
  line: Schemas["LineOut"];
  lines: Schemas["LineOut"][];
  showPlace: (east: number, north: number) => void;
}

export function ChosenLine({ line, lines, showPlace }: Props) {
  const meaning = useDocument("code_list")?.spec.rules.find((r) => r.code === line.code)?.meaning;
  const mayEdit = useMayEdit();
  let length = 0;
  for (let i = 1; i < line.points.length; i++)
    length += Math.hypot(line.points[i]![0]! - line.points[i - 1]![0]!, line.points[i]![1]! - line.points[i - 1]![1]!);
  const levels = line.points.map((p) => p[2]!);
  return (
    <section className="card" aria-label="Chosen line">
      <h3>
        {line.code} {line.name} <span className="quiet">{meaning === "other" ? "" : meaning}</span>
      </h3>
      <Figures
        of={[
          ["points", String(line.points.length), ""],
          ["length", length.toFixed(1), "m"],
          ["levels", `${Math.min(...levels).toFixed(1)}–${Math.max(...levels).toFixed(1)}`, ""],
        ]}
      />
      {mayEdit && <Parting line={line} showPlace={showPlace} />}
      {mayEdit && <Joining line={line} lines={lines} />}
    </section>
  );
}

/** A line is parted at one of its points, or behind it. */
function Parting({ line, showPlace }: Pick<Props, "line" | "showPlace">) {
  const { add } = useSurveyInUse();
  const points = usePointsOfLine(line).data ?? [];
  const [at, setAt] = useState<number | null>(null);
  const chosen = at === null ? undefined : points[at];
  const next = at === null ? undefined : points[at + 1];
  const { code, name } = line;
  const part = (edit: Edit) => {
    setAt(null);
    void add(edit);
  };
  return (
    <>
      <Row label="At point">
        <Select
          size="small"
          showSearch
          aria-label="Point of the line"
          placeholder="choose"
          popupMatchSelectWidth={false}
          value={at}
          options={points.map((p, i) => ({ value: i, label: `${p.number}, ${p.level.toFixed(3)} m` }))}
          onChange={(i) => {
            setAt(i);
            showPlace(points[i]!.east, points[i]!.north);
          }}
        />
      </Row>
      <div style={{ display: "flex", gap: 6, margin: "4px 0 8px" }}>
        <Button
          size="small"
          disabled={!chosen || !next || at === 0}
          title="Two lines from here on, which both have the point"
          onClick={() => part({ by: "split", code, name, at: chosen!.number })}
        >
          Split here
        </Button>
        <Button
          size="small"
          disabled={!chosen || !next}
          title="The piece to the next point is taken out"
          onClick={() => part({ by: "gap", code, name, between: [chosen!.number, next!.number] })}
        >
          Open a gap behind it
        </Button>
      </div>
    </>
  );
}

/** A gap is bridged: two lines of a code become one at their nearest ends. */
function Joining({ line, lines }: Pick<Props, "line" | "lines">) {
  const { add } = useSurveyInUse();
  const others = nearestLines(lines, line.code, [line.points[0]!, line.points.at(-1)!], true).filter((l) => l.name !== line.name);
  if (others.length === 0) return null;
  return (
    <Row label="Join with">
      <Select
        size="small"
        showSearch
        aria-label="Join with line"
        placeholder="choose"
        popupMatchSelectWidth={false}
        value={null}
        options={others.map((l) => ({ value: l.name, label: `${line.code} ${l.name}, ${l.apart.toFixed(1)} m apart` }))}
        onChange={(other: string) => void add({ by: "join", code: line.code, name: line.name, other })}
      />
    </Row>
  );
}
