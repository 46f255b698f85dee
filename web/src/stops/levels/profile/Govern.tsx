/** Which lengths of the road take their levels from a profile, and making those of the range do so. */
import { App, Button } from "antd";
import { api, dataOf, lineOf } from "../../../api/client";
import { useDocument, useOfRoad, useOwn } from "../../../api/hooks";
import { useSave } from "../../../api/save";
import { chainageText } from "../../../base/chainage";
import { usePlace } from "../../../base/place";
import type { Profile } from "./profile";

export function Govern({ profile, points, mayEdit }: { profile: string; points: Profile["points"]; mayEdit: boolean }) {
  const treatments = useDocument("treatments");
  const place = usePlace();
  const of = useOfRoad();
  const own = useOwn();
  const save = useSave();
  const { message } = App.useApp();
  const ranges = treatments?.spec.ranges ?? [];
  const governed = ranges.filter((r) => r.work.kind !== "leave" && r.work.governs?.kind === "profile" && r.work.governs.profile === profile);
  const [low, high] = [Math.max(place.range?.from ?? -Infinity, points[0]?.chainage ?? 0), Math.min(place.range?.to ?? Infinity, points.at(-1)?.chainage ?? 0)];
  const govern = async () => {
    try {
      const rule = { kind: "profile" as const, profile, about: "hinge" as const, normal_pct: -2.5 };
      const spec = dataOf(
        await api.POST("/api/projects/{project_id}/variants/treatments", {
          params: of,
          body: { variant: { name: "Profile", governs: rule }, from_chainage: low, to_chainage: high },
        }),
      );
      await save({ kind: "treatments", key: own("treatments"), version: treatments?.version ?? 0, spec });
    } catch (e) {
      message.error(lineOf(e), 6);
    }
  };
  return (
    <section className="card" aria-label="Where it governs">
      <p className="quiet" style={{ margin: "0 0 6px" }}>
        {governed.length === 0
          ? "No treatment takes its levels from this profile."
          : `Governs ${governed.map((r) => `${chainageText(r.from_chainage, 0)} to ${chainageText(r.to_chainage, 0)}`).join(", ")}.`}
      </p>
      {mayEdit && (
        <Button size="small" disabled={!(high > low)} onClick={() => void govern()}>
          Let it govern {chainageText(low, 0)} to {chainageText(high, 0)}
        </Button>
      )}
    </section>
  );
}
