import "./drawing.css";
import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** The ground every drawing stands on: a description for those who do not see it, and the theme's inks. */
export function Drawing({
  width,
  height,
  top = 0,
  describe,
  children,
  max,
  handled,
}: {
  width: number;
  height: number;
  /** Where the drawing begins, when its upper part is empty. */
  top?: number;
  describe: string;
  children: ReactNode;
  max?: string;
  /** Whether it holds things that can be moved: then it is a group, not a picture. */
  handled?: boolean;
}) {
  return (
    <Box
      css={{
        "& .ink": { stroke: "var(--chakra-colors-fg)", fill: "none", strokeWidth: 2 },
        "& .thin": { stroke: "var(--chakra-colors-fg-muted)", fill: "none", strokeWidth: 1.2 },
        "& .ghost": { stroke: "var(--chakra-colors-fg-muted)", fill: "none", strokeWidth: 1.5, strokeDasharray: "6 6" },
        "& .solid": { fill: "var(--chakra-colors-fg)", stroke: "none" },
        "& .soft": { fill: "var(--chakra-colors-bg-muted)", stroke: "var(--chakra-colors-fg)", strokeWidth: 1.5 },
        "& .act": { stroke: "var(--chakra-colors-signal-fg)", fill: "none", strokeWidth: 3 },
        "& .actfill": { fill: "var(--chakra-colors-signal-fg)", stroke: "none" },
        "& .unsure": { fill: "var(--chakra-colors-signal-fg)", opacity: 0.35, stroke: "none" },
        "& .road": { fill: "var(--chakra-colors-road)", stroke: "none" },
        "& .chalk": { stroke: "var(--chakra-colors-chalk)", fill: "none", strokeWidth: 2 },
        "& .good": { fill: "var(--chakra-colors-good-fg)", opacity: 0.18, stroke: "none" },
        "& .bad": { stroke: "var(--chakra-colors-bad-fg)", fill: "none", strokeWidth: 2.5 },
        "& .panel": { fill: "var(--chakra-colors-bg-panel)", stroke: "var(--chakra-colors-fg)", strokeWidth: 2 },
        "& .handle": { cursor: "grab", touchAction: "none" },
        "& .handle:active": { cursor: "grabbing" },
        "& .handle:focus-visible": { outline: "none" },
        "& .handle .hit": { fill: "transparent", stroke: "none" },
        "& .handle .grip": {
          fill: "var(--chakra-colors-signal-fg)",
          stroke: "var(--chakra-colors-bg-panel)",
          strokeWidth: 2,
        },
        "& .handle:focus-visible .grip": { stroke: "var(--chakra-colors-fg)", strokeWidth: 5 },
        "& text": { fill: "var(--chakra-colors-fg)", fontFamily: "var(--chakra-fonts-mono)", fontSize: "17px" },
        "& text.small": { fontSize: "14px", fill: "var(--chakra-colors-fg-muted)" },
        "& text.big": { fontSize: "30px", fontWeight: 700 },
        "& text.onroad": { fill: "var(--chakra-colors-chalk)", fontSize: "14px" },
      }}
    >
      <svg
        viewBox={`0 ${top} ${width} ${height - top}`}
        width="100%"
        role={handled ? "group" : "img"}
        aria-label={describe}
        style={{ maxHeight: max }}
      >
        {children}
      </svg>
    </Box>
  );
}

/** A round tick distance, 1, 2 or 5 × 10ⁿ, that divides a length into some `parts`. */
export function roundStep(length: number, parts: number): number {
  const rough = length / parts;
  const size = 10 ** Math.floor(Math.log10(rough));
  return [1, 2, 5, 10].map((factor) => factor * size).find((step) => step >= rough) ?? rough;
}
