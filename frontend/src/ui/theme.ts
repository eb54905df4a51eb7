import { createSystem, defineConfig } from "@chakra-ui/react";
import { defaultBaseConfig } from "@chakra-ui/react/preset-base";
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  dialogSlotRecipe,
  fieldSlotRecipe,
  globalCss,
  headingRecipe,
  inputRecipe,
  keyframes,
  layerStyles,
  menuSlotRecipe,
  nativeSelectSlotRecipe,
  progressSlotRecipe,
  semanticTokens,
  skipNavLinkRecipe,
  spinnerRecipe,
  tableSlotRecipe,
  tabsSlotRecipe,
  textareaRecipe,
  textStyles,
  toastSlotRecipe,
  tokens,
} from "@chakra-ui/react/theme";
import { useSyncExternalStore } from "react";
import { keepText, readKept } from "./device";

const both = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } });

/** What the app uses of Chakra's own theme; the recipes of all its other components would be loaded for nothing. */
const used = defineConfig({
  preflight: true,
  cssVarsPrefix: "chakra",
  cssVarsRoot: ":where(html, .chakra-theme)",
  globalCss,
  theme: {
    breakpoints,
    keyframes,
    tokens,
    semanticTokens,
    textStyles,
    layerStyles,
    animationStyles,
    recipes: {
      button: buttonRecipe,
      heading: headingRecipe,
      input: inputRecipe,
      skipNavLink: skipNavLinkRecipe,
      spinner: spinnerRecipe,
      textarea: textareaRecipe,
    },
    slotRecipes: {
      dialog: dialogSlotRecipe,
      field: fieldSlotRecipe,
      menu: menuSlotRecipe,
      nativeSelect: nativeSelectSlotRecipe,
      progress: progressSlotRecipe,
      table: tableSlotRecipe,
      tabs: tabsSlotRecipe,
      toast: toastSlotRecipe,
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
    tokens: {
      fonts: {
        heading: { value: "'Middle dot', 'Overpass', system-ui, sans-serif" },
        body: { value: "'Middle dot', 'Overpass', system-ui, sans-serif" },
        mono: { value: "'Overpass Mono', ui-monospace, monospace" },
      },
    },
    semanticTokens: {
      colors: {
        bg: {
          DEFAULT: both("#dfddd6", "#1b1d20"),
          panel: both("#f4f2ec", "#272a2e"),
          subtle: both("#eae8e1", "#212428"),
          muted: both("#d5d2c9", "#34383d"),
        },
        fg: {
          DEFAULT: both("#1a1c1f", "#f2efe6"),
          muted: both("#4b4f54", "#bfbdb4"),
          subtle: both("#5a5e63", "#a9a79f"),
        },
        border: { DEFAULT: both("#b4b0a5", "#474c52"), emphasized: both("#77736a", "#7f868e") },
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
          border: both("#77736a", "#7f868e"),
          muted: both("#77736a", "#7f868e"),
          subtle: both("#d5d2c9", "#34383d"),
          fg: both("#1a1c1f", "#f2efe6"),
        },
        bad: { fg: both("#a3160c", "#ff9d8f"), subtle: both("#f6dcd7", "#46251f"), onRoad: both("#ffb0a4", "#ff9d8f") },
        good: { fg: both("#145c2c", "#8fd6a2") },
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
  document.documentElement.classList.remove("dark", "light");
  document.documentElement.classList.add(theme);
  document.documentElement.style.colorScheme = theme;
  keepText("local", KEPT, theme);
}

/** The theme kept from last time, or the one the machine prefers. */
export function restoreTheme() {
  const kept = readKept("local", KEPT);
  const preferred: Theme = matchMedia("(prefers-color-scheme: light)").matches ? "light" : "dark";
  setTheme(kept === "light" || kept === "dark" ? kept : preferred);
}
