import { type ThemeConfig, theme } from "antd";

export type ThemeName = "light" | "dusk";

/** Colours that are drawn on canvas; the same names stand in base.css as variables. */
export interface Palette {
  page: string;
  panel: string;
  well: string;
  plot: string;
  track: string;
  line: string;
  border: string;
  ink: string;
  quiet: string;
  icon: string;
  teal: string;
  plum: string;
  amber: string;
  /** Keys of a pass that adds, and of one that replaces. */
  ochre: string;
  violet: string;
  x: string;
  y: string;
  z: string;
}

export const palettes: Record<ThemeName, Palette> = {
  light: {
    page: "#F4EEE3",
    panel: "#FFFBF4",
    well: "#F8F2E6",
    plot: "#FFFDF8",
    track: "#EEE5D4",
    line: "#E2D8C6",
    border: "#D3C6AF",
    ink: "#2A2521",
    quiet: "#6B6156",
    icon: "#A79B8B",
    teal: "#0E6A67",
    plum: "#8A2E5C",
    amber: "#B97A14",
    ochre: "#A06E12",
    violet: "#6A5A9C",
    x: "#C2483B",
    y: "#41793A",
    z: "#2E6FB3",
  },
  dusk: {
    page: "#1F1D24",
    panel: "#29262F",
    well: "#24212A",
    plot: "#221F28",
    track: "#37333F",
    line: "#3D3846",
    border: "#544D5F",
    ink: "#F1E9DD",
    quiet: "#B9AEA0",
    icon: "#8D8378",
    teal: "#5CBDB4",
    plum: "#E58DB6",
    amber: "#E4B25C",
    ochre: "#E4B25C",
    violet: "#B6A6E6",
    x: "#EE8577",
    y: "#8CC77F",
    z: "#7FB4EC",
  },
};

/** Has the system been told to keep still? Then nothing slides or fades. */
const keepsStill = (): boolean => window.matchMedia?.("(prefers-reduced-motion: reduce)").matches ?? false;

export function antTheme(name: ThemeName): ThemeConfig {
  const p = palettes[name];
  return {
    // One version of the library alone: its styles need no name of their own.
    hashed: false,
    // They come as a file (see main.tsx): to write them while a page is opened took a twelfth of that time.
    zeroRuntime: true,
    algorithm: name === "dusk" ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: p.teal,
      colorInfo: p.teal,
      colorSuccess: p.teal,
      colorLink: p.teal,
      colorBgBase: p.panel,
      colorBgContainer: p.panel,
      colorBgElevated: p.panel,
      colorBgLayout: p.page,
      colorTextBase: p.ink,
      colorTextSecondary: p.quiet,
      colorTextDescription: p.quiet,
      colorTextPlaceholder: p.quiet,
      colorBorder: p.border,
      colorBorderSecondary: p.line,
      colorTextLightSolid: name === "dusk" ? "#16201F" : "#FFFFFF",
      fontFamily: "'Figtree Variable', sans-serif",
      fontFamilyCode: "'Spline Sans Mono', monospace",
      fontSize: 13,
      borderRadius: 6,
      controlHeight: 28,
      controlHeightSM: 24,
      controlHeightLG: 34,
      motion: !keepsStill(),
      motionDurationMid: "0.12s",
      motionDurationSlow: "0.16s",
    },
    components: {
      Slider: { railBg: p.track, railHoverBg: p.track, trackBg: p.teal, handleColor: p.teal },
      Tooltip: { colorBgSpotlight: name === "dusk" ? p.ink : "#2A2521" },
      Table: { rowSelectedBg: "var(--teal-wash)", rowSelectedHoverBg: "var(--teal-wash)" },
      Segmented: { trackBg: p.track, itemSelectedBg: p.panel },
    },
  };
}
