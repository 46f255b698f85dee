/** The profile as a whole: fitted through levels, its ends matched; many IPs changed at once. */
import { Button, Segmented, Select, Switch } from "antd";
import { useState } from "react";
import { chainageText } from "../../../base/chainage";
import type { Range } from "../../../base/place";
import { between } from "../../../common/between";
import { Figures, Row } from "../../../common/Inspector";
import type { ProfileLook } from "../../../common/LongLayers";
import { NumberField } from "../../../common/NumberField";
import type { Levels } from "../view";
import { Confirm } from "./PlaceForm";
import type { ProfileEdit } from "./profile";

type Fit = Extract<ProfileEdit, { kind: "fit" }>;
type Match = Extract<ProfileEdit, { kind: "match" }>;

interface ShapeProps {
  range: Range;
  mayEdit: boolean;
  propose: (e: ProfileEdit | null) => void;
  take: (e: ProfileEdit) => void;
  error: string | null;
  proposed: ProfileEdit | null;
  found: ProfileLook | undefined;
  levels: Levels | undefined;
}

const THROUGH = [
  { value: "design" as const, label: "the design's levels" },
  { value: "level_table" as const, label: "the level table" },
  { value: "existing" as const, label: "the old road" },
];

export function ShapeForm({ range, mayEdit, propose, take, error, proposed, found, levels }: ShapeProps) {
  const [fit, setFit] = useState<Omit<Fit, "from_chainage" | "to_chainage">>({ kind: "fit", through: "design", tolerance_mm: 20, spacing: 40, fix_ends: true });
  const [match, setMatch] = useState<Match>({ kind: "match", end: "begin", to: "existing", over: 30 });
  const edit: Fit = { ...fit, from_chainage: range.from, to_chainage: range.to };
  const shown = proposed?.kind === "fit" && found && !error ? residuals(found, levels, proposed) : null;
  return (
    <>
      <section className="card" aria-label="Fit through levels">
        <h3 style={{ paddingBottom: 6 }}>
          Fit, {chainageText(range.from, 0)} to {chainageText(range.to, 0)}
        </h3>
        <Row label="Through">
          <Select size="small" aria-label="Levels to fit through" value={fit.through} options={THROUGH} onChange={(through) => setFit({ ...fit, through })} />
        </Row>
        <Row label="As near as">
          <NumberField
            label="Tolerance of the fit"
            unit="mm"
            least={1}
            value={fit.tolerance_mm}
            onChange={(tolerance_mm) => setFit({ ...fit, tolerance_mm })}
          />
        </Row>
        <Row label="IPs apart">
          <NumberField label="Least distance of IPs" unit="m" least={5} value={fit.spacing} onChange={(spacing) => setFit({ ...fit, spacing })} />
        </Row>
        <Row label="Keep both ends">
          <span>
            <Switch size="small" aria-label="Keep both ends of the fit" checked={fit.fix_ends} onChange={(fix_ends) => setFit({ ...fit, fix_ends })} />
          </span>
        </Row>
        {shown && (
          <Figures
            of={[
              ["IPs", String(found!.spec.points.length), ""],
              ["furthest", shown.worst.toFixed(0), "mm"],
              ["root mean square", shown.rms.toFixed(1), "mm"],
            ]}
          />
        )}
        <Confirm edit={edit} proposed={proposed} propose={propose} take={take} error={error} mayEdit={mayEdit} what="Fit" />
      </section>
      <section className="card" aria-label="Match an end">
        <h3 style={{ paddingBottom: 6 }}>Match level and grade</h3>
        <Row label="At its">
          <Segmented<"begin" | "end">
            size="small"
            aria-label="Which end"
            value={match.end}
            options={["begin", "end"]}
            onChange={(end) => setMatch({ ...match, end })}
          />
        </Row>
        <Row label="To">
          <Select
            size="small"
            aria-label="What the end meets"
            value={match.to}
            options={[
              { value: "existing" as const, label: "the old road's crown" },
              { value: "design" as const, label: "the neighbour's design" },
            ]}
            onChange={(to) => setMatch({ ...match, to })}
          />
        </Row>
        <Row label="Over">
          <NumberField label="Length of the match" unit="m" least={1} value={match.over} onChange={(over) => setMatch({ ...match, over })} />
        </Row>
        <Confirm edit={match} proposed={proposed} propose={propose} take={take} error={error} mayEdit={mayEdit} what="Match" />
      </section>
    </>
  );
}

