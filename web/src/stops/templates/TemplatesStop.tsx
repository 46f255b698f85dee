/** Templates on the bench; make-ups, kerbs and materials; the library. */
import { PlusOutlined } from "@ant-design/icons";
import { Button } from "antd";
import { useState } from "react";
import { type AnyDocument, useDocuments, useMayEdit } from "../../api/hooks";
import { freshKey, likeIt, useSave } from "../../api/save";
import { usePlace } from "../../base/place";
import { Bench, type BenchMode } from "./Bench";
import { PartEditor, type PartKind } from "./PartsPage";
import type { Template } from "./spec";
import { Remove } from "../../common/Remove";
import { later } from "../../common/later";

const LibraryPage = later(() => import("./LibraryPage").then((m) => m.LibraryPage));

type Page = "template" | PartKind | "library";
const PAGES: [Page, string, string][] = [
  ["template", "Templates", "template"],
  ["median", "Medians", "median"],
  ["make_up", "Make-ups", "make-up"],
  ["kerb", "Kerbs", "kerb"],
  ["material", "Materials", "material"],
  ["library", "Library", ""],
];

export default function TemplatesStop() {
  const documents = useDocuments().data?.documents ?? [];
  const place = usePlace();
  const mayEdit = useMayEdit();
  const save = useSave();
  const [mode, setMode] = useState<BenchMode>("draw");
  const [kind = "template", rest = ""] = (place.selection ?? "").split(":");
  const page: Page = PAGES.some(([p]) => p === kind) ? (kind as Page) : "template";
  const listed = documents.filter((d): d is AnyDocument & { spec: { name: string } } => d.kind === page);
  const chosen = listed.find((d) => d.key === rest.split("/")[0]) ?? listed[0];
  const word = PAGES.find(([p]) => p === page)![2];
  const add = async () => {
    const key = freshKey(page);
    const fresh =
      page === "template"
        ? ({ kind: page, key, version: 0, spec: freshTemplate(documents) } as const)
        : chosen
          ? likeIt(chosen, key, `New ${word}`)
          : page === "median"
            ? { kind: "median" as const, key, version: 0, spec: { name: "New median", shapes: [{ least_width: 0, template: null }] } }
            : null;
    if (fresh && (await save(fresh)) !== null) place.select(`${page}:${key}`);
  };
  return (
    <div className="stage" style={{ gridColumn: "1 / -1" }}>
      <div className="tabs">
        <div role="tablist" aria-label="Templates and their parts">
          {PAGES.map(([p, title]) => (
            <button key={p} type="button" role="tab" aria-selected={p === page} onClick={() => place.select(p)}>
              {title}
            </button>
          ))}
        </div>
        <span style={{ width: 16 }} />
        {page !== "library" && (
          <>
            <div className="picks" role="group" aria-label={`${word}s of the project`}>
              {listed.map((d) => (
                <button key={d.key} type="button" aria-pressed={d === chosen} onClick={() => place.select(`${page}:${d.key}`)}>
                  {d.spec.name}
                </button>
              ))}
            </div>
            {mayEdit && (
              <Button
                type="text"
                size="small"
                aria-label={`New ${word}`}
                title={`New ${word}`}
                icon={<PlusOutlined />}
                disabled={documents.length === 0}
                onClick={() => void add()}
              />
            )}
            {mayEdit && page === "template" && chosen && (
              <Remove document={chosen} must={listed.length === 1 ? "A project keeps at least one template" : undefined} />
            )}
          </>
        )}
      </div>
      <div style={{ flex: 1, minHeight: 0, display: "flex" }}>
        {page === "library" && <LibraryPage />}
        {page === "median" && !chosen && (
          <p className="quiet" style={{ padding: 12, maxWidth: 640 }}>
            The project has no median yet. Bring “Median by width” with its shapes from the library, or begin a new one with the plus above.
          </p>
        )}
        {chosen?.kind === "template" && <Bench key={chosen.key} document={chosen} mode={mode} setMode={setMode} openLibrary={() => place.select("library")} />}
        {page !== "library" && page !== "template" && chosen && (
          <PartEditor key={`${page}:${chosen.key}`} document={chosen as AnyDocument & { kind: PartKind }} />
        )}
      </div>
    </div>
  );
}

/** A new template starts as one lane on each side. */
function freshTemplate(documents: { kind: string; key: string }[]): Template {
  const makeUp = documents.find((d) => d.kind === "make_up" && d.key === "lane-new")?.key ?? documents.find((d) => d.kind === "make_up")?.key ?? "";
  return {
    name: "New template",
    left: null,
    dimensions: [],
    right: {
      points: [
        {
          name: "LaneEdge",
          offset: { kind: "width", parent: "hinge", width: 3.25 },
          level: { kind: "fall", parent: "hinge", crossfall_pct: null, turns_with: "side" },
          on_sheets: "name",
        },
      ],
      strips: [{ name: "Lane", kind: "lane", from_point: "hinge", to_point: "LaneEdge", new: makeUp, over_existing: null }],
      kerbs: [],
      floors: [],
      ladder: [],
      boundary: null,
      fill: "fill",
    },
  };
}
