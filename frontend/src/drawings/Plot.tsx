import { Box } from "@chakra-ui/react";
import { useEffect, useMemo, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { useTheme } from "../ui/theme";

export type Line = {
  label: string;
  values: (number | null)[];
  look: keyof typeof LOOKS;
  fillTo?: number;
};

export const ink = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`);

export const LOOKS = {
  true: () => ({ stroke: ink("fg-muted"), width: 1, dash: [4, 4] }),
  ours: () => ({ stroke: ink("signal-fg"), width: 3 }),
  edge: () => ({ stroke: "transparent", width: 0 }),
  limit: () => ({ stroke: ink("fg"), width: 2, dash: [10, 5] }),
  over: () => ({ stroke: ink("fg"), width: 2, dash: [2, 3] }),
  over2: () => ({ stroke: ink("fg-muted"), width: 2, dash: [8, 3, 2, 3] }),
};

export const axis = () => ({
  stroke: ink("fg"),
  grid: { stroke: ink("border"), width: 0.5 },
  ticks: { stroke: ink("border") },
  font: "13px Overpass Mono",
  labelFont: "13px Overpass",
});

/** Lines over one axis, in the theme's inks; `describe` says in words what they show. */
export function Plot({
  x,
  xLabel,
  yLabel,
  lines,
  bands,
  describe,
  height = 260,
}: {
  x: number[];
  xLabel: string;
  yLabel: string;
  lines: Line[];
  bands?: [number, number][];
  describe: string;
  height?: number;
}) {
  const place = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot>(null);
  const theme = useTheme();
  const form = JSON.stringify([lines.map((line) => [line.label, line.look]), bands, xLabel, yLabel, height, theme]);
  const values = useMemo(() => [x, ...lines.map((line) => line.values)] as uPlot.AlignedData, [x, lines]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `form` stands for all that is more than data
  useEffect(() => {
    const box = place.current;
    if (!box) return;
    const width = () => Math.max(box.clientWidth, 200);
    const drawn = new uPlot(
      {
        width: width(),
        height,
        legend: { show: false },
        cursor: { show: false },
        scales: { x: { time: false } },
        axes: [
          { ...axis(), label: xLabel, labelSize: 22, size: 34 },
          { ...axis(), label: yLabel, labelSize: 22, size: 52 },
        ],
        series: [{}, ...lines.map((line) => ({ label: line.label, ...LOOKS[line.look](), points: { show: false } }))],
        bands: bands?.map((pair) => ({ series: pair, fill: `${ink("signal-fg")}44` })),
      },
      values,
      box,
    );
    plot.current = drawn;
    const sizes = new ResizeObserver(() => drawn.setSize({ width: width(), height }));
    sizes.observe(box);
    return () => {
      sizes.disconnect();
      drawn.destroy();
      plot.current = null;
    };
  }, [form]);
  useEffect(() => plot.current?.setData(values), [values]);
  return <Box ref={place} role="img" aria-label={describe} w="100%" minW={0} overflow="hidden" minH={`${height}px`} />;
}
