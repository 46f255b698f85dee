/** Between two named points: width, rise and fall along the whole road. The way to see that a superelevation arrived. */
import { Button, Segmented, Select } from "antd";
import { type ReactNode, useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useModel, useSummary } from "../../api/hooks";
import { chainageText } from "../../base/chainage";
import { usePlace } from "../../base/place";
import { colour } from "../../base/theme";
import { AlongChart, around } from "../../common/AlongChart";
import { Figures, Inspector, Row } from "../../common/Inspector";
import { signed } from "../../common/signed";
import { LivePane } from "../../drawing/LivePane";
import { LiveSection } from "../../drawing/LiveSection";

type Named = Schemas["NamedOut"];
type What = "pct" | "width" | "rise";
const WHAT: Record<What, { label: string; unit: string; decimals: number; of: (v: number) => number }> = {
  pct: { label: "Fall", unit: "%", decimals: 2, of: (v) => v },
  width: { label: "Width", unit: "m", decimals: 3, of: (v) => v },
  rise: { label: "Rise", unit: "mm", decimals: 0, of: (v) => 1000 * v },
};
const idOf = (p: Named) => `${p.side} ${p.name}`;
const wordsOf = (p: Named) => (p.side === "hinge" ? "hinge" : p.side === "old" ? `old ${p.name}` : `${p.name}, ${p.side}`);

/** Between which points is measured, what, and its course along the road. */
function useBetweenPage({ pages }: { pages: ReactNode }) {
  const summary = useSummary().data!;
  const place = usePlace();
  const [what, setWhat] = useState<What>("pct");
  const [near, setNear] = useState(false);
  const points = useModel("points", async (of) => dataOf(await api.GET("/api/projects/{project_id}/model/points", { params: of }))).data;
  const [, from = "", to = ""] = (place.selection ?? "").split("|");
  const first = points?.find((p) => idOf(p) === from) ?? points?.find((p) => p.side === "hinge");
  const last = points?.find((p) => idOf(p) === to) ?? points?.find((p) => p.side === "right") ?? points?.at(-1);
  const choose = (a: Named | undefined, b: Named | undefined) => a && b && place.select(`between|${idOf(a)}|${idOf(b)}`);
  const measured = useModel(
    "between",
    async (of) =>
      dataOf(
        await api.GET("/api/projects/{project_id}/model/between", {
          params: { path: { ...of.path }, query: { from_side: first!.side, from_name: first!.name, to_side: last!.side, to_name: last!.name, ...of.query } },
        }),
      ),
    [first && idOf(first), last && idOf(last)],
    first !== undefined && last !== undefined,
  ).data;
  const { unit, decimals, of } = WHAT[what];
  const values = measured?.[what].map((v) => (v === null ? null : of(v))) ?? [];
  const known = values.flatMap((v, i) => (v === null ? [] : [{ v, i }]));
  const least = known.reduce<(typeof known)[number] | null>((best, k) => (best === null || k.v < best.v ? k : best), null);
  const greatest = known.reduce<(typeof known)[number] | null>((best, k) => (best === null || k.v > best.v ? k : best), null);
  const here = (name: What) => {
    const v = measured?.[name][place.index];
    return v == null ? "–" : signed(WHAT[name].of(v), WHAT[name].decimals);
  };
  const fall = measured?.pct[place.index];
  const options = points?.map((p) => ({ value: idOf(p), label: wordsOf(p) }));
  return {
    pages,
    summary,
    place,
    what,
    setWhat,
    near,
    setNear,
    points,
    first,
    last,
    choose,
    unit,
    decimals,
    values,
    known,
    least,
    greatest,
    here,
    fall,
    options,
  };
}
type BetweenPageWork = ReturnType<typeof useBetweenPage>;

export default function BetweenPage(props: { pages: ReactNode }) {
  const work = useBetweenPage(props);
  const { pages, summary, place, what, setWhat, near, setNear, unit, decimals, values } = work;
  return (
    <>
      <div className="stage">
        <div className="toolbar">{pages}</div>
        <div className="fill" style={{ background: "var(--white)" }}>
          <AlongChart
            label="Between the points along the road"
            unit={unit}
            decimals={decimals}
            chainage={summary.chainage}
            series={[{ name: "", values, tone: colour.saddle500, width: 1.8 }]}
            at={place.chainage}
            range={place.range}
            window={near ? around(place.chainage, 150, summary.start, summary.end) : undefined}
            onGo={place.goToChainage}
            controls={
              <>
                <Segmented<What>
                  size="small"
                  aria-label="What is measured"
                  options={(Object.keys(WHAT) as What[]).map((value) => ({ value, label: WHAT[value].label }))}
                  value={what}
                  onChange={setWhat}
                />
                <Button size="small" aria-pressed={near} onClick={() => setNear(!near)}>
                  {near ? "Whole road" : "Near here"}
                </Button>
              </>
            }
          />
        </div>
        <LivePane>
          <LiveSection />
        </LivePane>
      </div>
      <BetweenInspector {...work} />
    </>
  );
}

function BetweenInspector({
  summary,
  place,
  points,
  first,
  last,
  choose,
  unit,
  decimals,
  values,
  known,
  least,
  greatest,
  here,
  fall,
  options,
}: BetweenPageWork) {
  return (
    <Inspector title="Between points">
      <Row label="From">
        <Select
          size="small"
          aria-label="From point"
          showSearch
          value={first && idOf(first)}
          options={options}
          onChange={(id) =>
            choose(
              points?.find((p) => idOf(p) === id),
              last,
            )
          }
        />
      </Row>
      <Row label="To">
        <Select
          size="small"
          aria-label="To point"
          showSearch
          value={last && idOf(last)}
          options={options}
          onChange={(id) =>
            choose(
              first,
              points?.find((p) => idOf(p) === id),
            )
          }
        />
      </Row>
      <div className="card">
        <h3>{chainageText(place.chainage)}</h3>
        <Figures
          of={[
            ["width", here("width"), "m"],
            ["rise", here("rise"), "mm"],
            ["fall", here("pct"), "%"],
          ]}
        />
        {fall != null && Math.abs(fall) > 1e-6 && <p className="quiet">1 in {(100 / Math.abs(fall)).toFixed(1)}</p>}
      </div>
      {least && greatest && (
        <div className="card" role="region" aria-label="Least and greatest">
          {(
            [
              ["Least", least],
              ["Greatest", greatest],
            ] as const
          ).map(([word, at]) => (
            <p key={word} style={{ margin: "2px 0" }}>
              {word} <strong className="mono">{signed(at.v, decimals)}</strong> {unit} at{" "}
              <Button type="link" size="small" style={{ padding: 0 }} onClick={() => place.goTo(at.i)}>
                {chainageText(summary.chainage[at.i]!)}
              </Button>
            </p>
          ))}
          {known.length < values.length && (
            <p className="quiet" style={{ margin: "2px 0" }}>
              Both points stand on {known.length} of {values.length} sections.
            </p>
          )}
        </div>
      )}
      <p className="quiet">Width is positive to the right, rise upwards; the fall is the rise over the width.</p>
    </Inspector>
  );
}
