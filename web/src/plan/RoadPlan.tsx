/** A plan with the ground behind it: contours or triangles of the surveyed surface, as the person last chose. */
import { Dropdown } from "antd";
import { useState } from "react";
import { useGoToRoad } from "../base/roads";
import { keptStore } from "../common/store";
import { choicesOf } from "../common/words";
import { type Box, useBackground, useInView } from "./hooks";
import { Plan, type PlanProps } from "./Plan";

type Ground = "none" | "contours" | "edges";
const GROUNDS: Record<Ground, string> = { none: "No ground", contours: "Contours", edges: "Triangles" };
const ground = keptStore<Ground>("tin-saddle ground in plan", "none");

export function RoadPlan(props: Omit<PlanProps, "edges" | "contours" | "background" | "onView" | "onRoad">) {
  const [box, setBox] = useState<Box | null>(null);
  const chosen = ground.use((now) => now);
  const { edges } = useInView("edges", box, chosen === "edges");
  const { contours } = useInView("contours", box, chosen === "contours");
  const background = useBackground(box);
  const goToRoad = useGoToRoad();
  return (
    <>
      <Plan {...props} onRoad={goToRoad} background={background} edges={edges} contours={contours} onView={setBox} />
      <Dropdown
        trigger={["click"]}
        autoFocus
        menu={{
          selectable: true,
          selectedKeys: [chosen],
          items: choicesOf(GROUNDS).map(({ value, label }) => ({ key: value, label })),
          onClick: ({ key }) => ground.set(key as Ground),
        }}
      >
        <button type="button" className="plan-corner" style={{ right: 46 }} aria-label="Ground behind the plan" title={words(chosen, contours, edges)}>
          <svg viewBox="-10 -10 20 20" width={18} height={18} aria-hidden="true" fill="none" stroke="currentColor" strokeWidth={1.3}>
            <path d="M-8 2C-4 -8 4 -8 8 2M-5 5C-2 -3 2 -3 5 5M-2 7C-1 3 1 3 2 7" />
          </svg>
        </button>
      </Dropdown>
    </>
  );
}

function words(chosen: Ground, contours: PlanProps["contours"], edges: PlanProps["edges"]): string {
  if (contours?.more || edges?.more) return "More in view than is drawn: zoom in";
  return chosen === "contours" && contours ? `Contours every ${contours.interval} m` : "Ground behind the plan";
}
