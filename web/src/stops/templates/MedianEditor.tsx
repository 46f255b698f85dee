/** A median: its shapes by width, the first that has room is built. */
import { ArrowDownOutlined, ArrowUpOutlined, DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import { type SpecOf, useDocumentsOf } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import type { PartProps } from "./PartEditors";

type Median = SpecOf<"median">;
type Shape = Median["shapes"][number];
/** A shape that builds nothing; no key has a blank. */
const NOTHING = "as it is";

export function MedianEditor({ spec, change, disabled }: PartProps<Median>) {
  const templates = useDocumentsOf("template");
  const shapes = spec.shapes;
  const set = (i: number, fields: Partial<Shape>) => change({ ...spec, shapes: shapes.map((s, k) => (k === i ? { ...s, ...fields } : s)) });
  const move = (i: number, by: 1 | -1) => {
    const order = shapes.filter((_, k) => k !== i);
    order.splice(i + by, 0, shapes[i]!);
    change({ ...spec, shapes: order });
  };
  // What stands above it always has room where it would: it is never built.
  const idle = (i: number) => shapes.slice(0, i).some((s) => s.least_width <= shapes[i]!.least_width);
  return (
    <div style={{ padding: 12, maxWidth: 760 }}>
      <Row label="Name">
        <NameField label="Name of the median" width={260} value={spec.name} disabled={disabled} onChange={(name) => change({ ...spec, name })} />
      </Row>
      <table className="grid-table" aria-label="Shapes by width" style={{ width: "100%", margin: "8px 0" }}>
        <thead>
          <tr>
            <th style={{ width: 40 }} className="num">
              No.
            </th>
            <th style={{ width: 150 }}>Where at least so wide</th>
            <th>It is built as</th>
            <th style={{ width: 110 }} />
          </tr>
        </thead>
        <tbody>
          {shapes.map((shape, i) => (
            <tr key={i}>
              <td className="num">{i + 1}</td>
              <td>
                <NumberField
                  label={`Least width of shape ${i + 1}`}
                  unit="m"
                  least={0}
                  most={1000}
                  value={shape.least_width}
                  disabled={disabled}
                  onChange={(least_width) => set(i, { least_width })}
                />
              </td>
              <td>
                <Select
                  size="small"
                  style={{ width: "100%" }}
                  aria-label={`Template of shape ${i + 1}`}
                  disabled={disabled}
                  value={shape.template ?? NOTHING}
                  options={[{ value: NOTHING, label: "nothing: the ground stays as it is" }, ...templates.map((t) => ({ value: t.key, label: t.spec.name }))]}
                  onChange={(v) => set(i, { template: v === NOTHING ? null : v })}
                />
                {idle(i) && <span style={{ color: "var(--fault)" }}>A shape above has room wherever this one has: it is never built.</span>}
              </td>
              <td style={{ whiteSpace: "nowrap" }}>
                {!disabled && (
                  <>
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Shape ${i + 1} up`}
                      icon={<ArrowUpOutlined />}
                      disabled={i === 0}
                      onClick={() => move(i, -1)}
                    />
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Shape ${i + 1} down`}
                      icon={<ArrowDownOutlined />}
                      disabled={i === shapes.length - 1}
                      onClick={() => move(i, 1)}
                    />
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Remove shape ${i + 1}`}
                      icon={<DeleteOutlined />}
                      disabled={shapes.length === 1}
                      onClick={() => change({ ...spec, shapes: shapes.filter((_, k) => k !== i) })}
                    />
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {!disabled && (
        <Button
          size="small"
          icon={<PlusOutlined />}
          disabled={shapes.length >= 12}
          onClick={() => change({ ...spec, shapes: [...shapes, { least_width: 0, template: templates[0]?.key ?? null }] })}
        >
          Add a shape
        </Button>
      )}
      <p className="quiet" style={{ marginTop: 12 }}>
        On every section the first shape that has room is built, from the outermost point of the road to the line that the median reaches to. A shape is the
        outward half of a template: its hinge lies on the road&rsquo;s edge, and its points may follow the far side of the median, in plan and in level. Apply a
        template with the median beyond one of its sides.
      </p>
    </div>
  );
}
