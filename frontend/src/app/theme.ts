import { createTheme } from "@mui/material/styles";
import { Chevron } from "./Chevron";

declare module "@mui/material/styles" {
  interface Palette {
    tone: Tone;
  }
  interface PaletteOptions {
    tone: Tone;
  }
}

/** The colours that carry meaning: gain and loss (bars, and darker for words), the marker, ink and rules. */
interface Tone {
  loss: string;
  lossText: string;
  gain: string;
  gainText: string;
  marker: string;
  ink: string;
  soft: string;
  rule: string;
  flag: string;
  flagText: string;
  /** Words on the marker, by day and by night. */
  onMarker: string;
}

const sans = '"Public Sans Variable", sans-serif';
export const serif = '"Source Serif 4", serif';

const day: Tone = {
  loss: "#C2643C",
  lossText: "#A04A25",
  gain: "#2B7A8C",
  gainText: "#22687A",
  marker: "#F0C24B",
  ink: "#1C2733",
  soft: "#5C6672",
  rule: "#DAD4C6",
  flag: "#1C2733",
  flagText: "#FFFDF8",
  onMarker: "#1C2733",
};

const night: Tone = {
  loss: "#D77B52",
  lossText: "#EB9A75",
  gain: "#4FA3B5",
  gainText: "#74BFCF",
  marker: "#D9A92F",
  ink: "#E9E4D8",
  soft: "#A3ABB3",
  rule: "#343D47",
  flag: "#E9E4D8",
  flagText: "#14191F",
  onMarker: "#14191F",
};

/** One height for all that is typed into, chosen from or pressed beside it. */
export const FIELD = 32;

/** What lies over the page: an ink line around it, and no shadow. */
function framed(ink: string) {
  return { border: `1px solid ${ink}`, boxShadow: "none" };
}

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "data-theme" },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: day.ink, contrastText: "#FFFDF8" },
        error: { main: day.lossText },
        success: { main: day.gainText },
        background: { default: "#F5F2EA", paper: "#FFFDF8" },
        text: { primary: day.ink, secondary: day.soft },
        divider: day.rule,
        tone: day,
      },
    },
    dark: {
      palette: {
        primary: { main: night.ink, contrastText: "#14191F" },
        error: { main: night.lossText },
        success: { main: night.gainText },
        background: { default: "#14191F", paper: "#1B222A" },
        text: { primary: night.ink, secondary: night.soft },
        divider: night.rule,
        tone: night,
      },
    },
  },
  shape: { borderRadius: 2 },
  typography: {
    fontFamily: sans,
    htmlFontSize: 16,
    fontSize: 14,
    h1: { fontFamily: serif, fontSize: 27, fontWeight: 600, lineHeight: 1.35 },
    h2: { fontSize: 14, fontWeight: 700, lineHeight: 1.5 },
    body1: { fontSize: 14, lineHeight: 1.5 },
    body2: { fontSize: 13, lineHeight: 1.45 },
    caption: { fontSize: 12, lineHeight: 1.4 },
    button: { fontSize: 13, fontWeight: 600, textTransform: "none" },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: (t) => ({
        body: { fontVariantNumeric: "tabular-nums", fontSize: 14 },
        ":focus-visible": { outline: `2px solid ${t.vars.palette.tone.ink}`, outlineOffset: 1 },
        a: { color: "inherit", textUnderlineOffset: 3 },
        "@media (prefers-reduced-motion: reduce)": {
          "*": { transition: "none !important", animation: "none !important" },
        },
      }),
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: "small" },
      styleOverrides: {
        root: { "&:focus-visible": { outlineOffset: 2 } },
        outlined: ({ theme: t }) => ({
          borderColor: t.vars.palette.tone.ink,
          backgroundColor: "transparent",
        }),
      },
    },
    // The worksheet's own field: its name above, the words on a ruled line, faults beneath; no box that is notched.
    MuiTextField: { defaultProps: { variant: "standard" }, styleOverrides: { root: { maxWidth: "100%" } } },
    MuiSelect: { defaultProps: { variant: "standard", IconComponent: Chevron } },
    MuiInputLabel: {
      defaultProps: { shrink: true },
      styleOverrides: {
        root: ({ theme: t }) => ({
          position: "static",
          transform: "none",
          maxWidth: "none",
          fontSize: 12,
          lineHeight: 1.5,
          color: t.vars.palette.text.secondary,
          whiteSpace: "normal",
          "&.Mui-focused": { color: t.vars.palette.text.primary },
          "&.Mui-error": { color: t.vars.palette.error.main },
        }),
      },
    },
    MuiInput: {
      defaultProps: { disableUnderline: true },
      styleOverrides: {
        root: ({ theme: t }) => ({
          "&.MuiInput-root.MuiInput-root": { marginTop: 0 }, // the name stands above, in the flow
          fontSize: 14,
          minHeight: FIELD,
          backgroundColor: t.vars.palette.background.paper,
          borderBottom: `1px solid ${t.vars.palette.tone.ink}`,
          "&.Mui-focused": {
            outline: `2px solid ${t.vars.palette.tone.ink}`,
            outlineOffset: 0,
          },
          "&.Mui-error": { borderBottom: `2px solid ${t.vars.palette.tone.loss}` },
          "&.Mui-disabled": { borderBottomStyle: "dotted" },
        }),
        input: {
          padding: "4px 8px",
          minHeight: 22,
          height: 22,
          "&.figure": { textAlign: "right" },
          "&:focus-visible": { outline: "none" }, // the whole field is outlined
        },
      },
    },
    MuiNativeSelect: { defaultProps: { IconComponent: Chevron } },
    MuiFormHelperText: {
      styleOverrides: { root: { marginTop: 2, fontSize: 12, lineHeight: 1.4, whiteSpace: "normal" } },
    },
    MuiCheckbox: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          padding: 5,
          color: t.vars.palette.tone.ink,
          "&.Mui-checked": { color: t.vars.palette.tone.ink },
          "&.Mui-focusVisible": { outline: `2px solid ${t.vars.palette.tone.ink}`, outlineOffset: -2 },
        }),
      },
    },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 34 } } },
    MuiMenu: { styleOverrides: { paper: ({ theme: t }) => framed(t.vars.palette.tone.ink) } },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiDialog: {
      styleOverrides: {
        paper: ({ theme: t }) => framed(t.vars.palette.tone.ink),
      },
    },
    MuiLink: { defaultProps: { underline: "hover" } },
  },
});
