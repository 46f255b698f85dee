/** All colours and Ant Design tokens. Components carry no colours of their own. */
import type { ThemeConfig } from "antd";

export const colour = {
  tin50: "#F5F6F4",
  tin100: "#E9ECEA",
  tin200: "#D5DAD8",
  tin400: "#9AA5A6",
  tin600: "#5D6B6F",
  tin800: "#313C41",
  tin950: "#1B2327",
  saddle100: "#F3E4D5",
  saddle300: "#D9A066",
  saddle500: "#A4602C",
  saddle700: "#7A4319",
  sound: "#4F7449",
  caution: "#A8740F",
  fault: "#A83A2C",
  short: "#8A3F78",
  white: "#FFFFFF",
} as const;

/** Depth bands, thin to thick. */
export const bandColours = ["#E8E2CF", "#BFD0C0", "#84B0B0", "#4C87A0", "#35598A", "#2E2F66"] as const;

/** Rungs of slope ladders on the dark strip: by their order, with the two that are no rung apart. */
const rungColours = ["#C9B458", "#7FB069", "#D98E73", "#8FA6CB", "#C58BB8", "#6FBFB4", "#B9A28A"] as const;
export function rungColour(index: number): string {
  if (index === 0) return colour.tin400;
  return index === 1 ? colour.fault : rungColours[(index - 2) % rungColours.length]!;
}

export const fonts = {
  text: "'Overpass Variable', 'Overpass', sans-serif",
  mono: "'Overpass Mono Variable', 'Overpass Mono', monospace",
};

export const theme: ThemeConfig = {
  token: {
    colorPrimary: colour.saddle500,
    // Darker, not lighter, under the pointer: white letters stay readable on it.
    colorPrimaryHover: colour.saddle700,
    colorInfo: colour.saddle500,
    colorLink: colour.saddle700,
    colorSuccess: colour.sound,
    colorWarning: colour.caution,
    colorError: colour.fault,
    colorText: colour.tin950,
    colorTextSecondary: colour.tin600,
    colorTextTertiary: colour.tin600,
    colorTextDescription: colour.tin600,
    colorTextPlaceholder: colour.tin600,
    colorBgLayout: colour.tin50,
    colorBorder: colour.tin200,
    colorBorderSecondary: colour.tin200,
    borderRadius: 4,
    fontFamily: fonts.text,
    fontFamilyCode: fonts.mono,
    fontSize: 13,
    controlHeight: 30,
    controlHeightSM: 26,
    wireframe: false,
    motion: !matchMedia("(prefers-reduced-motion: reduce)").matches,
  },
  components: {
    Table: { fontSize: 12, cellPaddingBlockSM: 4, cellPaddingInlineSM: 8, headerBg: colour.tin100 },
    Button: { primaryShadow: "none", defaultShadow: "none", defaultHoverColor: colour.saddle700, defaultHoverBorderColor: colour.saddle500 },
    Tabs: { horizontalMargin: "0" },
    Form: { itemMarginBottom: 10 },
  },
};

/** The same values as CSS variables, for plain CSS. */
export function cssVariables(): string {
  const names = Object.entries(colour).map(([name, value]) => `--${name}: ${value};`);
  return `:root { ${names.join(" ")} --text: ${fonts.text}; --mono: ${fonts.mono}; }`;
}
