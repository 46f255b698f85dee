/** Adding lines to a group: at an interval, at typed or pasted chainages, at a structure, between two, along a surveyed line. */
import { Alert, Checkbox, Input, Segmented, Select } from "antd";
import { useState } from "react";
import { fileOf, lineOf, sendFile } from "../../api/client";
import { DEFAULTS } from "../../api/defaults";
import { useDocument, useOfRoad, useSummary } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { ChainageField } from "../../common/ChainageField";
import { Row } from "../../common/Inspector";
import { NumberField } from "../../common/NumberField";
import type { Line, LineGroup } from "./lines";
import { Dialog } from "../../common/Dialog";

const WAYS = ["Interval", "Chainages", "Skewed", "Structure", "Between two"] as const;
type Way = (typeof WAYS)[number];
const BASE = { name: "", remark: "", left: null, right: null };

/** The ways to say lines, what each has been told, and whether that is enough. */
function useAddLines({ close, add }: { close: () => void; add: (lines: Line[]) => void }) {
  const of = useOfRoad();
  const summary = useSummary().data!;
  const { range, chainage } = usePlace();
  const structures = useDocument("structures")?.spec;
  const [way, setWay] = useState<Way>("Interval");
  const [regular, setRegular] = useState<Extract<Line, { kind: "regular" }>>({
    ...DEFAULTS.Regular,
    ...BASE,
    kind: "regular",
    from_chainage: range?.from ?? summary.start,
    to_chainage: range?.to ?? summary.end,
    interval: 20,
    on_curves: null,
    key_points: false,
    chord_limit_mm: 0,
  });
  const [text, setText] = useState("");
  const [skew, setSkew] = useState({ chainage, angle_deg: 0 });
  const [structure, setStructure] = useState<string>();
  const [ends, setEnds] = useState<{ first?: string; last?: string; past: number }>({ past: 3 });
  const [error, setError] = useState<string | null>(null);
  const pits = (structures?.pits ?? []).map((p) => p.name);
  const every = [...pits, ...(structures?.pipes ?? []).map((p) => p.name)];
  const options = (names: string[]) => names.map((value) => ({ value, label: value }));
  const ready = {
    Interval: regular.to_chainage > regular.from_chainage,
    Chainages: text.trim() !== "",
    Skewed: true,
    Structure: structure !== undefined,
    "Between two": ends.first !== undefined && ends.last !== undefined && ends.first !== ends.last,
  }[way];
  const take = async () => {
    try {
      if (way === "Interval") add([regular]);
      else if (way === "Skewed") add([{ ...BASE, kind: "at", ...skew }]);
      else if (way === "Structure") add([{ ...BASE, kind: "structure", structure: structure! }]);
      else if (way === "Between two") add([{ ...BASE, kind: "run", first: ends.first!, last: ends.last!, past: ends.past }]);
      else {
        const found = await sendFile<LineGroup>(fileOf(of, "lines/read"), new File([text], "Pasted.txt"));
        add(found.lines);
      }
      close();
    } catch (e) {
      setError(lineOf(e));
    }
  };
  return {
    close,
    way,
    setWay,
    regular,
    setRegular,
    text,
    setText,
    skew,
    setSkew,
    structure,
    setStructure,
    ends,
    setEnds,
    error,
    pits,
    every,
    options,
    ready,
    take,
  };
}
type AddLinesWork = ReturnType<typeof useAddLines>;

export function AddLines(props: { close: () => void; add: (lines: Line[]) => void }) {
  const work = useAddLines(props);
  const { close, way, setWay, text, setText, skew, setSkew, structure, setStructure, ends, setEnds, error, pits, every, options, ready, take } = work;
  return (
    <Dialog title="Add lines" open width={560} okText="Add" okButtonProps={{ disabled: !ready }} onCancel={close} onOk={() => void take()}>
      <Segmented<Way> block options={[...WAYS]} value={way} onChange={setWay} style={{ marginBottom: 12 }} />
      {error && <Alert type="error" showIcon title={error} style={{ marginBottom: 10 }} />}
      {way === "Interval" && <FieldsRegular {...work} />}
      {way === "Chainages" && (
        <>
          <p className="quiet">One line a row: chainage, and if wanted angle, left, right, name and remark, divided by tabs or commas.</p>
          <Input.TextArea
            aria-label="Chainages as text"
            className="mono"
            rows={9}
            value={text}
            placeholder={"0+125\n0+310.5\t22.5\t15\t15\tCulvert"}
            onChange={(e) => setText(e.target.value)}
          />
        </>
      )}
      {way === "Skewed" && (
        <>
          <Row label="Chainage">
            <ChainageField label="Chainage of the line" value={skew.chainage} onChange={(c) => setSkew({ ...skew, chainage: c })} />
          </Row>
          <Row label="Right of square">
            <NumberField
              label="Angle of the line"
              unit="°"
              least={-80}
              most={80}
              value={skew.angle_deg}
              onChange={(angle_deg) => setSkew({ ...skew, angle_deg })}
            />
          </Row>
          <p className="quiet">Turned clockwise it stands right of square. Two places on the structure can be picked in the plan instead.</p>
        </>
      )}
      {way === "Structure" && (
        <Row label="At">
          <Select size="small" aria-label="Structure" placeholder="Choose a pit or pipe" value={structure} options={options(every)} onChange={setStructure} />
        </Row>
      )}
      {way === "Between two" && (
        <>
          <Row label="From">
            <Select
              size="small"
              aria-label="First pit"
              placeholder="Choose a pit"
              value={ends.first}
              options={options(pits)}
              onChange={(first) => setEnds({ ...ends, first })}
            />
          </Row>
          <Row label="To">
            <Select
              size="small"
              aria-label="Last pit"
              placeholder="Choose another"
              value={ends.last}
              options={options(pits)}
              onChange={(last) => setEnds({ ...ends, last })}
            />
          </Row>
          <Row label="Past both">
            <NumberField label="Past both ends" unit="m" least={0} most={100} value={ends.past} onChange={(past) => setEnds({ ...ends, past })} />
          </Row>
        </>
      )}
      {(way === "Structure" || way === "Between two") && every.length === 0 && (
        <p className="quiet">There are no pits or pipes yet: the stop Survey takes them from the survey.</p>
      )}
    </Dialog>
  );
}

function FieldsRegular({ regular, setRegular }: AddLinesWork) {
  return (
    <>
      <Row label="From">
        <ChainageField label="Lines from" value={regular.from_chainage} onChange={(from_chainage) => setRegular({ ...regular, from_chainage })} />
      </Row>
      <Row label="To">
        <ChainageField label="Lines to" value={regular.to_chainage} onChange={(to_chainage) => setRegular({ ...regular, to_chainage })} />
      </Row>
      <Row label="Every">
        <NumberField
          label="Lines every"
          unit="m"
          least={0.5}
          most={5000}
          value={regular.interval}
          onChange={(interval) => setRegular({ ...regular, interval })}
        />
      </Row>
      <Row label="On curves every">
        <NumberField
          label="Lines on curves every"
          unit="m"
          least={0.5}
          most={5000}
          value={regular.on_curves ?? regular.interval}
          onChange={(v) => setRegular({ ...regular, on_curves: v === regular.interval ? null : v })}
        />
      </Row>
      <Checkbox checked={regular.key_points} onChange={(e) => setRegular({ ...regular, key_points: e.target.checked })}>
        Also at the ends of the range and at tangent points
      </Checkbox>
    </>
  );
}