/** How far the levels fitted through lie off the profile, mm. */
function residuals(found: ProfileLook, levels: Levels | undefined, fit: Fit): { worst: number; rms: number } | null {
  if (!levels) return null;
  const of = { design: levels.design, level_table: levels.adopted, existing: levels.existing }[fit.through];
  const at = between(
    found.drawn.map((p) => p[0]),
    found.drawn.map((p) => p[1]),
  );
  const off = levels.chainage.flatMap((c, i) => {
    const z = c >= fit.from_chainage - 1e-3 && c <= fit.to_chainage + 1e-3 ? at(c) : null;
    return z !== null && of[i] != null ? [1000 * (of[i] - z)] : [];
  });
  if (off.length === 0) return null;
  return { worst: Math.max(...off.map(Math.abs)), rms: Math.sqrt(off.reduce((s, v) => s + v * v, 0) / off.length) };
}

interface ManyProps {
  marked: Set<number>;
  count: number;
  mayEdit: boolean;
  apply: (e: ProfileEdit) => void;
}

export function ManyForm({ marked, count, mayEdit, apply }: ManyProps) {
  const [by, setBy] = useState<"length" | "k" | "longest" | "least">("k");
  const [value, setValue] = useState(20);
  const [along, setAlong] = useState(0);
  const [up, setUp] = useState(0);
  const [tolerance, setTolerance] = useState(5);
  const indices = [...marked].filter((i) => i < count).sort((a, b) => a - b);
  const none = !mayEdit || indices.length === 0;
  return (
    <section aria-label="Many IPs at once">
      <p className="quiet" style={{ marginTop: 0 }}>
        {indices.length === 0
          ? "Mark IPs in the table."
          : `${indices.length} IP${indices.length === 1 ? "" : "s"} marked: ${indices.map((i) => i + 1).join(", ")}.`}
      </p>
      <Row label="Curves">
        <Select
          size="small"
          aria-label="Curves of the marked IPs"
          value={by}
          options={[
            { value: "k" as const, label: "of one K" },
            { value: "length" as const, label: "of one length" },
            { value: "longest" as const, label: "the longest" },
            { value: "least" as const, label: "the least allowed" },
          ]}
          onChange={setBy}
        />
      </Row>
      {(by === "k" || by === "length") && (
        <Row label={by === "k" ? "K" : "Length"}>
          <NumberField
            label={by === "k" ? "K of the marked IPs" : "Length of the marked curves"}
            unit={by === "k" ? "m/%" : "m"}
            least={0}
            value={value}
            onChange={setValue}
          />
        </Row>
      )}
      <Button size="small" disabled={none} onClick={() => apply({ kind: "curves", indices, by, value })}>
        Set curves
      </Button>
      <div style={{ marginTop: 10 }}>
        <Row label="Along by">
          <NumberField label="Shift along" unit="m" value={along} onChange={setAlong} />
        </Row>
        <Row label="Up by">
          <NumberField label="Shift up" unit="m" value={up} onChange={setUp} />
        </Row>
        <span style={{ display: "flex", gap: 6 }}>
          <Button size="small" disabled={none || (along === 0 && up === 0)} onClick={() => apply({ kind: "shift", indices, chainage_by: along, level_by: up })}>
            Shift
          </Button>
          <Button size="small" danger disabled={none} onClick={() => apply({ kind: "remove", indices })}>
            Remove marked
          </Button>
        </span>
      </div>
      <div style={{ marginTop: 10 }}>
        <Row label="Within">
          <NumberField label="Tolerance of what is redundant" unit="mm" least={0} value={tolerance} onChange={setTolerance} />
        </Row>
        <Button size="small" disabled={!mayEdit} onClick={() => apply({ kind: "redundant", tolerance_mm: tolerance })}>
          Remove redundant IPs
        </Button>
      </div>
    </section>
  );
}
