import { RedoOutlined, UndoOutlined } from "@ant-design/icons";
import { useQueryClient } from "@tanstack/react-query";
import { Avatar, Button, Dropdown, Tooltip } from "antd";
import { Link } from "react-router";
import { api, dataOf, isAway } from "../api/client";
import { useBusy, useChange, useDocuments, useMayEdit, useMe, useProject, useSummary } from "../api/hooks";
import { FindAnything } from "./FindAnything";
import mark from "./mark.svg";

export function Header() {
  return (
    <header className="header">
      <Link to="/" className="product" style={{ textDecoration: "none" }}>
        <img src={mark} alt="" /> Tin Saddle
      </Link>
      <div className="room" />
      <Person />
    </header>
  );
}

export function ProjectHeader() {
  const project = useProject().data;
  return (
    <header className="header">
      <Link to="/" className="product" style={{ textDecoration: "none" }}>
        <img src={mark} alt="" /> Tin Saddle
      </Link>
      <span className="quiet">/</span>
      <span>{project?.name}</span>
      <UndoRedo />
      <div className="room" />
      <FindAnything />
      <Freshness />
      <Person />
    </header>
  );
}

export function useUndoRedo() {
  const undo = useChange<void, unknown>(async (project_id) => dataOf(await api.POST("/api/projects/{project_id}/undo", { params: { path: { project_id } } })));
  const redo = useChange<void, unknown>(async (project_id) => dataOf(await api.POST("/api/projects/{project_id}/redo", { params: { path: { project_id } } })));
  return { undo, redo };
}

function UndoRedo() {
  const documents = useDocuments().data;
  const { undo, redo } = useUndoRedo();
  if (!useMayEdit()) return null;
  return (
    <span>
      <Tooltip title={documents?.undo ? `Undo: ${documents.undo} (Ctrl+Z)` : "Nothing to undo"}>
        <Button type="text" size="small" aria-label="Undo" icon={<UndoOutlined />} disabled={!documents?.undo} onClick={() => undo.mutate()} />
      </Tooltip>
      <Tooltip title={documents?.redo ? `Redo: ${documents.redo} (Ctrl+Shift+Z)` : "Nothing to redo"}>
        <Button type="text" size="small" aria-label="Redo" icon={<RedoOutlined />} disabled={!documents?.redo} onClick={() => redo.mutate()} />
      </Tooltip>
    </span>
  );
}

function Freshness() {
  const { computing, saving } = useBusy();
  const summary = useSummary();
  const problems = summary.data?.problems.length ?? 0;
  const [text, tone] = saving
    ? ["Saving", "caution"]
    : computing
      ? ["Computing", "caution"]
      : summary.isError
        ? [isAway(summary.error) ? "Server out of reach" : "Not computed", "fault"]
        : summary.data?.missing.length
          ? ["Nothing yet", "tin400"]
          : problems
            ? [`${problems} problem${problems > 1 ? "s" : ""}`, "caution"]
            : ["Up to date", "sound"];
  return (
    <span className="fresh" role="status" aria-label="Freshness">
      <span className="dot" style={{ background: `var(--${tone})` }} /> {text}
    </span>
  );
}

function Person() {
  const me = useMe().data;
  const client = useQueryClient();
  const initials = (me?.full_name ?? "?")
    .split(" ")
    .map((w) => w[0])
    .join("")
    .slice(0, 2)
    .toUpperCase();
  const signOut = async () => {
    await api.DELETE("/api/session");
    client.clear();
    window.location.assign("/");
  };
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        items: [
          { key: "who", label: me?.full_name, disabled: true },
          { key: "out", label: "Sign out", onClick: () => void signOut() },
        ],
      }}
    >
      <button type="button" aria-label={`Signed in as ${me?.full_name ?? ""}`} style={{ background: "none", border: 0, padding: 0, cursor: "pointer" }}>
        <Avatar size={28} style={{ background: "var(--saddle500)" }}>
          {initials}
        </Avatar>
      </button>
    </Dropdown>
  );
}
