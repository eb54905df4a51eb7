import "./drawing.css";
import { Box, Text } from "@chakra-ui/react";
import { type ReactNode, useLayoutEffect, useRef } from "react";

/** No text of a drawing is smaller than this on the screen, however small the drawing is. */
const LEAST_PX = 11.2;
const size = (px: number) => `max(${px}px, calc(${LEAST_PX}px * var(--units-per-px, 1)))`;

/** Keeps the drawing's own units in one pixel of the screen at hand, for the size of its texts. */
function useUnitsPerPixel(width: number, height: number) {
  const svg = useRef<SVGSVGElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another view box is another scale
  useLayoutEffect(() => {
    const place = svg.current;
    if (!place) return;
    const measure = () => {
      const scale = place.getScreenCTM()?.a;
      if (scale) place.style.setProperty("--units-per-px", String(1 / scale));
    };
    const sizes = new ResizeObserver(measure);
    sizes.observe(place);
    measure();
    return () => sizes.disconnect();
  }, [width, height]);
  return svg;
}

/** The ground every drawing stands on: a description for those who do not see it, and the theme's inks. */
export function Drawing({
  width,
  height,
  top = 0,
  describe,
  children,
  max,
  handled,
  caption,
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
  /** What is said below it. */
  caption?: string;
}) {
  const svg = useUnitsPerPixel(width, height);
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
        "& .handle:focus-visible": {
          outline: "3px solid var(--chakra-colors-signal-focus-ring)",
          outlineOffset: "3px",
        },
        "& .handle .hit": { fill: "transparent", stroke: "none" },
        "& .handle .grip": {
          fill: "var(--chakra-colors-signal-fg)",
          stroke: "var(--chakra-colors-bg-panel)",
          strokeWidth: 2,
        },
        "& .handle:focus-visible .grip": { stroke: "var(--chakra-colors-fg)", strokeWidth: 5 },
        "& text": { fill: "var(--chakra-colors-fg)", fontFamily: "var(--chakra-fonts-mono)", fontSize: size(17) },
        "& text.small": { fontSize: size(14), fill: "var(--chakra-colors-fg-muted)" },
        "& text.mid": { fontSize: size(22), fontWeight: 700 },
        "& text.big": { fontSize: size(30), fontWeight: 700 },
        "& text.onroad": { fill: "var(--chakra-colors-chalk)", fontSize: size(14) },
        "& text.tiny": { fontSize: size(12), fill: "var(--chakra-colors-fg-muted)" },
      }}
    >
      <svg
        ref={svg}
        viewBox={`0 ${top} ${width} ${height - top}`}
        width="100%"
        role={handled ? "group" : "img"}
        aria-label={describe}
        style={{ maxHeight: max }}
      >
        {children}
      </svg>
      {caption && (
        <Text textAlign="center" fontFamily="mono" fontSize="sm" mt={1}>
          {caption}
        </Text>
      )}
    </Box>
  );
}
