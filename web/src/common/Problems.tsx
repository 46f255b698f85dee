/** Problems along the road; each leads to its place, and may be left as it is with a reason. */
import { Button, Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useMayEdit } from "../api/hooks";
import { useSteps } from "../api/save";
import { chainageText } from "../base/chainage";
import { usePlace } from "../base/place";

type Problem = Schemas["ProblemOut"];

const FEW = 5;

/** What takes a problem away in one step. A new one is a line here. */
const MENDS: Record<NonNullable<Problem["mend"]>, (p: Problem) => string> = {
  reach_edge: () => "Let the lanes reach the edge",
  put_rule_first: ({ rule }) => `Let ${rule?.point ?? "the point"} ${rule?.side ?? ""} follow it`,
};
/** Whether a mend can be done: what it needs is known. */
const canMend = (p: Problem) => p.mend !== null && (p.mend !== "put_rule_first" || p.rule !== null);

/** Those that nobody has decided to leave. */
export const isOpen = (p: Problem): boolean => p.left === null;

/** “3 problems, 1 left”. */
export function countOf(problems: readonly Problem[]): string {
  const open = problems.filter(isOpen).length;
  const left = problems.length - open;
  return `${open === 0 ? "No problems" : `${open} problem${open > 1 ? "s" : ""}`}${left > 0 ? `, ${left} left` : ""}`;
}

function useMend() {
  const treatments = useSteps("treatments");
  const follow = useSteps("follow");
  return (p: Problem) => {
    const { rule } = p;
    if (p.mend === "put_rule_first")
      return void follow((now) => (rule ? { rules: [rule, ...(now?.rules ?? []).filter((r) => JSON.stringify(r) !== JSON.stringify(rule))] } : null));
    void treatments((now) =>
      now
        ? {
            ...now,
            ranges: now.ranges.map((r) =>
              r.work.kind === "overlay" && r.from_chainage < p.chainage_to && r.to_chainage > p.chainage_from
                ? { ...r, work: { ...r.work, reach: "at_least_edge" as const } }
                : r,
            ),
          }
        : null,
    );
  };
}

/** Leaves a problem as it is, or takes one up again. */
function useLeave() {
  const step = useSteps("left_problems");
  return {
    leave: (p: Problem, reason: string) => {
      const { code, subject, message, measured, limit } = p;
      const row = { code, subject, message, measured, limit, from_chainage: p.chainage_from, to_chainage: p.chainage_to, reason };
      void step((now) => ({ rows: [...(now?.rows ?? []), row] }));
    },
    /** Those that cover it: what is said of it elsewhere stays. */
    takeUp: (p: Problem) =>
      void step((now) => ({
        rows: (now?.rows ?? []).filter(
          (r) =>
            r.code !== p.code ||
            r.subject !== p.subject ||
            r.reason !== p.left ||
            r.from_chainage > p.chainage_from + 1e-3 ||
            r.to_chainage < p.chainage_to - 1e-3,
        ),
      })),
  };
}

/** One problem: a click leads to its place; what can be done about it stands below. */
export function ProblemRow({ p, go }: { p: Problem; go: (p: Problem) => void }) {
  const mayEdit = useMayEdit();
  const mend = useMend();
  const { leave, takeUp } = useLeave();
  /** The reason being typed, null where none is asked for. */
  const [reason, setReason] = useState<string | null>(null);
  const done = () => {
    if (!reason?.trim()) return;
    leave(p, reason.trim());
    setReason(null);
  };
  return (
    <div className="problem-row">
      <button type="button" className={isOpen(p) ? `problem ${p.severity}` : "problem left"} onClick={() => go(p)}>
        <span className="mono">{chainageText(p.chainage_from, 1)}</span>
        <span>
          {p.message}
          {p.chainage_to > p.chainage_from + 0.01 && <span className="quiet"> · to {chainageText(p.chainage_to, 1)}</span>}
          {p.left !== null && <span className="quiet"> · left: {p.left}</span>}
        </span>
      </button>
      {mayEdit && (
        <div className="problem-acts">
          {p.mend && canMend(p) && isOpen(p) && (
            <Button size="small" onClick={() => mend(p)}>
              {MENDS[p.mend](p)}
            </Button>
          )}
          {!isOpen(p) && (
            <Button className="when-near" size="small" type="text" onClick={() => takeUp(p)}>
              Take it up again
            </Button>
          )}
          {isOpen(p) && reason === null && (
            <Button className="when-near" size="small" type="text" onClick={() => setReason("")}>
              Leave it
            </Button>
          )}
          {reason !== null && (
            <Input
              size="small"
              autoFocus
              aria-label="Reason to leave it"
              placeholder="Reason to leave it, then Enter"
              maxLength={300}
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              onPressEnter={done}
              onKeyDown={(e) => {
                if (e.key !== "Escape") return;
                e.stopPropagation();
                setReason(null);
              }}
              onBlur={() => reason.trim() === "" && setReason(null)}
              suffix={
                <Button size="small" type="link" disabled={!reason.trim()} onClick={done}>
                  Leave it
                </Button>
              }
            />
          )}
        </div>
      )}
    </div>
  );
}

export function Problems({ problems }: { problems: Problem[] }) {
  const place = usePlace();
  const [all, setAll] = useState(false);
  const sorted = [...problems.filter(isOpen), ...problems.filter((p) => !isOpen(p))];
  const shown = all ? sorted : sorted.slice(0, FEW);
  return (
    <section className="card" aria-label="Problems">
      <h3 style={{ display: "flex", justifyContent: "space-between", paddingBottom: 6 }}>
        {countOf(problems)}
        {problems.length > FEW && (
          <button
            type="button"
            className="link"
            style={{ border: 0, background: "none", color: "var(--saddle700)", cursor: "pointer" }}
            onClick={() => setAll(!all)}
          >
            {all ? "fewer" : "all"}
          </button>
        )}
      </h3>
      {shown.map((p) => (
        <ProblemRow key={`${p.code} ${p.subject} ${p.chainage_from} ${p.message}`} p={p} go={() => place.goToChainage(p.chainage_from)} />
      ))}
    </section>
  );
}
