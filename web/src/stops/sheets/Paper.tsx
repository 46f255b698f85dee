/** One sheet as it will be printed. */
import { useQuery } from "@tanstack/react-query";

interface Props {
  /** Where its SVG is. */
  address: string;
  label: string;
  width: number;
  height: number;
  /** Of the true size; null: as wide as there is room. */
  zoom: number | null;
  /** Called with the layer and the source of what is pressed. */
  onPress?: (layer: string, source: string) => void;
}

/** CSS pixels per millimetre. */
const PER_MM = 96 / 25.4;

export function useSheet(address: string | null) {
  return useQuery({
    queryKey: ["sheet", address],
    queryFn: async () => {
      const answer = await fetch(address!);
      if (!answer.ok) throw new Error("sheet");
      return answer.text();
    },
    enabled: address !== null,
    staleTime: Infinity,
    gcTime: 60_000,
  }).data;
}

export function Paper({ address, label, width, height, zoom, onPress }: Props) {
  const svg = useSheet(address);
  const size = zoom === null ? { width: "100%", aspectRatio: `${width} / ${height}` } : { width: width * PER_MM * zoom, height: height * PER_MM * zoom };
  if (!svg) return <div className="paper" style={size} />;
  return (
    <div
      role="figure"
      aria-label={label}
      className="paper"
      style={size}
      onClick={(e) => {
        const item = e.target instanceof Element ? e.target.closest<SVGElement>("[data-layer]") : null;
        if (item) onPress?.(item.dataset.layer ?? "", item.dataset.source ?? "");
      }}
      dangerouslySetInnerHTML={{ __html: svg }}
    />
  );
}
