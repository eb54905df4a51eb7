import { createSystem, defineConfig } from "@chakra-ui/react";
import { defaultBaseConfig } from "@chakra-ui/react/preset-base";
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  globalCss,
  headingRecipe,
  skipNavLinkRecipe,
  spinnerRecipe,
  textStyles,
} from "@chakra-ui/react/theme";
import { useSyncExternalStore } from "react";
import { keepText, readKept } from "./device";
import { keyframes, layerStyles, tokens } from "./tokens";

const both = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } });

/**
 * What the app uses of Chakra's own theme; the rest would be loaded for nothing. The recipes of what a page has
 * few of (tables, menu, dialog, toasts) come with those, when they are first needed.
 */
const used = defineConfig({
  preflight: true,
  cssVarsPrefix: "chakra",
  cssVarsRoot: ":where(html, .chakra-theme)",
  globalCss,
  theme: {
    breakpoints,
    keyframes,
    tokens,
    textStyles,
    layerStyles,
    animationStyles,
    recipes: {
      button: buttonRecipe,
      heading: headingRecipe,
      skipNavLink: skipNavLinkRecipe,
      spinner: spinnerRecipe,
    },
  },
});

/** A surveyed road: asphalt and concrete, chalk lines, one warm signal colour for what can be acted on. */
const config = defineConfig({
  globalCss: {
    "html, body": { bg: "bg", color: "fg", fontFamily: "body" },
    html: { scrollPaddingTop: "150px" }, // a field that gets the focus is not under the sticky line
    "*:focus-visible": { outline: "3px solid", outlineColor: "signal.focusRing", outlineOffset: "2px" },
    "*": { _motionReduce: { transition: "none !important", animation: "none !important" } },
  },
  theme: {
    tokens,
    semanticTokens: {
      colors: {
        bg: {
          DEFAULT: both("#dfddd6", "#1b1d20"),
          panel: both("#f4f2ec", "#272a2e"),
          subtle: both("#eae8e1", "#212428"),
          muted: both("#d5d2c9", "#34383d"),
          emphasized: both("#c5c1b6", "#42474d"),
        },
        fg: {
          DEFAULT: both("#1a1c1f", "#f2efe6"),
          muted: both("#4b4f54", "#bfbdb4"),
          subtle: both("#5a5e63", "#a9a79f"),
          error: both("#a3160c", "#ff9d8f"),
        },
        border: {
          DEFAULT: both("#b4b0a5", "#474c52"),
          emphasized: both("#77736a", "#7f868e"),
          error: both("#a3160c", "#ff9d8f"),
        },
        road: {
          DEFAULT: both("#3a3e43", "#2e3236"),
          edge: both("#2a2d31", "#101214"),
          chosen: both("#4c5157", "#42474d"),
        },
        chalk: { DEFAULT: both("#f7f4ea", "#f2efe6"), dim: both("#cdcbc2", "#bdbbb2") },
        signal: {
          solid: both("#8f4300", "#ffb347"),
          contrast: both("#ffffff", "#201500"),
          fg: both("#873f00", "#ffb347"),
          onRoad: both("#ffc069", "#ffb347"),
          muted: both("#f0d9bd", "#4a3a22"),
          subtle: both("#f6e8d6", "#3a3024"),
          emphasized: both("#e2bd90", "#6b5226"),
          border: both("#b35900", "#ffb347"),
          focusRing: both("#b35900", "#ffb347"),
        },
        gray: {
          solid: both("#1a1c1f", "#f2efe6"),
          contrast: both("#ffffff", "#1b1d20"),
          fg: both("#1a1c1f", "#f2efe6"),
          muted: both("#77736a", "#7f868e"),
          subtle: both("#d5d2c9", "#34383d"),
          emphasized: both("#b4b0a5", "#5a6067"),
          border: both("#77736a", "#7f868e"),
          focusRing: both("#b35900", "#ffb347"),
        },
        red: {
          solid: both("#a3160c", "#ff9d8f"),
          contrast: both("#ffffff", "#2b0703"),
          fg: both("#a3160c", "#ff9d8f"),
          muted: both("#e9b8b1", "#6b2f27"),
          subtle: both("#f6dcd7", "#46251f"),
          emphasized: both("#dd948a", "#8c4238"),
          border: both("#a3160c", "#ff9d8f"),
          focusRing: both("#a3160c", "#ff9d8f"),
        },
        bad: { fg: both("#a3160c", "#ff9d8f"), subtle: both("#f6dcd7", "#46251f"), onRoad: both("#ffb0a4", "#ff9d8f") },
        good: { fg: both("#145c2c", "#8fd6a2") },
      },
      radii: { l1: { value: "{radii.xs}" }, l2: { value: "{radii.sm}" }, l3: { value: "{radii.md}" } },
      shadows: {
        md: both("0 4px 8px #1b1d201a, 0 0 1px #1b1d204d", "0 4px 8px #000a, 0 0 1px inset #f2efe64d"),
        lg: both("0 8px 16px #1b1d201a, 0 0 1px #1b1d204d", "0 8px 16px #000a, 0 0 1px inset #f2efe64d"),
        xl: both("0 16px 24px #1b1d201a, 0 0 1px #1b1d204d", "0 16px 24px #000a, 0 0 1px inset #f2efe64d"),
      },
    },
  },
});

export const system = createSystem(defaultBaseConfig, used, config);

export type Theme = "dark" | "light";
const KEPT = "wheelometron.theme";

/** The theme that is seen, for what is painted by hand. */
export const useTheme = () => useSyncExternalStore(watchTheme, currentTheme);

function watchTheme(changed: () => void) {
  const watch = new MutationObserver(changed);
  watch.observe(document.documentElement, { attributes: true, attributeFilter: ["class"] });
  return () => watch.disconnect();
}

export const currentTheme = (): Theme => (document.documentElement.classList.contains("light") ? "light" : "dark");

export function setTheme(theme: Theme) {
  show(theme);
  keepText("local", KEPT, theme);
}

function show(theme: Theme) {
  document.documentElement.classList.remove("dark", "light");
  document.documentElement.classList.add(theme);
  document.documentElement.style.colorScheme = theme;
}

/** Paper is light, whatever the screen is. */
function printLight() {
  let before: Theme = "light";
  window.addEventListener("beforeprint", () => {
    before = currentTheme();
    show("light");
  });
  window.addEventListener("afterprint", () => show(before));
}

/** The theme kept from last time, or the one the machine prefers. */
export function restoreTheme() {
  const kept = readKept("local", KEPT);
  const preferred: Theme = matchMedia("(prefers-color-scheme: light)").matches ? "light" : "dark";
  setTheme(kept === "light" || kept === "dark" ? kept : preferred);
  printLight();
}
