/** The stops of the job in order. A new stop is one line here and one folder in src/stops. */
import { type ComponentType, lazy, type LazyExoticComponent } from "react";

export interface Stop {
  path: string;
  title: string;
  /** Its page of the guide. */
  guide: string;
  /** The key that leads there. */
  key: string;
  /** Subjects of problems that colour this stop's dot. */
  subjects: string[];
  page: LazyExoticComponent<ComponentType>;
}

export const stops: Stop[] = [
  { path: "survey", guide: "survey", title: "Survey", key: "1", subjects: ["Survey"], page: lazy(() => import("../stops/survey/SurveyStop")) },
  { path: "alignment", guide: "survey", title: "Alignment", key: "2", subjects: ["Alignment"], page: lazy(() => import("../stops/alignment/AlignmentStop")) },
  { path: "guides", guide: "survey", title: "Guides", key: "3", subjects: ["Guides"], page: lazy(() => import("../stops/guides/GuidesStop")) },
  {
    path: "templates",
    guide: "templates",
    title: "Templates",
    key: "4",
    subjects: ["Templates"],
    page: lazy(() => import("../stops/templates/TemplatesStop")),
  },
  {
    path: "crossfall",
    guide: "crossfall",
    title: "Crossfall",
    key: "5",
    subjects: ["Crossfall"],
    page: lazy(() => import("../stops/crossfall/CrossfallStop")),
  },
  { path: "overlay", guide: "overlay", title: "Overlay", key: "6", subjects: ["Overlay"], page: lazy(() => import("../stops/overlay/OverlayStop")) },
  { path: "levels", guide: "levels", title: "Levels", key: "7", subjects: ["Levels"], page: lazy(() => import("../stops/levels/LevelsStop")) },
  { path: "sections", guide: "output", title: "Sections", key: "8", subjects: ["Sections"], page: lazy(() => import("../stops/sections/SectionsStop")) },
  { path: "quantities", guide: "output", title: "Quantities", key: "9", subjects: [], page: lazy(() => import("../stops/quantities/QuantitiesStop")) },
  { path: "sheets", guide: "drawings", title: "Sheets", key: "0", subjects: [], page: lazy(() => import("../stops/sheets/SheetsStop")) },
];
