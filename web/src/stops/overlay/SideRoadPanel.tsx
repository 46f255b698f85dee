/** Side roads and drives: tied in over the marked range by a ramp or a milled notch, or made a road of their own. */
import { App, Button, Input, Segmented, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useChange, useDocument, useDocumentsOf, useMayEdit, useRoads } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { type Range, usePlace } from "../../base/place";
import { useGoToRoad } from "../../base/roads";
import { Row } from "../../common/Inspector";
import { later } from "../../common/later";
import { NumberField } from "../../common/NumberField";

const DrivesDialog = later(() => import("./DrivesDialog").then((m) => m.DrivesDialog));
type Side = "left" | "right";
/** The point that a mouth which is tied in has, and nothing else. */
const END = "SideRoadEnd";

/** The mouth that is tied in where the current section stands, with its side; null where there is none. */
function useTiedMouth(): (Range & { side: Side }) | null {
  const { chainage } = usePlace();
  const plan = useDocument("template_plan")?.spec.ranges ?? [];
  const templates = useDocumentsOf("template");
  const here = plan.find((r) => r.from_chainage <= chainage && chainage <= r.to_chainage);
  const spec = templates.find((t) => t.key === here?.template)?.spec;
  if (!here || !spec) return null;
  const has = (half: typeof spec.right | null | undefined) => half?.points.some((p) => p.name === END) ?? false;
  const side = has(spec.left) ? "left" : has(spec.right) ? "right" : null;
  return side && { from: here.from_chainage, to: here.to_chainage, side };
}

export function SideRoadPanel() {
  const mayEdit = useMayEdit();
  const place = usePlace();
  const tied = useTiedMouth();
  const [as, setAs] = useState<"part" | "road">("part");
  const [many, setMany] = useState(false);
  if (!mayEdit) return null;
  return (
    <section className="card" aria-label="Side road">
      <h3 style={{ paddingBottom: 6 }}>Side roads and drives</h3>
      {!place.range ? (
        <p className="quiet" style={{ margin: 0 }}>
          Mark the mouth of a side road on the strip to tie it in.
        </p>
      ) : (
        <>
          <Segmented<typeof as>
            block
            size="small"
            style={{ marginBottom: 6 }}
            aria-label="What the side road is"
            value={as}
            options={[
              { value: "part", label: "Part of this road" },
              { value: "road", label: "Its own road" },
            ]}
            onChange={setAs}
          />
          {as === "part" ? <TieIn range={place.range} /> : <OwnRoad range={place.range} tied={tied?.side ?? null} />}
        </>
      )}
      <span style={{ display: "flex", gap: 6, marginTop: 6, flexWrap: "wrap" }}>
        <Button size="small" onClick={() => setMany(true)}>
          Drives from a table
        </Button>
        {tied && (as === "part" || !place.range) && (
          <Button
            size="small"
            onClick={() => {
              place.mark({ from: tied.from, to: tied.to });
              setAs("road");
            }}
          >
            Make this mouth a road
          </Button>
        )}
      </span>
      {many && <DrivesDialog close={() => setMany(false)} />}
    </section>
  );
}

/** The range is the mouth: the template there runs down to the old level. */
function TieIn({ range }: { range: Range }) {
  const { message } = App.useApp();
  const [name, setName] = useState("Side road");
  const [side, setSide] = useState<Side>("right");
  const [length, setLength] = useState(10);
  const [notch, setNotch] = useState(0);
  const tie = useChange(async (of, body: { name: string; side: Side; from_chainage: number; to_chainage: number; length: number; notch_mm: number }) =>
    dataOf(await api.POST("/api/projects/{project_id}/side-roads", { params: of, body })),
  );
  const go = () =>
    tie.mutate(
      { name: name.trim(), side, from_chainage: range.from, to_chainage: range.to, length, notch_mm: notch },
      { onSuccess: (made) => void message.success(`Tied in, by template ${made.join(", ")}`) },
    );
  return (
    <>
      <NameAndSide name={name} setName={setName} most={30} side={side} setSide={setSide} />
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
  );
}

/** The template of the new road is made for it. */
const AS_HERE = "as here"; // no key has a blank

/** A straight out of this road in the middle of the range, as wide as the range is long, tied to it in plan and level. */
function OwnRoad({ range, tied }: { range: Range; tied: Side | null }) {
  const go = useGoToRoad();
  const roads = useRoads();
  const templates = useDocumentsOf("template").map((t) => ({ value: t.key, label: t.spec.name }));
  const [name, setName] = useState("Side road");
  const [side, setSide] = useState<Side>(tied ?? "right");
  const [of, setOf] = useState({ length: 20, angle_deg: 0, radius: 6 });
  const [template, setTemplate] = useState(AS_HERE);
  const make = useChange(async (params, body: Schemas["OwnRoad"]) => dataOf(await api.POST("/api/projects/{project_id}/roads/of-mouth", { params, body })));
  const taken = roads.some((r) => r.spec.name === name.trim());
  const body = { name: name.trim(), side, from_chainage: range.from, to_chainage: range.to, ...of, template: template === AS_HERE ? null : template };
  return (
    <>
      <NameAndSide name={name} setName={setName} most={80} side={side} setSide={setSide} />
      <Row label="Length">
        <NumberField label="Length of the side road" unit="m" least={1} most={2000} value={of.length} onChange={(length) => setOf({ ...of, length })} />
      </Row>
      <Row label="Turned from square">
        <NumberField label="Turned from square" unit="°" least={-60} most={60} value={of.angle_deg} onChange={(angle_deg) => setOf({ ...of, angle_deg })} />
      </Row>
      <Row label="Corners">
        <NumberField label="Radius of the corners" unit="m" least={0} value={of.radius} onChange={(radius) => setOf({ ...of, radius })} />
      </Row>
      <Row label="Template">
        <Select
          size="small"
          aria-label="Template of the side road"
          value={template}
          options={[{ value: AS_HERE, label: "lanes as here" }, ...templates]}
          onChange={setTemplate}
        />
      </Row>
      <p className="quiet" style={{ margin: "2px 0 6px" }}>
        {(range.to - range.from).toFixed(2)} m wide, in the middle of the range.{tied === side && " The mouth that is tied in here is taken back."}
        {taken && " There is a road of that name already."}
      </p>
      <Button
        size="small"
        loading={make.isPending}
        disabled={name.trim() === "" || taken}
        onClick={() => make.mutate(body, { onSuccess: ({ key }) => go(key) })}
      >
        Make it a road, {chainageText(range.from, 0)} to {chainageText(range.to, 0)}
      </Button>
    </>
  );
}

interface NameProps {
  name: string;
  setName: (name: string) => void;
  most: number;
  side: Side;
  setSide: (side: Side) => void;
}

function NameAndSide({ name, setName, most, side, setSide }: NameProps) {
  return (
    <>
      <Row label="Name">
        <Input size="small" aria-label="Name of the side road" maxLength={most} value={name} onChange={(e) => setName(e.target.value)} />
      </Row>
      <Row label="Side">
        <Segmented<Side> size="small" aria-label="Side of the side road" value={side} options={["left", "right"]} onChange={setSide} />
      </Row>
    </>
  );
}
