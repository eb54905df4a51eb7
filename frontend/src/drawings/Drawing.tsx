import "./drawing.css";
import { Text } from "@chakra-ui/react";
import { type ReactNode, useLayoutEffect, useRef } from "react";

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
    // it reports at once, after the layout of the page: measured here, the page would be laid out twice
    const sizes = new ResizeObserver(measure);
    sizes.observe(place);
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
    <div className="drawing">
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
    </div>
  );
}
