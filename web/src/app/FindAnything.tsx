/** One box for stops, chainages, templates and problems. */
import { SearchOutlined } from "@ant-design/icons";
import { AutoComplete, Input, type GetRef } from "antd";
import { useEffect, useRef, useState } from "react";
import { useNavigate, useLocation } from "react-router";
import { useDocumentsOf, useProjectId, useSummary } from "../api/hooks";
import { chainageText, parseChainage } from "./chainage";
import { usePlace } from "./place";
import { stops } from "./stops";

export function FindAnything() {
  const [text, setText] = useState("");
  const box = useRef<GetRef<typeof AutoComplete>>(null);
  const navigate = useNavigate();
  const location = useLocation();
  const project = useProjectId();
  const place = usePlace();
  const templates = useDocumentsOf("template");
  const problems = useSummary().data?.problems ?? [];
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault();
        box.current?.focus();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const go = (path: string, search = location.search) => void navigate({ pathname: `/p/${project}/${path}`, search });
  const wanted = text.trim().toLowerCase();
  const chainage = parseChainage(text);
  const found = [
    ...(chainage !== null ? [{ value: `go ${chainage}`, label: `Go to ${chainageText(chainage)}`, run: () => place.goToChainage(chainage) }] : []),
    ...stops.map((s) => ({ value: `stop ${s.path}`, label: `Stop ${s.title}`, run: () => go(s.path) })),
    ...templates.map((t) => ({ value: `template ${t.key}`, label: `Template “${t.spec.name}”`, run: () => go("templates", `?sel=${t.key}`) })),
    ...problems.map((p, i) => ({
      value: `problem ${i}`,
      label: `${chainageText(p.chainage_from)} ${p.message}`,
      run: () => place.goToChainage(p.chainage_from),
    })),
  ].filter((o) => o.value.startsWith("go ") || (wanted !== "" && o.label.toLowerCase().includes(wanted)));
  return (
    <AutoComplete
      ref={box}
      style={{ width: 230 }}
      value={text}
      options={found.slice(0, 12).map(({ value, label }) => ({ value, label }))}
      onChange={setText}
      onSelect={(value: string) => {
        found.find((o) => o.value === value)?.run();
        setText("");
        box.current?.blur();
      }}
    >
      <Input size="small" aria-label="Find anything" placeholder="Find anything" prefix={<SearchOutlined />} suffix={<span className="quiet">Ctrl K</span>} />
    </AutoComplete>
  );
}
