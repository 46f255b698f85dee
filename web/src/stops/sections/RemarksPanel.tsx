/** Remarks of the designers, at a chainage or over the marked range: drawn in section, in plan and in the long section. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Checkbox, Input } from "antd";
import { useState } from "react";
import { type SpecOf, useDocument, useMayEdit, useOwnKey } from "../../api/hooks";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { NumberField } from "../../common/NumberField";
import { signed } from "../../common/signed";

const NONE = { spec: { remarks: [] } satisfies SpecOf<"remarks">, version: 0 };

export function RemarksPanel() {
  const place = usePlace();
  const mayEdit = useMayEdit();
  const { spec, change } = useDraft("remarks", useOwnKey("remarks"), useDocument("remarks") ?? NONE, 0);
  const [text, setText] = useState("");
  const [offset, setOffset] = useState<number | null>(null);
  const remarks = spec?.remarks ?? [];
  const from = Number((place.range?.from ?? place.chainage).toFixed(3));
  const to = place.range ? Number(place.range.to.toFixed(3)) : null;
  const words = text.trim();
  const add = () => {
    if (!words) return;
    change({ remarks: [...remarks, { text: words, from_chainage: from, to_chainage: to, offset }].sort((a, b) => a.from_chainage - b.from_chainage) });
    setText("");
  };
  return (
    <section aria-label="Remarks" style={{ marginTop: 12 }}>
      <h3>Remarks</h3>
      {remarks.map((r, i) => (
        <div key={i} className="remark">
          <button type="button" className="list-item" onClick={() => place.goToChainage(r.from_chainage)}>
            <span className="mono">{chainageText(r.from_chainage, 1)}</span> {r.text}
            {(r.to_chainage != null || r.offset != null) && (
              <span className="quiet" style={{ display: "block" }}>
                {[r.to_chainage != null && `to ${chainageText(r.to_chainage, 1)}`, r.offset != null && `at ${signed(r.offset, 2)} m`]
                  .filter(Boolean)
                  .join(", ")}
              </span>
            )}
          </button>
          {mayEdit && (
            <Button
              type="text"
              size="small"
              aria-label={`Remove remark ${r.text}`}
              icon={<DeleteOutlined />}
              onClick={() => change({ remarks: remarks.filter((_, j) => j !== i) })}
            />
          )}
        </div>
      ))}
      {mayEdit && (
        <>
          <Input
            size="small"
            aria-label="Remark"
            placeholder={to === null ? `What to say at ${chainageText(from, 1)}` : `What to say from ${chainageText(from, 1)} to ${chainageText(to, 1)}`}
            value={text}
            maxLength={200}
            onChange={(e) => setText(e.target.value)}
            onPressEnter={add}
          />
          <span style={{ display: "flex", gap: 6, alignItems: "center", marginTop: 6 }}>
            <Checkbox checked={offset !== null} onChange={(e) => setOffset(e.target.checked ? 0 : null)}>
              At an offset
            </Checkbox>
            {offset !== null && <NumberField label="Offset of the remark" unit="m" width={92} least={-200} most={200} value={offset} onChange={setOffset} />}
            <span style={{ flex: 1 }} />
            <Button size="small" disabled={!words} onClick={add}>
              Add
            </Button>
          </span>
        </>
      )}
    </section>
  );
}
