/** How a point cloud is thinned; read once more when that is changed. */
import { Button, Checkbox, Segmented } from "antd";
import type { Schemas } from "../../api/client";
import { NumberField } from "../../common/NumberField";

export type Thinning = Schemas["Thinning"];

interface Props {
  thinning: Thinning;
  set: (thinning: Thinning) => void;
  busy: boolean;
  again: () => void;
}

export function Thin({ thinning, set, busy, again }: Props) {
  return (
    <div className="layers-head" style={{ marginBottom: 10 }}>
      <span className="quiet">Of every square of</span>
      <NumberField label="Square" unit="m" least={0.02} most={100} width={84} value={thinning.square} onChange={(square) => set({ ...thinning, square })} />
      <span className="quiet">is kept</span>
      <Segmented<Thinning["keep"]>
        size="small"
        aria-label="Kept of every square"
        value={thinning.keep}
        options={[
          { value: "lowest", label: "the lowest point" },
          { value: "mean", label: "the mean" },
        ]}
        onChange={(keep) => set({ ...thinning, keep })}
      />
      <Checkbox checked={thinning.within != null} onChange={(e) => set({ ...thinning, within: e.target.checked ? 0.02 : null })}>
        without what lies near the surface of the others
      </Checkbox>
      {thinning.within != null && (
        <NumberField
          label="Near the surface"
          unit="mm"
          least={1}
          most={10000}
          width={92}
          value={1000 * thinning.within}
          onChange={(mm) => set({ ...thinning, within: mm / 1000 })}
        />
      )}
      <Checkbox checked={thinning.doubtful} onChange={(e) => set({ ...thinning, doubtful: e.target.checked })}>
        noise and what is withheld too
      </Checkbox>
      <Button size="small" disabled={busy} onClick={again}>
        Read it again
      </Button>
    </div>
  );
}
