/** What is asked about before a file is taken in: coordinates that can hardly be what they are taken for. */
import { Alert, Button, Checkbox, Radio } from "antd";
import { useCallback, useState } from "react";
import type { Schemas } from "../../api/client";
import { FoundPlan } from "./FoundPlan";
import { DRAWING_UNITS } from "./Layers";

export type Doubt = Schemas["DoubtOut"]["kind"];
export type Other = NonNullable<Schemas["PlacingOut"]["other"]>;
type Placing = Schemas["PlacingOut"];

/** The doubt that another reading of the coordinates would settle. */
export const readingDoubt = (placing: Placing) => placing.doubts.find((d) => placing.other && (d.kind === "northing first" || d.kind === "unit"));

interface Props {
  placing: Placing;
  sketch: Schemas["SketchOut"];
  sure: readonly Doubt[];
  setSure: (sure: Doubt[]) => void;
  /** Read the file once more in the other way. */
  read: (other: Other) => void;
  /** Read the file once more as longitudes and latitudes. */
  convert: () => void;
}

export function PlacingDoubts({ placing, sketch, sure, setSure, read, convert }: Props) {
  if (placing.doubts.length === 0) return null;
  const say = (kind: Doubt, so: boolean) => setSure(so ? [...sure.filter((d) => d !== kind), kind] : sure.filter((d) => d !== kind));
  const { other } = placing;
  const answered = readingDoubt(placing);
  return (
    <Alert
      type="warning"
      style={{ marginBottom: 12, padding: "10px 14px" }}
      title={placing.doubts.length > 1 ? "Some things are asked before it is taken in" : "One thing is asked before it is taken in"}
      description={
        <div className="doubts">
          {answered && other && (
            <>
              <p>
                {sentence(answered.words)}
                <span className="doubt-key">
                  <i />
                  the file
                  {placing.there.length > 0 && (
                    <>
                      <i className="there" />
                      what is there
                    </>
                  )}
                </span>
              </p>
              <TwoReadings
                placing={placing}
                other={other}
                sketch={sketch}
                sure={sure.includes(answered.kind)}
                keep={() => say(answered.kind, true)}
                read={read}
              />
            </>
          )}
          {placing.doubts
            .filter((d) => d !== answered)
            .map((d) => (
              <p key={d.kind}>
                {sentence(d.words)}
                {d.kind === "degrees" && (
                  <Button size="small" style={{ margin: "0 8px" }} onClick={convert}>
                    Convert them into metres
                  </Button>
                )}
                <Checkbox checked={sure.includes(d.kind)} onChange={(e) => say(d.kind, e.target.checked)}>
                  It is so
                </Checkbox>
              </p>
            ))}
        </div>
      }
    />
  );
}

interface Two {
  placing: Placing;
  other: Other;
  sketch: Schemas["SketchOut"];
  sure: boolean;
  keep: () => void;
  read: (other: Other) => void;
}

/** The file as it was read and as it may be meant, side by side among what is there. */
function TwoReadings({ placing, other, sketch, sure, keep, read }: Two) {
  const [picked, setPicked] = useState<"other" | null>(null); // until the file has been read once more
  const turn = useCallback(
    (p: readonly number[]) => (other.swapped ? [p[1]! * other.factor, p[0]! * other.factor] : [p[0]! * other.factor, p[1]! * other.factor]),
    [other],
  );
  const unit = other.factor === 1 ? "" : `in ${DRAWING_UNITS[other.unit]}`;
  const name = [other.swapped ? "eastings and northings exchanged" : "", unit].filter(Boolean).join(", ");
  const shared = { sketch, there: placing.there, width: 330, height: 150 };
  return (
    <Radio.Group className="readings" aria-label="How the coordinates are read" value={picked ?? (sure ? "kept" : null)}>
      <Radio
        value="kept"
        onChange={() => {
          setPicked(null);
          keep();
        }}
      >
        <span>As it was read</span>
        <FoundPlan {...shared} label="The file as it was read, beside what is there" />
      </Radio>
      <Radio
        value="other"
        onChange={() => {
          setPicked("other");
          read(other);
        }}
      >
        <span>{name[0]!.toUpperCase() + name.slice(1)}</span>
        <FoundPlan {...shared} turn={turn} label={`The file with ${name}, beside what is there`} />
      </Radio>
    </Radio.Group>
  );
}

const sentence = (words: string) => `${words[0]!.toUpperCase()}${words.slice(1)}.`;
