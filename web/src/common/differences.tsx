/** What differs between two versions of a document, in words. */
import { capital } from "../api/client";
import { chainageText } from "../base/chainage";

export interface Difference {
  /** Where in the document. */
  field: string;
  theirs: string;
  mine: string;
}

const UNITS = ["mm", "pct", "deg", "m"] as const;
const SHOWN_AS: Record<(typeof UNITS)[number], string> = { mm: "mm", pct: "%", deg: "°", m: "m" };
const NONE = "–";

type Parts = Record<string, unknown>;
const isParts = (value: unknown): value is Parts => value !== null && typeof value === "object";

/** What one of a list is called: by its name or where it is along the road, else by its number. */
function nameOf(item: unknown, number: number): string {
  if (!isParts(item)) return String(number + 1);
  for (const key of ["name", "code", "key"]) if (typeof item[key] === "string" && item[key]) return item[key];
  if (typeof item.from_chainage === "number" && typeof item.to_chainage === "number")
    return `${chainageText(item.from_chainage, 0)} to ${chainageText(item.to_chainage, 0)}`;
  return typeof item.chainage === "number" ? chainageText(item.chainage) : String(number + 1);
}

/** A field's name without its unit, and the unit. */
function wordsOf(key: string): [words: string, unit: string] {
  const unit = UNITS.find((u) => key.endsWith(`_${u}`));
  return [(unit ? key.slice(0, -unit.length - 1) : key).replaceAll("_", " "), unit ? ` ${SHOWN_AS[unit]}` : ""];
}

function written(value: unknown, key: string): string {
  if (value === undefined || value === null) return NONE;
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "number") return /chainage/.test(key) ? chainageText(value) : `${String(value).replace("-", "−")}${wordsOf(key)[1]}`;
  if (typeof value === "string") return value.replaceAll("_", " ");
  return JSON.stringify(value);
}

/** Every field that is not the same in both, in the order of the document. */
export function differencesOf(theirs: unknown, mine: unknown, path: string[] = [], key = ""): Difference[] {
  if (JSON.stringify(theirs) === JSON.stringify(mine)) return [];
  // What the server fills in as empty is as good as left out.
  if ([theirs, mine].every((v) => v === undefined || (isParts(v) && Object.keys(v).length === 0))) return [];
  if (!isParts(theirs) || !isParts(mine)) return [{ field: capital(path.join(", ")), theirs: brief(theirs, key), mine: brief(mine, key) }];
  const keys = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])];
  const inList = Array.isArray(theirs) && Array.isArray(mine);
  return keys.flatMap((inner) =>
    differencesOf(
      theirs[inner],
      mine[inner],
      [...path, inList ? nameOf(mine[inner] ?? theirs[inner], Number(inner)) : wordsOf(inner)[0]],
      inList ? key : inner,
    ),
  );
}

/** A whole part that only one of them has is told by its name. */
function brief(value: unknown, key: string): string {
  return isParts(value) ? (Array.isArray(value) ? `${value.length} of them` : "there") : written(value, key);
}

export function Differences({ of }: { of: Difference[] }) {
  if (of.length === 0) return <p>No difference.</p>;
  return (
    <div tabIndex={0} style={{ maxHeight: 280, overflow: "auto" }}>
      <table className="grid-table" aria-label="Differences">
        <thead>
          <tr>
            <th />
            <th>Theirs</th>
            <th>Mine</th>
          </tr>
        </thead>
        <tbody>
          {of.map((d, i) => (
            <tr key={i}>
              <th scope="row">{d.field}</th>
              <td className="mono">{d.theirs}</td>
              <td className="mono">{d.mine}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
