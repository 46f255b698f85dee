/** Drives, field accesses and dropped kerbs as a table, typed or pasted; all of it is one step. */
import { App } from "antd";
import { useMemo, useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { DEFAULTS } from "../../api/defaults";
import { useChange } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { CellTable } from "../../common/cells/CellTable";
import { chainages, choices, type Column, numbers } from "../../common/cells/columns";
import { Dialog } from "../../common/Dialog";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { choicesOf } from "../../common/words";

type Drive = Schemas["Drive"];
const SIDES = choicesOf<Drive["side"]>({ left: "left", right: "right" });
const KINDS = choicesOf<Drive["kind"]>({ drive: "drive", field_access: "field access", dropped_kerb: "dropped kerb" });

const COLUMNS: Column<Drive>[] = [
  chainages<Drive>({ of: (r) => r.chainage, put: (r, chainage) => ({ ...r, chainage }), label: (_, i) => `Chainage of drive ${i + 1}` }),
  choices<Drive, Drive["side"]>({
    title: "Side",
    options: SIDES,
    of: (r) => r.side,
    put: (r, side) => ({ ...r, side }),
    label: (_, i) => `Side of drive ${i + 1}`,
  }),
  numbers<Drive>({
    title: "Width m",
    unit: "m",
    least: 0.5,
    most: 60,
    of: (r) => r.width,
    put: (r, width) => ({ ...r, width }),
    label: (_, i) => `Width of drive ${i + 1}`,
  }),
  choices<Drive, Drive["kind"]>({
    title: "Kind",
    width: 130,
    options: KINDS,
    of: (r) => r.kind,
    put: (r, kind) => ({ ...r, kind }),
    label: (_, i) => `Kind of drive ${i + 1}`,
  }),
];

export function DrivesDialog({ close }: { close: () => void }) {
  const place = usePlace();
  const { message } = App.useApp();
  const first = useMemo<Drive>(() => ({ chainage: Math.round(place.chainage), side: "right", width: 4, kind: "drive" }), [place.chainage]);
  const [table, setTable] = useState({ ...DEFAULTS.DriveTable, rows: [first] });
  const tie = useChange(async (of, body: Schemas["DriveTable"]) => dataOf(await api.POST("/api/projects/{project_id}/drives", { params: of, body })));
  const send = () =>
    tie.mutate(table, {
      onSuccess: () => {
        void message.success(`${table.rows.length} tied in`);
        close();
      },
    });
  return (
    <Dialog title="Drives and dropped kerbs" open width={560} okText="Tie them in" okButtonProps={{ loading: tie.isPending }} onCancel={close} onOk={send}>
      <CellTable<Drive>
        label="Drives"
        height={260}
        rows={table.rows}
        columns={COLUMNS}
        disabled={false}
        change={(rows) => setTable({ ...table, rows })}
        least={1}
        fresh={(all, i) => ({ ...(all[Math.max(0, i - 1)] ?? first), chainage: (all[Math.max(0, i - 1)] ?? first).chainage + 20 })}
      />
      <div style={{ height: 8 }} />
      <Row label="Drives over">
        <NumberField
          label="Length of drives"
          unit="m"
          least={0.5}
          value={table.drive_length}
          onChange={(drive_length) => setTable({ ...table, drive_length })}
        />
      </Row>
      <Row label="Accesses over">
        <NumberField
          label="Length of field accesses"
          unit="m"
          least={0.5}
          value={table.field_length}
          onChange={(field_length) => setTable({ ...table, field_length })}
        />
      </Row>
      <Row label="Kerbs leave">
        <NumberField
          label="Upstand of dropped kerbs"
          unit="mm"
          least={0}
          value={table.upstand_mm}
          onChange={(upstand_mm) => setTable({ ...table, upstand_mm })}
        />
      </Row>
      <p className="quiet">
        Each row lies half its width to either side of its chainage. Drives and field accesses run from the pavement&rsquo;s edge down to the old level; a
        dropped kerb keeps what lies behind it. Rows of a kind share a template.
      </p>
    </Dialog>
  );
}
