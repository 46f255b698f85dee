/** Variants of the overlay over the marked range, side by side, and taking one over. */
import { DeleteOutlined, PlusOutlined } from "@ant-design/icons";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Alert, App, Button, Select } from "antd";
import { api, dataOf, Failure, lineOf } from "../../api/client";
import { type SpecOf, useDocument, useMayEdit, useOwnKey, useOfRoad, useOwn, useSummary } from "../../api/hooks";
import { useSave } from "../../api/save";
import { useDraft } from "../../api/useDraft";
import { chainageText } from "../../base/chainage";
import { type Range } from "../../base/place";
import { colour } from "../../base/theme";
import { AlongChart } from "../../common/AlongChart";
import { NameField } from "../../common/NameField";
import { NumberField } from "../../common/NumberField";
import { useRules } from "../../common/rules";
import { choicesOf, FALLS, freshFall, GOVERNS } from "../../common/words";
import { Dialog } from "../../common/Dialog";

type Plan = SpecOf<"variants">;
type Variant = NonNullable<Plan["variants"]>[number];
const TONES = [colour.tin950, colour.saddle500, colour.short, colour.sound, colour.fault, colour.tin600, colour.caution, colour.saddle300, colour.tin400];
const AS_IT_IS = { value: "" as const, label: "as it is" };

