/** The bench's answer to a template and a trial: asked for at every change, one question at a time, the latest wins. */
import { useEffect, useRef, useState } from "react";
import { api, dataOf, Failure, type Schemas } from "../../api/client";
import { useProjectId } from "../../api/hooks";
import type { Template } from "./spec";

export type Trial = Schemas["Trial"];
export type BenchView = Schemas["BenchView"];

interface Question {
  template: Template;
  trial: Trial;
}

export function useTryOut(template: Template | undefined, trial: Trial) {
  const project_id = useProjectId();
  const [answer, setAnswer] = useState<BenchView>();
  const [error, setError] = useState<string | null>(null);
  const waiting = useRef<Question | null>(null);
  const asking = useRef(false);
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  useEffect(() => {
    if (!template) return;
    waiting.current = { template, trial };
    const ask = async () => {
      if (asking.current) return;
      asking.current = true;
      while (waiting.current && !gone.current) {
        const now = waiting.current;
        waiting.current = null;
        try {
          const found = dataOf(await api.POST("/api/projects/{project_id}/bench", { params: { path: { project_id } }, body: { template: now.template, trial: now.trial } as never })) as BenchView;
          if (!gone.current) {
            setAnswer(found);
            setError(null);
          }
        } catch (e) {
          if (!gone.current) setError(e instanceof Failure ? e.line : "The server cannot be reached.");
        }
      }
      asking.current = false;
    };
    void ask();
  }, [template, trial, project_id]);
  return { answer, error };
}
