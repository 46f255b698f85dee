/** The road from the side: existing and design levels, profiles, pits and pipes under the plan's curvature. */
import { useSummary } from "../../api/hooks";
import { usePlace } from "../../base/place";
import { colour } from "../../base/theme";
import { AlongChart } from "../../common/AlongChart";
import { BAND, CurvatureBand, RemarksAlong, RoadsAlong, StructuresBeneath } from "../../common/LongLayers";
import { useLongSection } from "../../plan/hooks";

export function LongSection() {
  const place = usePlace();
  const curves = useSummary().data?.curves ?? [];
  const data = useLongSection();
  if (!data) return null;
  const series = [
    { name: "existing", values: data.existing, tone: colour.tin600, width: 1.4 },
    { name: "design", values: data.design, tone: colour.tin950, width: 1.8 },
    ...Object.entries(data.profiles).map(([name, values]) => ({ name, values, tone: colour.sound, width: 1.4, dash: "6 3" })),
  ];
  return (
    <div style={{ position: "relative", height: "100%", minHeight: 180 }}>
      <AlongChart
        label="Long section"
        unit="m"
        decimals={3}
        chainage={data.chainage}
        series={series}
        at={place.chainage}
        range={place.range}
        stretch={null}
        room={BAND}
        layers={(scales) => (
          <>
            <CurvatureBand scales={scales} curves={curves} />
            <RoadsAlong scales={scales} roads={data.others} />
            <StructuresBeneath scales={scales} structures={data.structures} />
            <RemarksAlong scales={scales} />
          </>
        )}
        onGo={place.goToChainage}
      />
    </div>
  );
}
