/** All problems of the road by stop: what kind, where, and a click that leads there. */
import { Button, Checkbox, Drawer, Segmented } from "antd";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { fileOf, type Schemas } from "../api/client";
import { useOfRoad, useRoadKey, useRoads, useSummary, useToldRoads } from "../api/hooks";
import { isOpen, ProblemRow } from "../common/Problems";
import { chainageText } from "../base/chainage";
import { usePlace } from "../base/place";
import { useGoToRoad } from "../base/roads";
import { stops } from "./stops";

type Problem = Schemas["ProblemOut"];
type Kind = "all" | Problem["severity"] | "left";

export function ProblemList({ close }: { close: () => void }) {
  const problems = useSummary().data?.problems ?? [];
  const { range } = usePlace();
  const { search, pathname } = useLocation();
  const navigate = useNavigate();
  const of = useOfRoad();
  const [kind, setKind] = useState<Kind>("all");
  const [inRange, setInRange] = useState(false);
  const [stop, setStop] = useState<string>("");
  const near = (p: Problem) => !inRange || !range || (p.chainage_from <= range.to && p.chainage_to >= range.from);
  const counts = (p: Problem, k: Kind) => (k === "left" ? !isOpen(p) : isOpen(p) && (k === "all" || p.severity === k)) && near(p);
  const shown = problems.filter((p) => counts(p, kind));
  const groups = stops
    .map((s) => ({ path: s.path, title: s.title, problems: shown.filter((p) => s.subjects.includes(p.subject)) }))
    .concat({ path: "", title: "Others", problems: shown.filter((p) => !stops.some((s) => s.subjects.includes(p.subject))) })
    .filter((g) => g.problems.length > 0);
  const go = (path: string) => (p: Problem) => {
    const next = new URLSearchParams(search);
    next.set("at", p.chainage_from.toFixed(3));
    next.delete("side");
    void navigate({ pathname: path ? `/p/${of.path.project_id}/${path}` : pathname, search: next.toString() });
  };
  const count = (k: Kind) => problems.filter((p) => counts(p, k)).length;
  return (
    <Drawer
      title="Problems"
      extra={
        <Button size="small" href={fileOf(of, "files/problems.xlsx")} download>
          XLSX
        </Button>
      }
      open
      size={420}
      mask={false}
      onClose={close}
    >
      <div style={{ display: "grid", gap: 8, marginBottom: 8 }}>
        <Segmented<Kind>
          block
          aria-label="Kind of problem"
          value={kind}
          onChange={setKind}
          options={[
            { value: "all", label: `All ${count("all")}` },
            { value: "fault", label: `Faults ${count("fault")}` },
            { value: "caution", label: `Cautions ${count("caution")}` },
            { value: "left", label: `Left ${count("left")}` },
          ]}
        />
        {range && (
          <Checkbox checked={inRange} onChange={(e) => setInRange(e.target.checked)}>
            Only in the marked range, {chainageText(range.from, 0)} to {chainageText(range.to, 0)}
          </Checkbox>
        )}
        {groups.length > 1 && (
          <Segmented
            size="small"
            aria-label="Stop of the problems"
            value={groups.some((g) => g.title === stop) ? stop : ""}
            onChange={setStop}
            options={[{ value: "", label: "All stops" }, ...groups.map((g) => ({ value: g.title, label: `${g.title} ${g.problems.length}` }))]}
          />
        )}
      </div>
      {shown.length === 0 && <p className="quiet">No problems{kind === "all" && !inRange ? "" : " of this kind here"}.</p>}
      {groups
        .filter((g) => !groups.some((h) => h.title === stop) || g.title === stop)
        .map((g) => (
          <section key={g.title} aria-label={`Problems at ${g.title}`}>
            <h3 style={{ margin: "10px 0 4px" }}>{g.title}</h3>
            {g.problems.map((p) => (
              <ProblemRow key={`${p.code} ${p.chainage_from} ${p.message}`} p={p} go={go(g.path)} />
            ))}
          </section>
        ))}
      <OtherRoads close={close} />
    </Drawer>
  );
}

/** The other roads with what is wrong on them. */
function OtherRoads({ close }: { close: () => void }) {
  const here = useRoadKey();
  const several = useRoads().length > 1;
  const told = useToldRoads(several);
  const go = useGoToRoad();
  const others = told?.filter((road) => road.key !== here) ?? [];
  if (others.length === 0) return null;
  return (
    <section aria-label="Problems of other roads">
      <h3 style={{ margin: "14px 0 4px" }}>Other roads</h3>
      {others.map((road) => (
        <div key={road.key} style={{ display: "flex", gap: 8, alignItems: "center", padding: "3px 0" }}>
          <span style={{ flex: 1 }}>
            {road.name}, {road.problems === null ? `not computed: ${road.fault}` : `${road.problems} open`}
          </span>
          <Button size="small" onClick={() => (close(), go(road.key))}>
            Go there
          </Button>
        </div>
      ))}
    </section>
  );
}