/** The variants in the hand, their figures, and taking one over. */
function useVariantsDialog({ range, close }: { range: Range; close: () => void }) {
  const of = useOfRoad();
  const own = useOwn();
  const mayEdit = useMayEdit();
  const { message } = App.useApp();
  const stamp = useSummary().data?.stamp;
  const saved = useDocument("variants");
  const treatments = useDocument("treatments");
  const rules = useRules();
  const save = useSave();
  const { spec, change } = useDraft("variants", useOwnKey("variants"), saved);
  const plan: Plan = spec ?? { variants: [], price: 0 };
  const variants = plan.variants;
  const asked = useQuery({
    queryKey: ["project", of.path.project_id, "variants", stamp, plan, range],
    queryFn: async () =>
      dataOf(
        await api.POST("/api/projects/{project_id}/variants/compare", {
          params: of,
          body: { plan, from_chainage: range.from, to_chainage: range.to },
        }),
      ),
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  const results = asked.data ?? [];
  const set = (i: number, fields: Partial<Variant>) => change({ ...plan, variants: variants.map((v, j) => (j === i ? { ...v, ...fields } : v)) });
  const take = async (variant: Variant) => {
    try {
      const next = dataOf(
        await api.POST("/api/projects/{project_id}/variants/treatments", {
          params: of,
          body: { variant, from_chainage: range.from, to_chainage: range.to },
        }),
      );
      if ((await save({ kind: "treatments", key: own("treatments"), version: treatments?.version ?? 0, spec: next })) !== null) {
        message.success(`“${variant.name}” taken over`);
        close();
      }
    } catch (e) {
      message.error(lineOf(e), 6);
    }
  };
  const mm = (v: number | null | undefined) => (v == null ? "–" : (1000 * v).toFixed(0));
  const chainage = results[0]?.chainage ?? [];
  return { range, close, mayEdit, saved, rules, change, plan, variants, asked, results, set, take, mm, chainage };
}
type VariantsDialogWork = ReturnType<typeof useVariantsDialog>;

export function VariantsDialog(props: { range: Range; close: () => void }) {
  const work = useVariantsDialog(props);
  const { range, close, mayEdit, saved, change, plan, variants, asked, results, chainage } = work;
  return (
    <Dialog title={`Variants, ${chainageText(range.from, 0)} to ${chainageText(range.to, 0)}`} open saves width={980} footer={null} onCancel={close}>
      {asked.error instanceof Failure && <Alert type="error" title={asked.error.line} />}
      <VariantTable {...work} />
      <p style={{ display: "flex", gap: 12, alignItems: "center" }}>
        {mayEdit && (
          <Button
            size="small"
            icon={<PlusOutlined />}
            disabled={!saved || variants.length >= 8}
            onClick={() =>
              change({ ...plan, variants: [...variants, { name: `Variant ${variants.length + 1}`, least_cover_mm: null, governs: null, crossfall: null }] })
            }
          >
            Add variant
          </Button>
        )}
        <span className="quiet">Price per tonne</span>
        <NumberField
          label="Price per tonne"
          width={110}
          unit="per t"
          least={0}
          value={plan.price}
          disabled={!mayEdit}
          onChange={(price) => change({ ...plan, price })}
        />
      </p>
      <div style={{ position: "relative", height: 200 }}>
        <AlongChart
          label="Greatest depth of the variants"
          unit="greatest depth, mm"
          decimals={0}
          chainage={chainage}
          series={results.map((r, k) => ({ name: r.name, values: align(chainage, r.chainage, r.depths), tone: TONES[k]!, width: k === 0 ? 1.2 : 1.8 }))}
          at={range.from}
          range={null}
          onGo={() => undefined}
        />
      </div>
    </Dialog>
  );
}

function VariantTable({ mayEdit, rules, change, plan, variants, results, set, take, mm }: VariantsDialogWork) {
  return (
    <table className="grid-table edit-table" aria-label="Variants">
      <thead>
        <tr>
          <th>Variant</th>
          <th>Least cover</th>
          <th>Governed by</th>
          <th>Crossfall</th>
          <th className="num">least</th>
          <th className="num">mean</th>
          <th className="num">greatest mm</th>
          <th className="num">mass t</th>
          <th className="num">cost</th>
          <th className="num">problems</th>
          <th aria-label="Actions" />
        </tr>
      </thead>
      <tbody>
        {results.map((r, k) => {
          const i = k - 1;
          const v = variants[i];
          return (
            <tr key={k}>
              <td>
                <span className="swatch" style={{ background: TONES[k], marginRight: 6 }} />
                {v ? (
                  <NameField label={`Name of variant ${i + 1}`} width={120} value={v.name} disabled={!mayEdit} onChange={(name) => set(i, { name })} />
                ) : (
                  r.name
                )}
              </td>
              <td>
                {v &&
                  (v.least_cover_mm == null ? (
                    <Button size="small" type="text" disabled={!mayEdit} onClick={() => set(i, { least_cover_mm: 40 })}>
                      as it is
                    </Button>
                  ) : (
                    <NumberField
                      label={`Least cover of variant ${i + 1}`}
                      width={84}
                      unit="mm"
                      least={0}
                      value={v.least_cover_mm}
                      disabled={!mayEdit}
                      onChange={(least_cover_mm) => set(i, { least_cover_mm })}
                    />
                  ))}
              </td>
              <td>
                {v && (
                  <Select<keyof typeof GOVERNS | "">
                    size="small"
                    style={{ width: 104 }}
                    aria-label={`Rule of variant ${i + 1}`}
                    disabled={!mayEdit}
                    value={v.governs?.kind ?? ""}
                    options={[AS_IT_IS, ...choicesOf(GOVERNS).map((o) => ({ ...o, disabled: rules.lacks(o.value) }))]}
                    onChange={(kind) => set(i, { governs: kind === "" ? null : rules.fresh(kind) })}
                  />
                )}
              </td>
              <td>
                {v && (
                  <span style={{ display: "flex", gap: 4 }}>
                    <Select<keyof typeof FALLS | "">
                      size="small"
                      style={{ width: 96 }}
                      aria-label={`Crossfall of variant ${i + 1}`}
                      disabled={!mayEdit}
                      value={v.crossfall?.by ?? ""}
                      options={[AS_IT_IS, ...choicesOf(FALLS)]}
                      onChange={(by) => set(i, { crossfall: by === "" ? null : freshFall(by) })}
                    />
                    {v.crossfall?.by === "given" && (
                      <NumberField
                        label={`Crossfall given in variant ${i + 1}`}
                        width={76}
                        unit="%"
                        value={v.crossfall.pct}
                        disabled={!mayEdit}
                        onChange={(pct) => set(i, { crossfall: { by: "given", pct } })}
                      />
                    )}
                  </span>
                )}
              </td>
              <td className="num">{mm(r.least)}</td>
              <td className="num">{mm(r.mean)}</td>
              <td className="num">{mm(r.greatest)}</td>
              <td className="num">
                {r.mass.toFixed(1)}
                {r.unknown_length > 0 && <span title={`not known over ${r.unknown_length.toFixed(0)} m`}> *</span>}
              </td>
              <td className="num">{plan.price ? r.cost.toFixed(0) : ""}</td>
              <td className="num">{r.faults + r.cautions || ""}</td>
              <td style={{ whiteSpace: "nowrap" }}>
                {v && mayEdit && (
                  <>
                    <Button size="small" onClick={() => void take(v)}>
                      Take over
                    </Button>
                    <Button
                      type="text"
                      size="small"
                      aria-label={`Remove variant ${i + 1}`}
                      icon={<DeleteOutlined />}
                      onClick={() => change({ ...plan, variants: variants.filter((_, j) => j !== i) })}
                    />
                  </>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Values of one road on the chainages of another, null where it has no section there. */
function align(chainage: number[], theirs: number[], values: (number | null)[]): (number | null)[] {
  const found = new Map(theirs.map((c, i) => [c.toFixed(3), values[i] ?? null]));
  return chainage.map((c) => {
    const v = found.get(c.toFixed(3));
    return v == null ? null : 1000 * v;
  });
}
