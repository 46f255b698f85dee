/** An operation on a marked range of a table: choose it, see what it would change, do it. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Alert, Button, Segmented, Select, Switch } from "antd";
import { type ReactNode, useState } from "react";
import { Failure } from "../api/client";
import { useProjectId, useSummary } from "../api/hooks";
import { chainageText } from "../base/chainage";
import { usePlace } from "../base/place";
import { Row } from "./Inspector";
import { NumberField } from "./NumberField";
import type { Unit } from "./numbers";

export type OperationField =
  /** when: only with another field at a value. */
  | { name: string; label: string; unit: Unit; least?: number; when?: [string, string] }
  | { name: string; label: string; options: { value: string; label: string }[] }
  | { name: string; label: string; toggle: true };

/** A kind of operation: its words, what it begins with, what can be set. */
export interface OperationKind<O> {
  label: string;
  fresh: O;
  fields: OperationField[];
}

interface Table {
  rows?: { chainage: number }[];
}

interface Props<O extends { kind: string }, T extends Table> {
  /** Of the query, so that answers are kept apart. */
  name: string;
  /** What can be done, by kind. A kind that the schema gets and the table lacks fails the type check. */
  kinds: Record<O["kind"], OperationKind<O> | null>;
  first: O;
  table: T;
  /** What else the answer depends on, and the form for it. */
  also?: { value: unknown; form: ReactNode };
  mayEdit: boolean;
  ask: (operation: O, range: { from: number; to: number }) => Promise<T>;
  propose: (t: T | null) => void;
  take: (t: T) => void;
  /** Below the fields of the operation chosen. */
  more?: (operation: O) => ReactNode;
}

export function Operate<O extends { kind: string }, T extends Table>({ name, kinds, first, table, also, mayEdit, ask, propose, take, more }: Props<O, T>) {
  const project_id = useProjectId();
  const place = usePlace();
  const summary = useSummary().data!;
  const [operation, setOperation] = useState<O>(first);
  const range = place.range ?? { from: summary.start, to: summary.end };
  const values: Record<string, unknown> = { ...operation };
  const offered = Object.entries<OperationKind<O> | null>(kinds).filter((e): e is [string, OperationKind<O>] => e[1] !== null);
  const chosen = (kind: string) => offered.find(([k]) => k === kind)![1];
  const set = (field: string, value: unknown) => setOperation({ ...operation, [field]: value });
  const asked = useQuery({
    queryKey: ["project", project_id, name, summary.stamp, operation, also?.value, range, table],
    queryFn: () => ask(operation, range),
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  const result = asked.error ? undefined : asked.data;
  const changed = result ? differing(table, result) : 0;
  // An answer to the question before is read, but not acted on.
  const ready = changed > 0 && !asked.isPlaceholderData;
  return (
    <section className="card" aria-label="Change a range">
      <h3 style={{ paddingBottom: 6 }}>{place.range ? `${chainageText(range.from, 0)} to ${chainageText(range.to, 0)}` : "Whole road"}</h3>
      {!place.range && (
        <p className="quiet" style={{ marginTop: 0 }}>
          Mark a range on the strip with Shift+drag to work on a part.
        </p>
      )}
      <Row label="Do">
        <Select
          size="small"
          popupMatchSelectWidth={false}
          aria-label="Operation"
          value={operation.kind}
          options={offered.map(([value, k]) => ({ value, label: k.label }))}
          onChange={(kind) => setOperation(chosen(kind).fresh)}
        />
      </Row>
      {chosen(operation.kind)
        .fields.filter((f) => !("when" in f && f.when) || values[f.when[0]] === f.when[1])
        .map((f) => (
          <Row key={f.name} label={f.label}>
            {"unit" in f ? (
              <NumberField label={f.label} unit={f.unit} least={f.least} value={Number(values[f.name] ?? 0)} onChange={(v) => set(f.name, v)} />
            ) : "options" in f && f.options.length > 3 ? (
              <Select
                size="small"
                popupMatchSelectWidth={false}
                aria-label={f.label}
                value={String(values[f.name])}
                options={f.options}
                onChange={(v) => set(f.name, v)}
              />
            ) : "options" in f ? (
              <Segmented size="small" aria-label={f.label} value={String(values[f.name])} options={f.options} onChange={(v) => set(f.name, v)} />
            ) : (
              <span>
                <Switch size="small" aria-label={f.label} checked={values[f.name] === true} onChange={(v) => set(f.name, v)} />
              </span>
            )}
          </Row>
        ))}
      {also?.form}
      {more?.(operation)}
      {asked.error instanceof Failure && <Alert type="error" title={asked.error.line} />}
      <p className="quiet" role="status" aria-label="What it would change" style={{ margin: "6px 0" }}>
        {result
          ? changed === 0
            ? "This would change nothing."
            : `This would change ${changed} row${changed === 1 ? "" : "s"}; ${result.rows?.length ?? 0} afterwards.`
          : ""}
      </p>
      <span style={{ display: "flex", gap: 6 }}>
        <Button
          size="small"
          onPointerEnter={() => propose(result ?? null)}
          onPointerLeave={() => propose(null)}
          onClick={() => propose(result ?? null)}
          disabled={!ready}
        >
          Show
        </Button>
        {mayEdit && (
          <Button
            size="small"
            type="primary"
            disabled={!ready}
            onClick={() => {
              propose(null);
              take(result!);
            }}
          >
            Do it
          </Button>
        )}
      </span>
    </section>
  );
}

/** At how many chainages two tables have other rows. */
function differing(a: Table, b: Table): number {
  const [old, now] = [new Set((a.rows ?? []).map((r) => JSON.stringify(r))), new Set((b.rows ?? []).map((r) => JSON.stringify(r)))];
  const apart = [...(a.rows ?? []).filter((r) => !now.has(JSON.stringify(r))), ...(b.rows ?? []).filter((r) => !old.has(JSON.stringify(r)))];
  return new Set(apart.map((r) => r.chainage)).size;
}
