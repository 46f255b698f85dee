/** Copies rows to the clipboard, to be pasted into a spreadsheet. */
import { CopyOutlined } from "@ant-design/icons";
import { App, Button } from "antd";

/** Puts so many rows on the clipboard, and says so; whether they are there. */
export function useCopy(): (text: string, rows: number) => Promise<boolean> {
  const { message } = App.useApp();
  return async (text, rows) => {
    try {
      await navigator.clipboard.writeText(text);
      void message.success(`${rows} row${rows === 1 ? "" : "s"} copied`);
      return true;
    } catch {
      void message.error("The browser does not let this page write to the clipboard.", 6);
      return false;
    }
  };
}

export function CopyRows({ head, rows }: { head: string[]; rows: (string | number | null)[][] }) {
  const copy = useCopy();
  const text = () => [head, ...rows].map((r) => r.map((c) => c ?? "").join("\t")).join("\n");
  return (
    <Button size="small" icon={<CopyOutlined />} disabled={rows.length === 0} onClick={() => void copy(text(), rows.length)}>
      Copy rows
    </Button>
  );
}
