import { defineKeyframes, defineLayerStyles, defineTokens } from "@chakra-ui/react";

/** Each value of a scale as Chakra wants it. */
const scale = <Name extends string, Value>(values: Record<Name, Value>) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, { value }])) as Record<
    Name,
    { value: Value }
  >;

/** Steps of a quarter of the text's size. */
const STEPS = [0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4, 4.5, 5, 6, 7, 8, 9, 10, 11, 12, 14, 16, 20, 24, 32, 40, 48, 64, 96];
const spacing = scale(Object.fromEntries(STEPS.map((step) => [step, `${step / 4}rem`])));
const sans = "'Middle dot', 'Overpass', system-ui, sans-serif";

/** Sizes, weights, times and layers of Chakra's names, as far as the app and its recipes use them. */
export const tokens = defineTokens({
  spacing,
  sizes: {
    ...spacing,
    ...scale({ xs: "20rem", sm: "24rem", md: "28rem", lg: "32rem", xl: "36rem", "2xl": "42rem", "4xl": "56rem" }),
    ...scale({ full: "100%", fit: "fit-content", min: "min-content", max: "max-content", dvh: "100dvh", vw: "100vw" }),
  },
  fonts: scale({ heading: sans, body: sans, mono: "'Overpass Mono', ui-monospace, monospace" }),
  fontSizes: scale({
    "2xs": "0.625rem",
    xs: "0.75rem",
    sm: "0.875rem",
    md: "1rem",
    lg: "1.125rem",
    xl: "1.25rem",
    "2xl": "1.5rem",
    "3xl": "1.875rem",
    "4xl": "2.25rem",
    "5xl": "3rem",
    "6xl": "3.75rem",
    "7xl": "4.5rem",
  }),
  fontWeights: scale({ normal: "400", medium: "500", semibold: "600", bold: "700" }),
  lineHeights: scale({ shorter: 1.25, short: 1.375, moderate: 1.5, tall: 1.625, taller: 2 }),
  letterSpacings: scale({ tight: "-0.025em", wide: "0.025em", wider: "0.05em", widest: "0.1em" }),
  radii: scale({ xs: "0.125rem", sm: "0.25rem", md: "0.375rem", lg: "0.5rem", xl: "0.75rem", full: "9999px" }),
  borders: scale({ xs: "0.5px solid", sm: "1px solid", md: "2px solid", lg: "4px solid" }),
  cursor: scale({ button: "pointer", disabled: "not-allowed", menuitem: "default", option: "default" }),
  durations: scale({
    fastest: "50ms",
    faster: "100ms",
    fast: "150ms",
    moderate: "200ms",
    slow: "300ms",
    slower: "400ms",
    slowest: "500ms",
  }),
  easings: scale({
    "ease-in": "cubic-bezier(0.42, 0, 1, 1)",
    "ease-out": "cubic-bezier(0, 0, 0.58, 1)",
    "ease-in-out": "cubic-bezier(0.42, 0, 0.58, 1)",
    "ease-in-smooth": "cubic-bezier(0.32, 0.72, 0, 1)",
  }),
  animations: scale({ spin: "spin 1s linear infinite" }),
  zIndex: scale({
    docked: 10,
    dropdown: 1000,
    sticky: 1100,
    overlay: 1300,
    modal: 1400,
    popover: 1500,
    skipNav: 1600,
    toast: 1700,
  }),
  colors: { black: { value: "#000" }, white: { value: "#fff" }, blackAlpha: { 500: { value: "rgb(0 0 0 / 0.36)" } } },
});

/** How menus, dialogs and failures come and go. */
export const keyframes = defineKeyframes({
  spin: { to: { transform: "rotate(360deg)" } },
  "fade-in": { from: { opacity: 0 } },
  "fade-out": { to: { opacity: 0 } },
  "scale-in": { from: { scale: "0.95" } },
  "scale-out": { to: { scale: "0.95" } },
  "slide-from-top": { from: { translate: "0 -0.5rem" } },
  "slide-from-bottom": { from: { translate: "0 0.5rem" } },
  "slide-to-top": { to: { translate: "0 -0.5rem" } },
  "slide-to-bottom": { to: { translate: "0 0.5rem" } },
});

export const layerStyles = defineLayerStyles({ disabled: { value: { opacity: "0.5", cursor: "not-allowed" } } });
