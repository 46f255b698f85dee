/** The part of the road that a drawing or a report is about: all of it, or from one chainage to another. */
import { useSummary } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { ChainageField } from "../../common/ChainageField";
import { CheckRow } from "../../common/fields";
import { Row } from "../../common/Inspector";

interface Part {
  from_chainage?: number | null;
  to_chainage?: number | null;
}

export function RangeRows({ spec, set, disabled }: { spec: Part; set: (part: Part) => void; disabled: boolean }) {
  const summary = useSummary().data;
  const place = usePlace();
  const whole = spec.from_chainage == null && spec.to_chainage == null;
  if (!summary) return null;
  const marked = { from_chainage: place.range?.from ?? summary.start, to_chainage: place.range?.to ?? summary.end };
  return (
    <>
      <CheckRow label="The whole road" value={whole} disabled={disabled} onChange={(all) => set(all ? { from_chainage: null, to_chainage: null } : marked)} />
      {!whole && (
        <>
          <Row label="From">
            <ChainageField label="From" value={spec.from_chainage ?? summary.start} disabled={disabled} onChange={(from_chainage) => set({ from_chainage })} />
          </Row>
          <Row label="To">
            <ChainageField label="To" value={spec.to_chainage ?? summary.end} disabled={disabled} onChange={(to_chainage) => set({ to_chainage })} />
          </Row>
        </>
      )}
    </>
  );
}
