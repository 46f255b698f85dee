/** Copies rows to the clipboard, to be pasted into a spreadsheet. */
import { CopyOutlined } from "@ant-design/icons";
import { App, Button } from "antd";

export function CopyRows({ head, rows }: { head: string[]; rows: (string | number | null)[][] }) {
  const { message } = App.useApp();
  const copy = async () => {
    const text = [head, ...rows].map((r) => r.map((c) => c ?? "").join("\t")).join("\n");
    try {
      await navigator.clipboard.writeText(text);
      message.success(`${rows.length} row${rows.length === 1 ? "" : "s"} copied`);
    } catch {
      message.error("The browser does not let this page write to the clipboard.", 6);
    }
  };
  return (
    <Button size="small" icon={<CopyOutlined />} disabled={rows.length === 0} onClick={() => void copy()}>
      Copy rows
    </Button>
  );
}
