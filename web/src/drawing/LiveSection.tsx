/** The section at the current chainage, with the controls that step along the road. */
import { CaretRightOutlined, LeftOutlined, PauseOutlined, RightOutlined } from "@ant-design/icons";
import { Button, Tooltip } from "antd";
import type { SectionView } from "../api/hooks";
import { useDocumentsOf, useSection } from "../api/hooks";
import { usePlace } from "../app/place";
import { stepping, usePlaying } from "../app/stepping";
import { SectionDrawing } from "./SectionDrawing";

export function StepControls() {
  const place = usePlace();
  const playing = usePlaying();
  return (
    <span style={{ display: "inline-flex", gap: 4 }}>
      <Tooltip title="Previous section (←)">
        <Button size="small" aria-label="Previous section" icon={<LeftOutlined />} onClick={() => place.step(-1)} />
      </Tooltip>
      <Tooltip title="Play along the road (Space)">
        <Button
          size="small"
          aria-label={playing ? "Stop playing" : "Play along the road"}
          icon={playing ? <PauseOutlined /> : <CaretRightOutlined />}
          onClick={() => stepping.play()}
        />
      </Tooltip>
      <Tooltip title="Next section (→)">
        <Button size="small" aria-label="Next section" icon={<RightOutlined />} onClick={() => place.step(1)} />
      </Tooltip>
      <Tooltip title="Go to chainage (G)">
        <Button size="small" onClick={() => stepping.goToDialog()}>
          Go to
        </Button>
      </Tooltip>
    </span>
  );
}

/** A dot with room on both sides; the fonts close up plain spaces around it. */
const DOT = "\u2002·\u2002";

export function aboutSection(section: SectionView): string {
  const turns =
    Math.abs(section.curvature) > 1e-9 ? `turns ${section.curvature > 0 ? "right" : "left"}, R ${(1 / Math.abs(section.curvature)).toFixed(0)} m` : "straight";
  const which = section.side === "plain" ? "" : `${DOT}${section.side} the change`;
  const treatment = section.treatment ? section.treatment.charAt(0).toUpperCase() + section.treatment.slice(1) : "No treatment";
  return `${treatment}${section.template ? `${DOT}${section.template}` : ""}${DOT}${turns}${which}`;
}

export function LiveSection({ instead, bands }: { instead?: SectionView; bands?: boolean }) {
  const place = usePlace();
  const { data } = useSection(place.index);
  const materials = useDocumentsOf("material");
  const section = instead ?? data;
  return (
    <SectionDrawing section={section} materials={materials} about={section && aboutSection(section)} look="section" controls={<StepControls />} bands={bands} />
  );
}
