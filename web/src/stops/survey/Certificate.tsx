/** How a file was read, in words and figures that a surveyor knows by heart: where one is wrong the whole survey is. */
import { Checkbox } from "antd";
import type { Schemas } from "../../api/client";
import { ENCODINGS, type Mapping, SIGNS, UNITS } from "./Columns";
import { SystemSelect } from "./SystemSelect";

type Report = Schemas["CheckReport"];

/** Reference systems as a person says them, empty for what the file says and what follows from it. */
export interface Systems {
  file: string;
  project: string;
  set: (said: { system?: string; into?: string }) => void;
}

interface Props {
  report: Report;
  mapping: Mapping | null;
  none: { said: number[] | null; set: (none: number[] | null) => void };
  systems: Systems;
}

const whole = (n: number) => n.toLocaleString("en", { maximumFractionDigits: 0 });

export function Certificate({ report, mapping, none, systems }: Props) {
  const e = report.extent as [number, number, number, number, number, number];
  const read = [
    report.unit ? `${report.degrees ? "in degrees, levels " : ""}in ${UNITS[report.unit]}` : "in the unit of the drawing",
    ...(mapping ? [`decimal ${SIGNS[mapping.decimal]}`, `letters ${ENCODINGS[mapping.encoding ?? "utf-8"]}`] : []),
  ];
  const rows: [string, React.ReactNode][] = [
    ["Points", report.points > 0 ? <strong>{whole(report.points)}</strong> : "none"],
    ["Read", read.join(", ")],
    [
      "System",
      <SystemSelect
        key="file"
        label="Reference system of the file"
        value={systems.file}
        none={report.system || "not known"}
        onChange={(system) => systems.set({ system })}
      />,
    ],
    [
      "Taken into",
      report.gridded ? (
        report.grid
      ) : (
        <SystemSelect
          key="project"
          label="Reference system of the project"
          value={systems.project}
          none={report.grid || "not known"}
          onChange={(into) => systems.set({ into })}
        />
      ),
    ],
    ["Eastings", `${whole(e[0])} to ${whole(e[3])} m`],
    ["Northings", `${whole(e[1])} to ${whole(e[4])} m`],
    ["Levels", `${e[2].toFixed(2)} to ${e[5].toFixed(2)} m, a range of ${(e[5] - e[2]).toFixed(2)} m`],
  ];
  if (report.triangles > 0)
    rows.push([
      "Triangles",
      <>
        {whole(report.triangles)}, {report.steep === 0 ? "none" : <strong>{whole(report.steep)}</strong>} steeper than 1 in 1
      </>,
    ]);
  const kept = none.said?.length === 0;
  if (report.none.length > 0 || kept)
    rows.push([
      "No level",
      <>
        {report.none.map((n) => `${whole(n.points)} points at ${n.level}`).join(", ")}{" "}
        <Checkbox checked={!kept} onChange={(x) => none.set(x.target.checked ? null : [])}>
          {kept ? "Leave out what stands for none" : "left out: it stands for none"}
        </Checkbox>
      </>,
    ]);
  return (
    <dl className="certificate" aria-label="How the file was read">
      {rows.map(([name, said]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{said}</dd>
        </div>
      ))}
    </dl>
  );
}
