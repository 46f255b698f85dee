/** Files that are made by a job and saved when they are there. */
import { App, Button, Dropdown } from "antd";
import { useEffect, useRef, useState } from "react";
import { useSummary } from "../api/hooks";
import { type FileKind, useWork } from "../api/jobs";

/** Has a file made and saves it when it is there: what a click does, and how far it is. */
export function useSave(kind: FileKind, drawing = "") {
  /** The state of the project that the file was asked for: another one asks for nothing. */
  const [wanted, setWanted] = useState<string | null>(null);
  const stamp = useSummary().data?.stamp ?? null;
  const asked = wanted !== null && wanted === stamp;
  const work = useWork(kind, asked, drawing);
  const { message } = App.useApp();
  const told = useRef<string | null>(null);
  const { id, result, error } = work;
  useEffect(() => {
    if (!asked || told.current === id || (!result && !error)) return;
    told.current = id;
    if (error) void message.error(error, 6);
    else save(id!);
  }, [asked, id, result, error, message]);
  const click = () => {
    if (asked && result) save(id!);
    else {
      told.current = null;
      setWanted(stamp);
    }
  };
  return { click, running: asked && work.running, progress: work.progress };
}

/** A way to save something: a file that the server has at once, or one that is made first. */
type SaveWay = { label: string; href: string } | { label: string; made: ReturnType<typeof useSave> };

/** One button for all ways to save something. */
export function SaveAs({ ways }: { ways: SaveWay[] }) {
  const running = ways.map((w) => ("made" in w ? w.made : null)).find((m) => m?.running);
  const items = ways.map((w) => ({
    key: w.label,
    ...("made" in w
      ? { label: w.label, onClick: w.made.click }
      : {
          label: (
            <a href={w.href} download>
              {w.label}
            </a>
          ),
        }),
  }));
  return (
    <Dropdown trigger={["click"]} autoFocus menu={{ items }}>
      <Button size="small" loading={running !== undefined}>
        {running ? `Save as, ${running.progress} %` : "Save as"}
      </Button>
    </Dropdown>
  );
}

/** Saves the one file that a job made. */
export function save(job: string): void {
  const link = document.createElement("a");
  link.href = `/api/jobs/${job}/files/0`;
  link.download = "";
  link.click();
}
