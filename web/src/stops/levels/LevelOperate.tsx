/** Operations on the adopted levels of a range. */
import { DEFAULTS } from "../../api/defaults";
import { Button } from "antd";
import { api, dataOf, type Schemas } from "../../api/client";
import { useDocumentsOf, useOfRoad } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { Operate, type OperationKind } from "../../common/Operate";
import type { Table } from "./table";
import type { Levels } from "./view";

interface Props {
  table: Table;
  levels: Levels;
  mayEdit: boolean;
  change: (t: Table) => void;
  propose: (t: Table | null) => void;
}

type LevelOperation = Schemas["LevelOperationIn"]["operation"];

/** What can be done with the levels of a range. A new operation is one entry here and one in the core. */
function operations(limit: number, profiles: { value: string; label: string }[]): Record<LevelOperation["kind"], OperationKind<LevelOperation> | null> {
  return {
    design: { label: "fill from the design", fresh: { kind: "design" }, fields: [] },
    profile: profiles[0]
      ? {
          label: "fill from a profile",
          fresh: { kind: "profile", profile: profiles[0].value },
          fields: [{ name: "profile", label: "Profile", options: profiles }],
        }
      : null,
    straight: { label: "straight between the ends", fresh: { kind: "straight" }, fields: [] },
    mean: { label: "running mean", fresh: DEFAULTS.MeanLevel, fields: [{ name: "length", label: "Over", unit: "m", least: 1 }] },
    ease: {
      label: "ease the changes of grade",
      fresh: { ...DEFAULTS.Ease, change_pct: limit },
      fields: [
        { name: "change_pct", label: "At most", unit: "%", least: 0.01 },
        { name: "keep_cover", label: "Keep the cover", toggle: true },
      ],
    },
    raise: { label: "raise or lower", fresh: DEFAULTS.Raise, fields: [{ name: "by_mm", label: "By", unit: "mm" }] },
    cover: { label: "raise to the cover", fresh: { kind: "cover" }, fields: [] },
  };
}

export function LevelOperate({ table, levels, mayEdit, change, propose }: Props) {
  const of = useOfRoad();
  const profiles = useDocumentsOf("profile").map((d) => ({ value: d.key, label: d.spec.name }));
  const kinds = operations(levels.limit_pct, profiles);
  const rows = table.rows;
  const { range } = usePlace();
  const inside = (c: number) => !range || (c >= range.from - 1e-3 && c <= range.to + 1e-3);
  return (
    <>
      <Operate<LevelOperation, Table>
        name="level-operation"
        kinds={kinds}
        first={{ kind: "design" }}
        table={table}
        mayEdit={mayEdit}
        propose={propose}
        take={change}
        ask={async (operation, where) =>
          dataOf(
            await api.POST("/api/projects/{project_id}/levels/apply", {
              params: of,
              body: { operation, from_chainage: where.from, to_chainage: where.to, table },
            }),
          )
        }
      />
      {mayEdit && rows.length > 0 && (
        <Button size="small" style={{ marginBottom: 8 }} onClick={() => change({ rows: range ? rows.filter((r) => !inside(r.chainage)) : [] })}>
          Empty{range ? " the range" : " the table"}
        </Button>
      )}
    </>
  );
}
