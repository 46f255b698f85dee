/** Intersection points as a table; in plan they can be dragged. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Button } from "antd";
import { NumberField } from "../../common/NumberField";
import type { Ip } from "./hooks";

export function IpTable({ ips, disabled, change }: { ips: Ip[]; disabled: boolean; change: (ips: Ip[]) => void }) {
  const set = (i: number, fields: Partial<Ip>) => change(ips.map((p, j) => (j === i ? { ...p, ...fields } : p)));
  const insert = (i: number) => {
    const [a, b] = [ips[i - 1]!, ips[i]!];
    const made = {
      east: (a.east + b.east) / 2 + (b.north - a.north) / 20,
      north: (a.north + b.north) / 2 - (b.east - a.east) / 20,
      radius: 300,
      transition_in: 0,
      transition_out: 0,
    };
    change([...ips.slice(0, i), made, ...ips.slice(i)]);
  };
  return (
    <table className="grid-table edit-table" aria-label="Intersection points">
      <thead>
        <tr>
          <th className="num">IP</th>
          <th>Easting</th>
          <th>Northing</th>
          <th>Radius</th>
          <th>Transition in</th>
          <th>Transition out</th>
          <th aria-label="Actions" />
        </tr>
      </thead>
      <tbody>
        {ips.map((p, i) => {
          const end = i === 0 || i === ips.length - 1;
          return (
            <tr key={i}>
              <td className="num">{i + 1}</td>
              <td>
                <NumberField label={`Easting of IP ${i + 1}`} unit="m" value={p.east} disabled={disabled} onChange={(east) => set(i, { east })} />
              </td>
              <td>
                <NumberField label={`Northing of IP ${i + 1}`} unit="m" value={p.north} disabled={disabled} onChange={(north) => set(i, { north })} />
              </td>
              {end ? (
                <td colSpan={3} className="quiet">
                  {i === 0 ? "start" : "end"}
                </td>
              ) : (
                <>
                  <td>
                    <NumberField
                      label={`Radius at IP ${i + 1}`}
                      unit="m"
                      least={1}
                      value={p.radius}
                      disabled={disabled}
                      onChange={(radius) => set(i, { radius })}
                    />
                  </td>
                  <td>
                    <NumberField
                      label={`Transition into IP ${i + 1}`}
                      unit="m"
                      least={0}
                      value={p.transition_in}
                      disabled={disabled}
                      onChange={(transition_in) => set(i, { transition_in })}
                    />
                  </td>
                  <td>
                    <NumberField
                      label={`Transition out of IP ${i + 1}`}
                      unit="m"
                      least={0}
                      value={p.transition_out}
                      disabled={disabled}
                      onChange={(transition_out) => set(i, { transition_out })}
                    />
                  </td>
                </>
              )}
              <td style={{ whiteSpace: "nowrap" }}>
                <Button
                  type="text"
                  size="small"
                  aria-label={`Insert before IP ${i + 1}`}
                  title="Insert before"
                  icon={<PlusOutlined />}
                  disabled={disabled || i === 0}
                  onClick={() => insert(i)}
                />
                <Button
                  type="text"
                  size="small"
                  aria-label={`Remove IP ${i + 1}`}
                  icon={<DeleteOutlined />}
                  disabled={disabled || end || ips.length <= 2}
                  onClick={() => change(ips.filter((_, j) => j !== i))}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
