/** The logo in the title block: a PNG or SVG file, kept with the project. */
import { App, Button } from "antd";
import { Row } from "../../common/Inspector";
import { OpenFile } from "../../common/OpenFile";

/** As the server has it, bytes. */
const MOST = 100_000;

interface Props {
  value: string;
  disabled: boolean;
  onChange: (logo: string) => void;
}

export function Logo({ value, disabled, onChange }: Props) {
  const { message } = App.useApp();
  const take = (file: File) => {
    if (file.size > MOST) void message.error(`The file has ${Math.round(file.size / 1000)} kB; at most ${MOST / 1000} kB go into a title block.`, 8);
    else {
      const reader = new FileReader();
      reader.onload = () => typeof reader.result === "string" && onChange(reader.result);
      reader.onerror = () => void message.error("The file could not be read.");
      reader.readAsDataURL(file);
    }
  };
  return (
    <Row label="Logo">
      <span style={{ display: "inline-flex", flexWrap: "wrap", gap: 8, alignItems: "center" }}>
        {value && <img src={value} alt="Logo" style={{ maxHeight: 26, maxWidth: 80, background: "var(--white)" }} />}
        {!disabled && <OpenFile label={value ? "Another" : "Choose a file"} accept=".png,.svg" take={take} />}
        {value && !disabled && (
          <Button size="small" onClick={() => onChange("")}>
            Take out
          </Button>
        )}
      </span>
    </Row>
  );
}
