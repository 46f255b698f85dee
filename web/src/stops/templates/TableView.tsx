/** The template as tables, for people who would rather type: every point with its ties, every strip with its make-ups. */
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import { useDocumentsOf } from "../../api/hooks";
import { NameField } from "../../common/NameField";
import { LevelFields, OffsetFields } from "./PointForm";
import { halfOf, type Kerbs, type Point, pointNames, type Side, type Strip, type Template, withHalf, without, withPointRenamed, withStrip } from "./spec";
import { STRIP_KINDS } from "./StripForm";
import type { BenchView } from "./useTryOut";

interface Props {
  spec: Template;
  side: Side;
  kerbs: Kerbs;
  view: BenchView | undefined;
  disabled: boolean;
  change: (spec: Template) => void;
}

/** How a point and a strip of the half are set. */
function useTableView({ spec, side, kerbs, view, disabled, change }: Props) {
  const makeUps = useDocumentsOf("make_up").map((m) => ({ value: m.key, label: m.spec.name }));
  const half = halfOf(spec, side);
  const names = pointNames(half, kerbs);
  const dimensions = spec.dimensions;
  const write = (next: typeof half) => change(withHalf(spec, side, next));
  const setPoint = (i: number, p: Point) => write({ ...half, points: half.points.map((x, j) => (j === i ? p : x)) });
  const setStrip = (i: number, fields: Partial<Strip>) => write({ ...half, strips: half.strips.map((x, j) => (j === i ? { ...x, ...fields } : x)) });
  const found = (name: string) => view?.points.find((p) => p.name === name && p.side === side);
  return { side, kerbs, disabled, makeUps, half, names, dimensions, write, setPoint, setStrip, found };
}
type TableViewWork = ReturnType<typeof useTableView>;

export function TableView(props: Props) {
  const work = useTableView(props);
  const { kerbs, disabled, makeUps, half, write } = work;
  return (
    <div tabIndex={0} style={{ overflow: "auto", height: "100%", background: "var(--white)" }}>
      <PointsTable {...work} />
      <StripsTable {...work} />
      <p style={{ padding: "0 8px" }}>
        <Button
          size="small"
          disabled={disabled}
          onClick={() => write(withStrip(half, kerbs, { name: "Shoulder", kind: "shoulder", width: 1, pct: -4, makeUp: makeUps[0]?.value ?? "" }))}
        >
          Add strip outward
        </Button>
      </p>
    </div>
  );
}

function PointsTable({ side, kerbs, disabled, half, names, dimensions, write, setPoint, found }: TableViewWork) {
  return (
    <table className="grid-table edit-table ties-table" aria-label="Points and their ties">
      <thead>
        <tr>
          <th>Point</th>
          <th>Offset</th>
          <th>Level</th>
          <th className="num">Out</th>
          <th className="num">Up</th>
          <th aria-label="Actions" />
        </tr>
      </thead>
      <tbody>
        {half.points.map((p, i) => {
          const at = found(p.name);
          const shared = { point: p, parents: names, dimensions, disabled, change: (next: Point) => setPoint(i, next) };
          return (
            <tr key={p.name}>
              <td>
                <NameField
                  label={`Name of point ${i + 1}`}
                  width={104}
                  value={p.name}
                  taken={names}
                  disabled={disabled}
                  onChange={(name) => write(withPointRenamed(half, p.name, name))}
                />
              </td>
              <td>
                <OffsetFields {...shared} />
              </td>
              <td>
                <LevelFields {...shared} />
              </td>
              <td className="num">{at ? Math.abs(at.offset).toFixed(3) : "–"}</td>
              <td className="num">{at ? at.level.toFixed(3) : "–"}</td>
              <td>
                <Button
                  type="text"
                  size="small"
                  aria-label={`Remove ${p.name}`}
                  icon={<DeleteOutlined />}
                  disabled={disabled || half.points.length === 1}
                  onClick={() => write(without(half, { kind: "point", side, name: p.name }, kerbs))}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function StripsTable({ disabled, makeUps, half, setStrip }: TableViewWork) {
  return (
    <table className="grid-table edit-table" aria-label="Strips and their make-ups" style={{ marginTop: 12 }}>
      <thead>
        <tr>
          <th>Strip</th>
          <th>Kind</th>
          <th>From</th>
          <th>To</th>
          <th>Built new</th>
          <th>Over existing</th>
        </tr>
      </thead>
      <tbody>
        {half.strips.map((s, i) => (
          <tr key={s.name}>
            <td>
              <NameField
                label={`Name of strip ${i + 1}`}
                width={104}
                value={s.name}
                taken={half.strips.map((x) => x.name)}
                disabled={disabled}
                onChange={(name) => setStrip(i, { name })}
              />
            </td>
            <td>
              <Select
                size="small"
                style={{ width: 92 }}
                aria-label={`Kind of ${s.name}`}
                disabled={disabled}
                value={s.kind}
                options={STRIP_KINDS}
                onChange={(kind) => setStrip(i, { kind })}
              />
            </td>
            <td>{s.from_point}</td>
            <td>{s.to_point}</td>
            <td>
              <Select
                size="small"
                style={{ width: 140 }}
                popupMatchSelectWidth={false}
                aria-label={`New make-up of ${s.name}`}
                disabled={disabled}
                value={s.new}
                options={makeUps}
                onChange={(v) => setStrip(i, { new: v })}
              />
            </td>
            <td>
              <Select
                size="small"
                style={{ width: 140 }}
                popupMatchSelectWidth={false}
                aria-label={`Make-up over existing of ${s.name}`}
                disabled={disabled}
                value={s.over_existing ?? ""}
                options={[{ value: "", label: "built new" }, ...makeUps]}
                onChange={(v) => setStrip(i, { over_existing: v || null })}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
