/** What a workbook of levels would change, before it is taken. */
import type { Schemas } from "../../api/client";
import { chainageText } from "../../base/chainage";
import { signed } from "../../common/signed";
import { Dialog } from "../../common/Dialog";

export function ChangesDialog({ read, take, close }: { read: Schemas["ReadLevelsOut"]; take: () => void; close: () => void }) {
  const many = read.changes.length;
  return (
    <Dialog
      title={many === 0 ? "Nothing would change" : `${many} level${many === 1 ? "" : "s"} would change`}
      open
      okText="Take them"
      okButtonProps={{ disabled: many === 0 }}
      onCancel={close}
      onOk={take}
      width={460}
    >
      <div tabIndex={0} style={{ maxHeight: 360, overflow: "auto" }}>
        <table className="grid-table" aria-label="Levels that would change">
          <thead>
            <tr>
              <th>Chainage</th>
              <th className="num">Now m</th>
              <th className="num">Then m</th>
              <th className="num">mm</th>
            </tr>
          </thead>
          <tbody>
            {read.changes.map((c) => (
              <tr key={c.chainage}>
                <td className="mono">{chainageText(c.chainage)}</td>
                <td className="num">{c.before?.toFixed(3) ?? "–"}</td>
                <td className="num">{c.after.toFixed(3)}</td>
                <td className="num">{c.before == null ? "" : signed(1000 * (c.after - c.before), 0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Dialog>
  );
}
