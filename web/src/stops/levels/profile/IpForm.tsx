/** The chosen IP: grades in and out, its curve, what keeps while it is dragged. */
import { Button, Segmented } from "antd";
import { useState } from "react";
import { chainageText } from "../../../base/chainage";
import { ChainageField } from "../../../common/ChainageField";
import { Figures, Row } from "../../../common/Inspector";
import type { ProfileLook } from "../../../common/LongLayers";
import { NumberField } from "../../../common/NumberField";
import type { ProfileEdit } from "./profile";

interface Props {
  look: ProfileLook;
  index: number;
  mayEdit: boolean;
  keep: "length" | "k";
  setKeep: (k: "length" | "k") => void;
  apply: (e: ProfileEdit) => void;
}

export function IpForm({ look, index, mayEdit, keep, setKeep, apply }: Props) {
  const ip = look.ips[index]!;
  const byGrade = (way: "in" | "out") => (grade_pct: number) => apply({ kind: "by_grade", index, chainage: ip.chainage, way, grade_pct });
  return (
    <section aria-label="Chosen IP">
      <p className="quiet" style={{ margin: "0 0 6px" }}>
        IP {index + 1} at {chainageText(ip.chainage, 2)}, {ip.level.toFixed(3)} m. Drag it in the drawing; a double click adds one.
      </p>
      {ip.grade_in !== null && (
        <Row label="Grade in">
          <NumberField label="Grade in" unit="%" value={Number(ip.grade_in.toFixed(4))} disabled={!mayEdit} onChange={byGrade("in")} />
        </Row>
      )}
      {ip.grade_out !== null && (
        <Row label="Grade out">
          <NumberField label="Grade out" unit="%" value={Number(ip.grade_out.toFixed(4))} disabled={!mayEdit} onChange={byGrade("out")} />
        </Row>
      )}
      {ip.change !== null && (
        <>
          <Figures
            of={[
              ["change", ip.change.toFixed(2), "%"],
              ["longest", (ip.longest ?? 0).toFixed(1), "m"],
              ["at the IP", (1000 * ip.ordinate).toFixed(0), "mm"],
              ...(ip.k_least === null ? [] : ([["K at least", ip.k_least.toFixed(1), ""]] as [string, string, string][])),
              ...(ip.sight === null ? [] : ([["sight", ip.sight.toFixed(0), "m"]] as [string, string, string][])),
            ]}
          />
          {mayEdit && <PassingThrough key={`${index} ${ip.chainage} ${ip.level} ${ip.ordinate}`} ip={ip} index={index} apply={apply} />}
          {mayEdit && (
            <span style={{ display: "flex", gap: 6, margin: "8px 0" }}>
              <Button size="small" onClick={() => apply({ kind: "curves", indices: [index], by: "longest", value: 0 })}>
                Longest curve
              </Button>
              <Button size="small" onClick={() => apply({ kind: "curves", indices: [index], by: "least", value: 0 })}>
                Least allowed
              </Button>
            </span>
          )}
        </>
      )}
      <Row label="Dragging keeps">
        <Segmented<"length" | "k">
          size="small"
          aria-label="What dragging keeps"
          value={keep}
          options={[
            { value: "length", label: "lengths" },
            { value: "k", label: "K" },
          ]}
          onChange={setKeep}
        />
      </Row>
    </section>
  );
}

/** The curve made as long as it takes to pass a level, as that of a threshold or a bridge; the grades stay. */
function PassingThrough({ ip, index, apply }: Pick<Props, "index" | "apply"> & { ip: ProfileLook["ips"][number] }) {
  const [at, setAt] = useState({ chainage: ip.chainage, level: Number((ip.level + Math.sign(ip.change ?? 0) * ip.ordinate).toFixed(3)) });
  return (
    <div role="group" aria-label="Curve through a level">
      <Row label="Passes at">
        <ChainageField label="Curve passes at" value={at.chainage} onChange={(chainage) => setAt({ ...at, chainage })} />
      </Row>
      <Row label="the level">
        <span style={{ display: "flex", gap: 6 }}>
          <NumberField label="Level that the curve passes" unit="m" value={at.level} onChange={(level) => setAt({ ...at, level })} />
          <Button size="small" onClick={() => apply({ kind: "curve_through", index, ...at })}>
            Fit curve
          </Button>
        </span>
      </Row>
    </div>
  );
}
