/** The bands of overlay depth with their areas; their limits are typed here, and how depth is taken between sections. */
import { DeleteOutlined, EditOutlined, PlusOutlined } from "@ant-design/icons";
import { Button, Segmented } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useDocument, useMayEdit, useOwnKey } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { bandColours } from "../../base/theme";
import { Floating } from "../../common/Floating";
import { NumberField } from "../../common/NumberField";
import type { DepthBetween } from "../../plan/hooks";

const mm = (v: number) => (v * 1000).toFixed(0);

export function DepthLegend({
  depth,
  wait,
  between,
  setBetween,
}: {
  depth: Schemas["DepthMapOut"] | undefined;
  wait: string | null;
  between: DepthBetween;
  setBetween: (v: DepthBetween) => void;
}) {
  const mayEdit = useMayEdit();
  const [editing, setEditing] = useState(false);
  return (
    <Floating
      title="Overlay depth"
      extra={
        mayEdit && (
          <Button type="text" size="small" aria-label="Change the bands" aria-pressed={editing} icon={<EditOutlined />} onClick={() => setEditing(!editing)} />
        )
      }
    >
      {editing ? (
        <Limits />
      ) : !depth ? (
        <p className="quiet" role="status">
          {wait}
        </p>
      ) : (
        <table>
          <tbody>
            {depth.bands.map((b, i) => (
              <tr key={i}>
                <td>
                  <span className="swatch" style={{ background: bandColours[i] }} />
                </td>
                <td>{b.low === null ? `under ${mm(b.high!)} mm` : b.high === null ? `over ${mm(b.low)} mm` : `${mm(b.low)} to ${mm(b.high)} mm`}</td>
                <td>{b.area.toFixed(0)} m²</td>
              </tr>
            ))}
            <tr>
              <td />
              <td>all</td>
              <td>{depth.area.toFixed(0)} m²</td>
            </tr>
          </tbody>
        </table>
      )}
      <div title="Depth straight between sections, or between the triangles of the survey and of the design" style={{ marginTop: 4 }}>
        <Segmented<DepthBetween>
          size="small"
          aria-label="Depth between"
          value={between}
          options={[
            { value: "sections", label: "sections" },
            { value: "surfaces", label: "surfaces" },
          ]}
          onChange={setBetween}
        />
      </div>
    </Floating>
  );
}

/** Upper limits of the bands; the last band is open. */
function Limits() {
  const saved = useDocument("sections");
  const { spec, change } = useDraft("sections", useOwnKey("sections"), saved);
  const limits = spec?.depth_bands_mm ?? [];
  if (!spec) return null;
  const set = (next: number[]) => change({ ...spec, depth_bands_mm: next });
  return (
    <table>
      <tbody>
        {limits.map((limit, i) => (
          <tr key={i}>
            <td>
              <span className="swatch" style={{ background: bandColours[i] }} />
            </td>
            <td>
              <NumberField
                label={`Band ${i + 1} up to`}
                unit="mm"
                width={84}
                least={(limits[i - 1] ?? 0) + 1}
                most={limits[i + 1] === undefined ? 10_000 : limits[i + 1]! - 1}
                value={limit}
                onChange={(v) => set(limits.map((x, k) => (k === i ? v : x)))}
              />
            </td>
            <td>
              <Button
                type="text"
                size="small"
                aria-label={`Remove band ${i + 1}`}
                icon={<DeleteOutlined />}
                disabled={limits.length < 2}
                onClick={() => set(limits.filter((_, k) => k !== i))}
              />
            </td>
          </tr>
        ))}
        <tr>
          <td>
            <span className="swatch" style={{ background: bandColours[limits.length] }} />
          </td>
          <td>and more</td>
          <td>
            <Button
              type="text"
              size="small"
              aria-label="Add a band"
              icon={<PlusOutlined />}
              disabled={limits.length >= 5}
              onClick={() => set([...limits, (limits.at(-1) ?? 0) + 50])}
            />
          </td>
        </tr>
      </tbody>
    </table>
  );
}
