/** What a road ends at on either side, so that ground that two roads share is counted once. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import { type DocumentOf, useDocuments } from "../api/hooks";

type Road = DocumentOf<"road">;
type End = Road["spec"]["beside"][number];

interface Props {
  road: Road;
  roads: Road[];
  disabled: boolean;
  change: (beside: End[]) => void;
}

/** A choice as text: no key has a blank. */
const textOf = (to: End["to"]) => (to.by === "middle" ? `middle ${to.road}` : `guide ${to.guide}`);
const toOf = (text: string): End["to"] => {
  const [by, key = ""] = text.split(" ");
  return by === "middle" ? { by, road: key } : { by: "guide", guide: key };
};

export function RoadEnds({ road, roads, disabled, change }: Props) {
  const documents = useDocuments().data?.documents ?? [];
  const guides = documents.filter((d): d is DocumentOf<"guide"> => d.kind === "guide" && d.spec.alignment === road.spec.alignment);
  const others = roads.filter((r) => r.key !== road.key);
  const ends = road.spec.beside;
  const options = [
    ...(others.length ? [{ label: "In the middle", options: others.map((r) => ({ value: `middle ${r.key}`, label: `to ${r.spec.name}` })) }] : []),
    ...(guides.length ? [{ label: "At a guide", options: guides.map((g) => ({ value: `guide ${g.key}`, label: g.spec.name })) }] : []),
  ];
  const set = (i: number, fields: Partial<End>) => change(ends.map((e, k) => (k === i ? { ...e, ...fields } : e)));
  return (
    <section className="card" aria-label={`Where ${road.spec.name} ends`} style={{ marginTop: 14 }}>
      <h3>Where {road.spec.name} ends</h3>
      {ends.length === 0 && (
        <p className="quiet">On both sides where its slopes meet the ground. Where another road lies beside it, what lies on both is counted twice.</p>
      )}
      {ends.map((end, i) => (
        <div key={i} style={{ display: "flex", gap: 8, alignItems: "center", marginBottom: 6 }}>
          <Select
            size="small"
            style={{ width: 130 }}
            aria-label={`Side of end ${i + 1}`}
            disabled={disabled}
            value={end.side}
            options={[
              { value: "left", label: "on the left" },
              { value: "right", label: "on the right" },
            ]}
            onChange={(side) => set(i, { side })}
          />
          <Select
            size="small"
            style={{ width: 320 }}
            aria-label={`What end ${i + 1} is at`}
            disabled={disabled}
            value={textOf(end.to)}
            options={options}
            onChange={(v: string) => set(i, { to: toOf(v) })}
          />
          {!disabled && (
            <Button
              size="small"
              type="text"
              aria-label={`Remove end ${i + 1}`}
              icon={<DeleteOutlined />}
              onClick={() => change(ends.filter((_, k) => k !== i))}
            />
          )}
        </div>
      ))}
      {!disabled && options.length > 0 && ends.length < 20 && (
        <Button
          size="small"
          icon={<PlusOutlined />}
          onClick={() => change([...ends, { side: ends.some((e) => e.side === "right") ? "left" : "right", to: toOf(options[0]!.options[0]!.value) }])}
        >
          Add an end
        </Button>
      )}
    </section>
  );
}
