/** A colour chosen from a palette, written as #rrggbb. */
import { ColorPicker } from "antd";

interface Props {
  value: string;
  disabled?: boolean;
  /** The code is written beside the field. */
  showText?: boolean;
  label?: string;
  onChange: (colour: string) => void;
}

export function ColourPicker({ value, disabled, showText, label, onChange }: Props) {
  return (
    <ColorPicker
      size="small"
      disabledAlpha
      disabled={disabled}
      showText={showText}
      value={value}
      aria-label={label}
      onChangeComplete={(c) => onChange(c.toHexString().slice(0, 7))}
    />
  );
}
