/** What comes beyond the outermost points of a template where it is applied: its slopes, nothing, or a median up to a line. */
import { Select } from "antd";
import { freshKey, useSave } from "../../api/save";
import { type SpecOf, useDocumentsOf, useOwnKey, useRoadKey, useRoads } from "../../api/hooks";
import { Row } from "../../common/Inspector";

export type Beyond = SpecOf<"template_plan">["ranges"][number]["left_beyond"];
/** A guide that is not there yet: the end of another road. */
const NEW = "new ";
/** No key has a blank. */
const SLOPES = "the slopes",
  ENDS = "it ends";

interface Props {
  side: "left" | "right";
  value: Beyond;
  change: (v: Beyond) => void;
}

export function BeyondRows({ side, value, change }: Props) {
  const medians = useDocumentsOf("median");
  const guides = useDocumentsOf("guide");
  const here = useRoadKey();
  const ends = useRoads()
    .filter((r) => r.key !== here)
    .flatMap((r) => (["left", "right"] as const).map((end) => ({ value: `${NEW}${r.key} ${end}_end`, label: `${r.spec.name}, where it ends on the ${end}` })));
  const lines = [
    ...(guides.length ? [{ label: "Guides", options: guides.map((g) => ({ value: g.key, label: g.spec.name })) }] : []),
    ...(ends.length ? [{ label: "Other roads", options: ends }] : []),
  ];
  const first = guides.find((g) => g.spec.source.by === "road")?.key ?? ends[0]?.value ?? guides[0]?.key;
  return (
    <>
      <Row label={`Beyond, ${side}`}>
        <Select
          size="small"
          aria-label={`Beyond on the ${side}`}
          value={value == null ? SLOPES : value.kind === "ends" ? ENDS : value.median}
          options={[
            { value: SLOPES, label: "the slopes of the template" },
            { value: ENDS, label: "nothing: it ends there" },
            ...medians.map((m) => ({ value: m.key, label: m.spec.name, disabled: first === undefined })),
          ]}
          onChange={(v: string) =>
            change(v === SLOPES ? null : v === ENDS ? { kind: "ends" } : { kind: "median", median: v, guide: value?.kind === "median" ? value.guide : first! })
          }
        />
      </Row>
      {value?.kind === "median" && (
        <Row label="up to">
          <Select
            size="small"
            aria-label={`What the median on the ${side} reaches to`}
            popupMatchSelectWidth={false}
            value={value.guide}
            options={lines}
            onChange={(guide) => change({ ...value, guide })}
          />
        </Row>
      )}
    </>
  );
}

/** What was chosen, with the guides that it needs made first; undefined where one could not be written. */
export function useBeyond() {
  const save = useSave();
  const roads = useRoads();
  const guides = useDocumentsOf("guide");
  const alignment = useOwnKey("alignment");
  return async (value: Beyond): Promise<Beyond | undefined> => {
    if (value?.kind !== "median" || !value.guide.startsWith(NEW)) return value;
    const [road, line] = value.guide.slice(NEW.length).split(" ") as [string, "left_end" | "right_end"];
    const there = guides.find(({ spec: { source: s } }) => s.by === "road" && s.road === road && s.line === line && s.beyond === 0);
    if (there) return { ...value, guide: there.key };
    const name = `${line === "left_end" ? "Left" : "Right"} end of ${roads.find((r) => r.key === road)?.spec.name ?? road}`;
    const guide = freshKey("guide");
    const spec = { name: name.slice(0, 80), alignment, use: "other" as const, side: "right" as const, source: { by: "road" as const, road, line, beyond: 0 } };
    return (await save({ kind: "guide", key: guide, version: 0, spec })) === null ? undefined : { ...value, guide };
  };
}
