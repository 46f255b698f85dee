/** Files that are made by a job and saved when they are there. */
import { App, Button } from "antd";
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

interface Props {
  kind: FileKind;
  label: string;
  disabled?: boolean;
  /** Whose sheets are saved. */
  drawing?: string;
}

export function SaveWork({ kind, label, disabled, drawing }: Props) {
  const { click, running, progress } = useSave(kind, drawing);
  return (
    <Button size="small" disabled={disabled} loading={running} onClick={click}>
      {running ? `${label}, ${progress} %` : label}
    </Button>
  );
}

/** Saves the one file that a job made. */
export function save(job: string): void {
  const link = document.createElement("a");
  link.href = `/api/jobs/${job}/files/0`;
  link.download = "";
  link.click();
}
