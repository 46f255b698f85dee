/** The survey point that is chosen, with what can be edited on it by hand. */
import { Select } from "antd";
import type { Schemas } from "../../api/client";
import { useDocument, useMayEdit } from "../../api/hooks";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import { nearestLines, type Point, useSurveyInUse } from "./edits";

/** chosen: called when the point goes by another code. */
export function ChosenPoint({ point, lines, choose }: { point: Point; lines: Schemas["LineOut"][]; choose: (number: string, code: string) => void }) {
  const mayEdit = useMayEdit();
  const { add } = useSurveyInUse();
  const rules = useDocument("code_list")?.spec.rules ?? [];
  const of = { number: point.number, code: point.code };
  const near = nearestLines(lines, point.code, [[point.east, point.north]], false);
  return (
    <section className="card" aria-label="Chosen point">
      <h3>
        Point {point.number} <span className="quiet">{point.code}</span>
      </h3>
      <table className="grid-table">
        <tbody>
          {(
            [
              ["Easting", point.east],
              ["Northing", point.north],
            ] as const
          ).map(([name, value]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td className="num mono">{value.toFixed(3)} m</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Row label="Level">
        <NumberField
          label="Level of the point"
          value={point.level}
          unit="m"
          least={-500}
          most={9000}
          disabled={!mayEdit}
          onChange={(level) => void add({ by: "point", of, level })}
        />
      </Row>
      <Row label="Code">
        <Select
          size="small"
          showSearch
          aria-label="Code of the point"
          disabled={!mayEdit}
          value={point.code}
          options={rules.map((r) => ({ value: r.code, label: r.code || "none" }))}
          onChange={(code) => void add({ by: "point", of, code }).then((done) => done !== null && choose(point.number, code))}
        />
      </Row>
      <Row label="On line">
        <Select
          size="small"
          showSearch
          aria-label="Line of the point"
          popupMatchSelectWidth={false}
          disabled={!mayEdit}
          value={point.line}
          options={[
            { value: "", label: "none" },
            ...near.map((l) => ({ value: l.name, label: l.name === point.line ? l.name : `${l.name}, ${l.apart.toFixed(1)} m off` })),
          ]}
          onChange={(line) => void add({ by: "point", of, line })}
        />
      </Row>
      <p className="quiet" style={{ margin: "6px 0 0" }}>
        With another code it leaves its line; into a line it goes where that is nearest.
      </p>
    </section>
  );
}
