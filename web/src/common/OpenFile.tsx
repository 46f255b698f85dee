/** A button that asks for a file and hands it on; what goes wrong with it is told. */
import { App, Button } from "antd";
import { useRef } from "react";
import { lineOf } from "../api/client";

interface Props {
  label: string;
  /** Endings and types, as the file field of HTML takes them. */
  accept: string;
  disabled?: boolean;
  take: (file: File) => void | Promise<void>;
}

export function OpenFile({ label, accept, disabled, take }: Props) {
  const { message } = App.useApp();
  const field = useRef<HTMLInputElement>(null);
  const taken = async (file: File | undefined) => {
    if (!file) return;
    try {
      await take(file);
    } catch (e) {
      void message.error(lineOf(e), 8);
    }
  };
  return (
    <>
      <Button size="small" disabled={disabled} onClick={() => field.current?.click()}>
        {label}
      </Button>
      <input
        ref={field}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = ""; // the same file may be chosen again once it was mended
          void taken(file);
        }}
      />
    </>
  );
}
