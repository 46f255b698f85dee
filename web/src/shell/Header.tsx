import { RedoOutlined, UndoOutlined } from "@ant-design/icons";
import { useQueryClient } from "@tanstack/react-query";
import { Avatar, Button, Dropdown, Tooltip } from "antd";
import { memo, useState } from "react";
import { Link } from "react-router";
import { api, isAway } from "../api/client";
import { useComputing, useDocuments, useMayEdit, useMe, useProject, useRoadKey, useRoads, useSummary, useUnsaved } from "../api/hooks";
import { useOthers } from "../api/pulse";
import { Account } from "./Account";
import { Background } from "./Background";
import { chainageText } from "../base/chainage";
import { FindAnything } from "./FindAnything";
import mark from "./mark.svg";
import { RoadMenu } from "./RoadMenu";
import { usePlace } from "../base/place";
import { useGoToRoad } from "../base/roads";
import { stops } from "./stops";
import { useUndoRedo } from "./undo";
import { later } from "../common/later";
import { countOf, isOpen } from "../common/Problems";

const ProblemList = later(() => import("./ProblemList").then((m) => m.ProblemList));

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

export const ProjectHeader = memo(function ProjectHeader() {
  const project = useProject().data;
  const mayEdit = useMayEdit();
  return (
    <header className="header">
      <Link to="/" className="product" style={{ textDecoration: "none" }}>
        <img src={mark} alt="" /> Tin Saddle
      </Link>
      <span className="quiet">/</span>
      <span>{project?.name}</span>
      <span className="quiet">/</span>
      <RoadMenu />
      {project?.as_issued && (
        <span className="as-issued">
          as issued {project.as_issued.revision}, {project.as_issued.status} <Link to={`/p/${project.as_issued.project}/sheets`}>Back to now</Link>
        </span>
      )}
      <UndoRedo />
      {project && !mayEdit && !project.as_issued && (
        <Tooltip
          trigger={["hover", "focus"]}
          title={`You are a ${project.role} here: all can be looked at, measured and taken out. The owner gives the role of designer.`}
        >
          <span className="read-only" tabIndex={0}>
            Read only
          </span>
        </Tooltip>
      )}
      <div className="room" />
      <Background />
      <Others />
      <FindAnything />
      <Freshness />
      <Person />
    </header>
  );
});

function UndoRedo() {
  const documents = useDocuments().data;
  const { undo, redo } = useUndoRedo();
  if (!useMayEdit()) return null;
  return (
    <span>
      <Tooltip title={documents?.undo ? `Undo: ${documents.undo} (Ctrl+Z)` : "Nothing to undo"}>
        <Button type="text" size="small" aria-label="Undo" icon={<UndoOutlined />} disabled={!documents?.undo} onClick={() => undo()} />
      </Tooltip>
      <Tooltip title={documents?.redo ? `Redo: ${documents.redo} (Ctrl+Shift+Z)` : "Nothing to redo"}>
        <Button type="text" size="small" aria-label="Redo" icon={<RedoOutlined />} disabled={!documents?.redo} onClick={() => redo()} />
      </Tooltip>
    </span>
  );
}

/** Who else is here; a click goes to their chainage. */
function Others() {
  const others = useOthers();
  const place = usePlace();
  const here = useRoadKey();
  const roads = useRoads();
  const go = useGoToRoad();
  return (
    <span role="group" aria-label="Others here" className="others">
      {others.map((o) => {
        const road = o.road === here ? null : roads.find((d) => d.key === o.road)?.spec.name;
        const where = [stops.find((s) => s.path === o.stop)?.title, o.chainage != null ? chainageText(o.chainage) : null, road];
        const words = `${o.name}, ${where.filter(Boolean).join(" at ")}`;
        return (
          <Tooltip key={o.tab} title={words}>
            <button
              type="button"
              className="person"
              aria-label={words}
              onClick={() => (road ? go(o.road) : o.chainage != null && place.goToChainage(o.chainage))}
            >
              <Avatar size={24} style={{ background: "var(--tin600)" }}>
                {initialsOf(o.name)}
              </Avatar>
            </button>
          </Tooltip>
        );
      })}
    </span>
  );
}

function initialsOf(name: string): string {
  return name
    .split(" ")
    .map((w) => w[0])
    .join("")
    .slice(0, 2)
    .toUpperCase();
}

function Freshness() {
  const [computing, saving] = [useComputing(), useUnsaved()];
  const summary = useSummary();
  const problems = summary.data?.problems ?? [];
  const [text, tone] = saving
    ? ["Saving", "caution"]
    : computing
      ? ["Computing", "caution"]
      : summary.isError
        ? [isAway(summary.error) ? "Server out of reach" : "Not computed", "fault"]
        : summary.data?.missing.length
          ? ["Nothing yet", "tin400"]
          : problems.some(isOpen)
            ? [countOf(problems), "caution"]
            : ["Up to date", "sound"];
  const [listing, setListing] = useState(false);
  return (
    <>
      <button type="button" className="fresh" title={problems.length ? "All problems" : undefined} onClick={() => setListing(!listing)}>
        <span className="dot" style={{ background: `var(--${tone})` }} />{" "}
        <span role="status" aria-label="Freshness">
          {text}
        </span>
      </button>
      {listing && <ProblemList close={() => setListing(false)} />}
    </>
  );
}

function Person() {
  const me = useMe().data;
  const client = useQueryClient();
  const signOut = async () => {
    await api.DELETE("/api/session");
    client.clear();
    window.location.assign("/");
  };
  const [account, setAccount] = useState(false);
  return (
    <>
      {account && <Account onClose={() => setAccount(false)} />}
      <Dropdown
        trigger={["click"]}
        autoFocus
        menu={{
          items: [
            { key: "who", label: me?.full_name, disabled: true },
            { key: "account", label: "Account", onClick: () => setAccount(true) },
            { key: "out", label: "Sign out", onClick: () => void signOut() },
          ],
        }}
      >
        <button type="button" aria-label={`${initialsOf(me?.full_name ?? "?")}: Signed in as ${me?.full_name ?? ""}`} className="person">
          <Avatar size={28} style={{ background: "var(--saddle500)" }}>
            {initialsOf(me?.full_name ?? "?")}
          </Avatar>
        </button>
      </Dropdown>
    </>
  );
}
