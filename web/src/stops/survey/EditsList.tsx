/** What was edited on the survey by hand, each with a way back, and what of it could not be done. */
import { DeleteOutlined } from "@ant-design/icons";
import { Alert, Button } from "antd";
import type { Schemas } from "../../api/client";
import { useMayEdit } from "../../api/hooks";
import { useSurveyInUse } from "./edits";

export function EditsList({ survey }: { survey: Schemas["SurveyReport"] }) {
  const mayEdit = useMayEdit();
  const { spec, remove } = useSurveyInUse();
  // The words follow the document a moment later: until then a place in the list is not one in the document.
  const current = spec?.edits.length === survey.edits.length;
  return (
    <>
      {survey.told.map((line) => (
        <Alert key={line} type="warning" showIcon style={{ marginTop: 8 }} title={line} />
      ))}
      {survey.edits.length > 0 && (
        <details className="card" style={{ marginTop: 8 }}>
          <summary>Edited by hand: {survey.edits.length}</summary>
          <ol style={{ margin: "6px 0 0", paddingLeft: 20 }}>
            {survey.edits.map((words, i) => (
              <li key={`${i} ${words}`}>
                <div style={{ display: "flex", gap: 4, justifyContent: "space-between", alignItems: "baseline" }}>
                  <span style={{ overflowWrap: "anywhere" }}>{words}</span>
                  {mayEdit && (
                    <Button
                      type="text"
                      size="small"
                      disabled={!current}
                      icon={<DeleteOutlined />}
                      aria-label={`Take back edit ${i + 1}: ${words}`}
                      onClick={() => void remove(i)}
                    />
                  )}
                </div>
              </li>
            ))}
          </ol>
        </details>
      )}
    </>
  );
}
