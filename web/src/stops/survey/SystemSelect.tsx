/** One of all reference systems, found by words of its name or by its number. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useDeferredValue, useState } from "react";
import { api, dataOf } from "../../api/client";
import { useProjectId } from "../../api/hooks";

interface Props {
  label: string;
  /** EPSG:n, empty for none. */
  value: string;
  /** What stands for none. */
  none: string;
  disabled?: boolean;
  onChange: (code: string) => void;
}

/** Longitude and latitude. */
export const DEGREES = "EPSG:4326";

export function SystemSelect({ label, value, none, disabled, onChange }: Props) {
  const project_id = useProjectId();
  const [typed, setTyped] = useState("");
  const words = useDeferredValue(typed || value.replace("EPSG:", ""));
  const { data } = useQuery({
    queryKey: ["systems", words],
    queryFn: async () => dataOf(await api.GET("/api/projects/{project_id}/survey/systems", { params: { path: { project_id }, query: { words } } })),
    enabled: words !== "",
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  const found = words === "" ? [] : (data ?? []).map((s) => ({ value: s.code, label: `${s.name} (${s.code})` }));
  const unsaid = [{ value: "", label: none }, ...found, { value: "?", label: "Type words of its name, or its number", disabled: true }];
  return (
    <Select<string>
      size="small"
      style={{ width: "100%" }}
      aria-label={label}
      disabled={disabled}
      showSearch={{ filterOption: false, onSearch: setTyped }}
      popupMatchSelectWidth={false}
      notFoundContent="No system has these words"
      value={value}
      options={typed ? found : unsaid}
      onOpenChange={() => setTyped("")}
      onChange={onChange}
    />
  );
}
