/** Tying a side road in over the marked range: a ramp down to the old level, or a milled notch. */
import { App, Button, Input, Segmented } from "antd";
import { useState } from "react";
import { api, dataOf } from "../../api/client";
import { useChange, useDocument } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { Row } from "../../common/Inspector";
import { later } from "../../common/later";
import { NumberField } from "../../common/NumberField";

const DrivesDialog = later(() => import("./DrivesDialog").then((m) => m.DrivesDialog));

export function SideRoadPanel({ mayEdit }: { mayEdit: boolean }) {
  const place = usePlace();
  const { message } = App.useApp();
  const milling = useDocument("milling");
  const [name, setName] = useState("Side road");
  const [side, setSide] = useState<"left" | "right">("right");
  const [length, setLength] = useState(10);
  const [notch, setNotch] = useState(0);
  const [many, setMany] = useState(false);
  const range = place.range;
  const tie = useChange(
    async (of, body: { name: string; side: "left" | "right"; from_chainage: number; to_chainage: number; length: number; notch_mm: number }) =>
      dataOf(await api.POST("/api/projects/{project_id}/side-roads", { params: of, body })),
  );
  if (!mayEdit || !milling) return null;
  const go = () =>
    tie.mutate(
      { name: name.trim(), side, from_chainage: range!.from, to_chainage: range!.to, length, notch_mm: notch },
      { onSuccess: (made) => void message.success(`Tied in, by template ${made.join(", ")}`) },
    );
  return (
    <section className="card" aria-label="Side road">
      <h3 style={{ paddingBottom: 6 }}>Side roads and drives</h3>
      {!range ? (
        <p className="quiet" style={{ margin: 0 }}>
          Mark the mouth of a side road on the strip to tie it in.
        </p>
      ) : (
        <>
          <Row label="Name">
            <Input size="small" aria-label="Name of the side road" maxLength={30} value={name} onChange={(e) => setName(e.target.value)} />
          </Row>
          <Row label="Side">
            <Segmented<"left" | "right"> size="small" aria-label="Side of the side road" value={side} options={["left", "right"]} onChange={setSide} />
          </Row>
          <Row label="Over">
            <NumberField label="Length of the tie" unit="m" least={0.5} value={length} onChange={setLength} />
          </Row>
          <Row label="Notch at its end">
            <NumberField label="Notch of the side road" unit="mm" least={0} value={notch} onChange={setNotch} />
          </Row>
          <Button size="small" loading={tie.isPending} disabled={!/^[A-Za-z0-9][A-Za-z0-9 -]*$/.test(name.trim())} onClick={go}>
            Tie in, {chainageText(range.from, 0)} to {chainageText(range.to, 0)}
          </Button>
        </>
      )}
      <Button size="small" style={{ marginTop: 6 }} onClick={() => setMany(true)}>
        Drives from a table
      </Button>
      {many && <DrivesDialog close={() => setMany(false)} />}
    </section>
  );
}
