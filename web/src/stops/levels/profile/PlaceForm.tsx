/** An IP placed exactly: by level, by grade in or out or both, by the crossing of two grades typed or taken from IPs. */
import { Alert, Button, Segmented, Select } from "antd";
import { useState } from "react";
import { ChainageField } from "../../../common/ChainageField";
import { Row } from "../../../common/Inspector";
import { NumberField } from "../../../common/NumberField";
import type { Profile, ProfileEdit } from "./profile";
import { choicesOf } from "../../../common/words";

type How = "at" | "in" | "out" | "both" | "crossing";
type Crossing = Extract<ProfileEdit, { kind: "crossing" }>;
type Line = Crossing["first"];

const HOW = choicesOf<How>({
  at: "chainage and level",
  in: "chainage and grade in",
  out: "chainage and grade out",
  both: "grade in and grade out",
  crossing: "crossing of two grades",
});

interface Props {
  points: Profile["points"];
  index: number;
  at: number;
  mayEdit: boolean;
  propose: (e: ProfileEdit | null) => void;
  take: (e: ProfileEdit) => void;
  error: string | null;
  proposed: ProfileEdit | null;
}

export function PlaceForm({ points, index, at, mayEdit, propose, take, error, proposed }: Props) {
  const [how, setHow] = useState<How>("at");
  const [fresh, setFresh] = useState(true);
  const [chainage, setChainage] = useState(Number(at.toFixed(3)));
  const [level, setLevel] = useState<number | null>(null);
  const [into, setInto] = useState(1);
  const [out, setOut] = useState(-1);
  const [first, setFirst] = useState<Line>({ by: "ips", first: Math.max(0, index - 1), second: Math.max(1, index) });
  const [second, setSecond] = useState<Line>({ by: "point", chainage: at, level: points[index]?.level ?? 0, grade_pct: -1 });
  const who = fresh ? null : index;
  const edit: ProfileEdit =
    how === "at"
      ? { kind: "at", index: who, chainage, level, keep: "length" }
      : how === "in" || how === "out"
        ? { kind: "by_grade", index: who, chainage, way: how, grade_pct: how === "in" ? into : out }
        : how === "both"
          ? { kind: "by_grades", index: who, after: Math.min(index, points.length - 2), grade_in_pct: into, grade_out_pct: out }
          : { kind: "crossing", index: who, first, second };
  return (
    <section aria-label="Place an IP">
      <Row label="Which">
        <Segmented<"new" | "old">
          size="small"
          aria-label="Which IP is placed"
          value={fresh ? "new" : "old"}
          options={[
            { value: "new", label: "a new one" },
            { value: "old", label: `IP ${index + 1}` },
          ]}
          onChange={(v) => setFresh(v === "new")}
        />
      </Row>
      <Row label="By">
        <Select size="small" popupMatchSelectWidth={false} aria-label="How the IP is placed" value={how} options={HOW} onChange={setHow} />
      </Row>
      {(how === "at" || how === "in" || how === "out") && (
        <Row label="Chainage">
          <ChainageField label="Chainage of the placed IP" value={chainage} onChange={setChainage} />
        </Row>
      )}
      {how === "at" && (
        <Row label="Level">
          <NumberField label="Level of the placed IP" unit="m" value={level ?? points[index]?.level ?? 0} onChange={setLevel} />
        </Row>
      )}
      {(how === "in" || how === "both") && (
        <Row label="Grade in">
          <NumberField label="Grade in of the placed IP" unit="%" value={into} onChange={setInto} />
        </Row>
      )}
      {(how === "out" || how === "both") && (
        <Row label="Grade out">
          <NumberField label="Grade out of the placed IP" unit="%" value={out} onChange={setOut} />
        </Row>
      )}
      {how === "crossing" && (
        <>
          <LineForm name="First grade" line={first} change={setFirst} points={points} />
          <LineForm name="Second grade" line={second} change={setSecond} points={points} />
        </>
      )}
      <Confirm edit={edit} proposed={proposed} propose={propose} take={take} error={error} mayEdit={mayEdit} what={fresh ? "Add" : "Move"} />
    </section>
  );
}

function LineForm({ name, line, change, points }: { name: string; line: Line; change: (l: Line) => void; points: Profile["points"] }) {
  const ips = points.map((_, i) => ({ value: i, label: `IP ${i + 1}` }));
  return (
    <div className="card" role="group" aria-label={name} style={{ padding: 8, margin: "6px 0" }}>
      <Row label={name}>
        <Segmented<"ips" | "point">
          size="small"
          value={line.by}
          options={[
            { value: "ips", label: "of two IPs" },
            { value: "point", label: "typed" },
          ]}
          onChange={(by) => change(by === "ips" ? { by, first: 0, second: 1 } : { by, chainage: points[0]!.chainage, level: points[0]!.level, grade_pct: 1 })}
        />
      </Row>
      {line.by === "ips" ? (
        <Row label="through">
          <span style={{ display: "flex", gap: 4 }}>
            <Select size="small" aria-label={`${name}, from`} value={line.first} options={ips} onChange={(v) => change({ ...line, first: v })} />
            <Select size="small" aria-label={`${name}, to`} value={line.second} options={ips} onChange={(v) => change({ ...line, second: v })} />
          </span>
        </Row>
      ) : (
        <>
          <Row label="through">
            <span style={{ display: "flex", gap: 4 }}>
              <ChainageField label={`${name}, chainage`} value={line.chainage} onChange={(chainage) => change({ ...line, chainage })} />
              <NumberField label={`${name}, level`} unit="m" value={line.level} onChange={(level) => change({ ...line, level })} />
            </span>
          </Row>
          <Row label="grade">
            <NumberField label={`${name}, grade`} unit="%" value={line.grade_pct} onChange={(grade_pct) => change({ ...line, grade_pct })} />
          </Row>
        </>
      )}
    </div>
  );
}

interface ConfirmProps {
  edit: ProfileEdit;
  proposed: ProfileEdit | null;
  propose: (e: ProfileEdit | null) => void;
  take: (e: ProfileEdit) => void;
  error: string | null;
  mayEdit: boolean;
  what: string;
}

/** Shows in the drawing what an edit would make, and does it. */
export function Confirm({ edit, proposed, propose, take, error, mayEdit, what }: ConfirmProps) {
  const shown = proposed !== null && JSON.stringify(proposed) === JSON.stringify(edit);
  return (
    <>
      {shown && error && <Alert type="error" title={error} style={{ marginTop: 6 }} />}
      <span style={{ display: "flex", gap: 6, marginTop: 8 }}>
        <Button size="small" aria-pressed={shown} onClick={() => propose(shown ? null : edit)}>
          {shown ? "Hide" : "Show"}
        </Button>
        {mayEdit && (
          <Button size="small" type="primary" onClick={() => take(edit)}>
            {what}
          </Button>
        )}
      </span>
    </>
  );
}
