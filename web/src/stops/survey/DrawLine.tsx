/** A line drawn through survey points: they are clicked in plan or named by number, one after the other. */
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf, type Schemas } from "../../api/client";
import { useDocument, useProjectId } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { freeName, type Point, useSurveyInUse } from "./edits";

interface Props {
  lines: Schemas["LineOut"][];
  points: Point[];
  setPoints: (change: (now: Point[] | null) => Point[]) => void;
  done: (line: string | null) => void;
}

export function DrawLine({ lines, points, setPoints, done }: Props) {
  const project_id = useProjectId();
  const rules = useDocument("code_list")?.spec.rules ?? [];
  const { add } = useSurveyInUse();
  const [chosen, setCode] = useState<string | null>(null);
  const [typed, setTyped] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const code = chosen ?? points[0]?.code ?? rules[0]?.code ?? "";
  const name = freeName(lines, code);
  const byNumber = async () => {
    const number = typed.trim();
    if (!number) return;
    setTyped(""); // at once: the next number is typed while this one is looked for
    setWrong(null);
    try {
      const found = dataOf(await api.GET("/api/projects/{project_id}/survey/find", { params: { path: { project_id }, query: { number } } }));
      const point = found.find((p) => p.number === number);
      if (!point) return setWrong(`There is no point ${number}`);
      setPoints((now) => [...(now ?? []), point]);
    } catch (e) {
      setWrong(lineOf(e));
    }
  };
  const make = async () => {
    const through = points.map(({ number, code: of }) => ({ number, code: of }));
    if ((await add({ by: "line", code, name, points: through })) !== null) done(`${code} ${name}`);
  };
  return (
    <section className="card" aria-label="New line">
      <h3>A line through points</h3>
      <p className="quiet" style={{ margin: "0 0 6px" }}>
        Zoom in until points can be clicked, and click them in order; or type their numbers. The first one again closes the line.
      </p>
      <Row label="Point number">
        <Input
          size="small"
          autoFocus
          aria-label="Number of the next point"
          status={wrong ? "error" : undefined}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          onPressEnter={() => void byNumber()}
        />
      </Row>
      {wrong && <p role="alert">{wrong}</p>}
      <Row label="Code">
        <Select
          size="small"
          showSearch
          aria-label="Code of the new line"
          value={code}
          options={rules.map((r) => ({ value: r.code, label: r.code || "none" }))}
          onChange={setCode}
        />
      </Row>
      <p style={{ margin: "6px 0" }}>
        {points.length === 0 ? "No point yet" : points.map((p) => p.number).join(" – ")}
        {points.length > 0 && (
          <span className="quiet">
            {" "}
            as {code} {name}
          </span>
        )}
      </p>
      <div style={{ display: "flex", gap: 6 }}>
        <Button size="small" type="primary" disabled={points.length < 2} onClick={() => void make()}>
          Make the line
        </Button>
        <Button size="small" disabled={points.length === 0} onClick={() => setPoints((now) => (now ?? []).slice(0, -1))}>
          Take the last back
        </Button>
        <Button size="small" type="text" onClick={() => done(null)}>
          Cancel
        </Button>
      </div>
    </section>
  );
}
