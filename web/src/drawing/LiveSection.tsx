/** The section at the current chainage, with the controls that step along the road. */
import { CaretRightOutlined, LeftOutlined, PauseOutlined, RightOutlined } from "@ant-design/icons";
import { Alert, Button, Dropdown, Tooltip } from "antd";
import { memo } from "react";
import type { SectionView } from "../api/hooks";
import { useDocumentsOf, useProjectId } from "../api/hooks";
import { usePreviewError, useSection } from "../api/preview";
import { usePlace } from "../base/place";
import { SPEEDS, stepping, usePlaying, useSpeed } from "../base/stepping";
import { remarkFlags } from "./marks";
import { SectionDrawing } from "./SectionDrawing";
import { STRETCH } from "./stretch";
import { keepLook, useLook } from "./view";

export function StepControls() {
  const place = usePlace();
  const playing = usePlaying();
  return (
    <span style={{ display: "inline-flex", gap: 4 }}>
      <Tooltip placement="bottom" title="Previous section (←)">
        <Button size="small" aria-label="Previous section" icon={<LeftOutlined />} onClick={() => place.step(-1)} />
      </Tooltip>
      <Tooltip placement="bottom" title="Play along the road (Space)">
        <Button
          size="small"
          aria-label={playing ? "Stop playing" : "Play along the road"}
          icon={playing ? <PauseOutlined /> : <CaretRightOutlined />}
          onClick={() => stepping.play()}
        />
      </Tooltip>
      <Tooltip placement="bottom" title="Next section (→)">
        <Button size="small" aria-label="Next section" icon={<RightOutlined />} onClick={() => place.step(1)} />
      </Tooltip>
      <Tooltip placement="bottom" title="Go to chainage (G)">
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
  const missing = section.missing ? `Design missing: ${section.missing}${DOT}` : "";
  return `${missing}${treatment}${section.template ? `${DOT}${section.template}` : ""}${DOT}${turns}${which}`;
}

const LOOK = "section";
/** The same element at every picture: it is not rendered anew while the section follows the hand. */
const CONTROLS = (
  <>
    <StepControls />
    <LookMenu />
  </>
);

export const LiveSection = memo(function LiveSection({ bands }: { bands?: boolean }) {
  const place = usePlace();
  const { section, before } = useSection(place.index);
  const error = usePreviewError();
  const look = useLook(LOOK);
  const materials = useDocumentsOf("material");
  const flags = section && remarkFlags(section);
  return (
    <>
      {error && <Alert banner type="error" title={error} />}
      <SectionDrawing
        section={section}
        flags={flags}
        before={look.before ? before : undefined}
        stretched={look.stretched}
        materials={materials}
        about={section && aboutSection(section)}
        look={LOOK}
        controls={CONTROLS}
        bands={bands}
      />
    </>
  );
});

/** What else is drawn of a section, kept as the rest of its look is. */
function LookMenu() {
  const look = useLook(LOOK);
  const project = useProjectId();
  const speed = useSpeed();
  const chosen = (["before", "stretched"] as const).filter((name) => look[name]);
  return (
    <Dropdown
      trigger={["click"]}
      autoFocus
      menu={{
        items: [
          { key: "before", label: "Before the last change, with what moved" },
          { key: "stretched", label: `Overlay ${STRETCH} times as high, so that a thin one is seen` },
          { type: "divider" },
          { key: "speed", label: "Play", children: SPEEDS.map((n) => ({ key: `speed ${n}`, label: `${n} section${n > 1 ? "s" : ""} a second` })) },
          { key: "beside", label: "Sections in a window of their own" },
        ],
        multiple: true,
        selectable: true,
        selectedKeys: [...chosen, `speed ${speed}`],
        onClick: ({ key }) => {
          if (key === "before") keepLook(LOOK, { before: !look.before });
          else if (key === "stretched") keepLook(LOOK, { stretched: !look.stretched });
          else if (key === "beside") window.open(`/p/${project}/beside${window.location.search}`, "_blank", "popup,width=1000,height=700");
          else stepping.setSpeed(Number(key.split(" ")[1]));
        },
      }}
    >
      <Button size="small">Look</Button>
    </Dropdown>
  );
}
