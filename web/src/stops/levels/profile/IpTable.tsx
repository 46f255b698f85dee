/** All IPs of a profile: what is typed, what follows, what breaks a limit. Rows are marked for changes of many at once. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Checkbox } from "antd";
import { usePlace } from "../../../app/place";
import { ChainageField } from "../../../common/ChainageField";
import type { ProfileLook } from "../../../common/LongLayers";
import { NumberField } from "../../../common/NumberField";
import { signed } from "../../../common/signed";
import type { ProfileEdit } from "./profile";

interface Props {
  look: ProfileLook;
  chosen: number;
  choose: (i: number) => void;
  marked: Set<number>;
  mark: (m: Set<number>) => void;
  mayEdit: boolean;
  apply: (e: ProfileEdit) => void;
}

export function IpTable({ look, chosen, choose, marked, mark, mayEdit, apply }: Props) {
  const place = usePlace();
  const toggle = (i: number) => {
    const next = new Set(marked);
    if (!next.delete(i)) next.add(i);
    mark(next);
  };
  const some = look.ips.map((_, i) => i);
  return (
    <table className="grid-table edit-table" aria-label="IPs of the profile">
      <thead>
        <tr>
          <th>
            <Checkbox
              aria-label="Mark all IPs"
              checked={marked.size > 0 && marked.size >= some.length}
              indeterminate={marked.size > 0 && marked.size < some.length}
              onChange={() => mark(marked.size ? new Set() : new Set(some))}
            />
          </th>
          <th>IP</th>
          <th>Chainage</th>
          <th>Level m</th>
          <th className="num">in %</th>
          <th className="num">change %</th>
          <th>Curve m</th>
          <th>K</th>
          <th className="num" title="The longest curve that fits">
            fits m
          </th>
          <th className="num">high, low at</th>
          <th>On a bend</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {look.ips.map((ip, i) => {
          const p = look.spec.points[i]!;
          const bad = ip.remarks.length > 0;
          return (
            <tr
              key={i}
              className={i === chosen ? "now" : undefined}
              title={ip.remarks.join("; ")}
              onFocus={() => {
                if (i !== chosen) choose(i);
              }}
            >
              <td>
                <Checkbox aria-label={`Mark IP ${i + 1}`} checked={marked.has(i)} onChange={() => toggle(i)} />
              </td>
              <td className="mono" style={{ color: bad ? "var(--fault)" : undefined }}>
                <button
                  type="button"
                  className="link"
                  aria-label={`Go to IP ${i + 1}`}
                  onClick={() => {
                    choose(i);
                    place.goToChainage(p.chainage);
                  }}
                >
                  {i + 1}
                </button>
                {bad && <span aria-label="breaks a limit"> !</span>}
              </td>
              <td>
                <ChainageField
                  label={`Chainage of IP ${i + 1}`}
                  width={92}
                  value={p.chainage}
                  disabled={!mayEdit}
                  onChange={(chainage) => apply({ kind: "at", index: i, chainage, level: p.level, keep: "length" })}
                />
              </td>
              <td>
                <NumberField
                  label={`Level of IP ${i + 1}`}
                  width={86}
                  unit="m"
                  value={p.level}
                  disabled={!mayEdit}
                  onChange={(level) => apply({ kind: "at", index: i, chainage: p.chainage, level, keep: "length" })}
                />
              </td>
              <td className="num">{ip.grade_in === null ? "" : signed(ip.grade_in, 2)}</td>
              <td className="num">{ip.change === null ? "" : signed(ip.change, 2)}</td>
              <td>
                {ip.change !== null && (
                  <NumberField
                    label={`Curve of IP ${i + 1}`}
                    width={76}
                    unit="m"
                    least={0}
                    value={Number(ip.length.toFixed(3))}
                    disabled={!mayEdit}
                    onChange={(value) => apply({ kind: "curves", indices: [i], by: "length", value })}
                  />
                )}
              </td>
              <td>
                {ip.change !== null && (
                  <NumberField
                    label={`K of IP ${i + 1}`}
                    width={72}
                    unit=""
                    least={0}
                    value={Number((ip.k ?? 0).toFixed(1))}
                    disabled={!mayEdit}
                    onChange={(value) => apply({ kind: "curves", indices: [i], by: "k", value })}
                  />
                )}
              </td>
              <td className="num">{ip.longest === null ? "" : ip.longest.toFixed(1)}</td>
              <td className="num">{ip.turn === null ? "" : ip.turn.toFixed(1)}</td>
              <td style={{ color: "var(--caution)" }}>{ip.length > 0 && ip.arcs.length > 0 ? (ip.within_arc ? "within" : "partly") : ""}</td>
              <td>
                {mayEdit && (
                  <Button
                    type="text"
                    size="small"
                    aria-label={`Remove IP ${i + 1}`}
                    icon={<DeleteOutlined />}
                    disabled={look.ips.length < 3}
                    onClick={() => apply({ kind: "remove", indices: [i] })}
                  />
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
