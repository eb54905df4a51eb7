import { Box } from "@chakra-ui/react";
import { type KeyboardEvent, useEffect, useMemo, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { Pointer } from "../ui/pointer";
import { useTheme } from "../ui/theme";
import { t } from "../ui/words";
import { axis, ink, type Line, LOOKS } from "./Plot";
import { type Span, scaled, within } from "./Zoom";

export type Curve = {
  label: string;
  look: Line["look"];
  time_s: readonly number[];
  values: readonly (number | null)[];
};

type Props = {
  curves: Curve[];
  /** What stands below: time, or the distance covered; nothing where another plot below says it. */
  xLabel?: string | null;
  yLabel: string;
  describe: string;
  /** All of the recording, and what is seen of it, in seconds or metres. */
  whole: Span;
  span: Span;
  zoom: (span: Span) => void;
  /** Parts that are left out: drawn in another ground. */
  leftOut?: readonly Span[];
  /** The place that is pointed at, here or in another drawing. */
  pointer?: Pointer;
  point?: (at: number | null) => void;
  /** A place that is pressed, to stay pointed at. */
  press?: (at: number) => void;
  /** Places that somebody marked, numbered from 1. */
  marks?: readonly number[];
  /** A drag marks a span instead of zooming. */
  mark?: ((span: Span) => void) | null;
  height?: number;
};

const NOTHING: readonly Span[] = [];
const NO_MARKS: readonly number[] = [];

/** Channels over time: zoomed and moved by drag, wheel, touch and keys. */
export function RecordingPlot(props: Props) {
  const {
    curves,
    xLabel = t("time, s"),
    yLabel,
    describe,
    whole,
    span,
    zoom,
    leftOut = NOTHING,
    pointer,
    mark,
    marks = NO_MARKS,
    height = 280,
  } = props;
  const place = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot>(null);
  const pointed = useRef<ReturnType<typeof lineOver>>(null);
  const now = useRef(props);
  now.current = props;
  const theme = useTheme();
  const form = JSON.stringify([curves.map((curve) => [curve.label, curve.look]), xLabel, yLabel, height, theme]);
  const values = useMemo(
    () =>
      curves.length > 0
        ? uPlot.join(curves.map((curve) => [curve.time_s, curve.values] as unknown as uPlot.AlignedData))
        : ([[]] as unknown as uPlot.AlignedData),
    [curves],
  );
  const moved = (by: number) => zoom(within([span[0] + by, span[1] + by], whole));
  const keys = (event: KeyboardEvent) => {
    const step = 0.2 * (span[1] - span[0]);
    if (event.key === "ArrowLeft") moved(-step);
    else if (event.key === "ArrowRight") moved(step);
    else if (event.key === "+" || event.key === "=") zoom(scaled(span, whole, 0.5));
    else if (event.key === "-") zoom(scaled(span, whole, 2));
    else if (event.key === "Home") zoom(whole);
    else return;
    event.preventDefault();
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: `form` stands for all that is more than data
  useEffect(() => {
    const box = place.current;
    if (!box) return;
    const width = () => Math.max(box.clientWidth, 200);
    // one that is drawn anew under the pointer has not been left: what was pointed at stays
    let entered = false;
    const drawn = new uPlot(
      {
        width: width(),
        height,
        legend: { show: false },
        cursor: { y: false, drag: { x: true, y: false, setScale: false }, points: { show: false } },
        scales: { x: { time: false, range: () => [...now.current.span] as [number, number] } },
        axes: [
          xLabel === null
            ? { ...axis(), values: () => [], size: 6 }
            : { ...axis(), label: xLabel, labelSize: 22, size: 34 },
          { ...axis(), label: yLabel, labelSize: 22, size: 52 },
        ],
        series: [
          {},
          ...curves.map((curve) => ({ label: curve.label, ...LOOKS[curve.look](), points: { show: false } })),
        ],
        hooks: {
          drawClear: [(self) => shade(self, now.current.leftOut ?? [])],
          draw: [
            (self) => marked(self, now.current.marks ?? NO_MARKS),
            () => pointed.current?.(now.current.pointer?.get()),
          ],
          setCursor: [
            (self) => {
              const left = self.cursor.left ?? -1;
              entered ||= left >= 0;
              if (!entered) return;
              now.current.point?.(left < 0 ? null : self.posToVal(left, "x"));
            },
          ],
          setSelect: [
            (self) => {
              if (self.select.width < 4) return;
              const ends = [self.select.left, self.select.left + self.select.width];
              const [from, to] = ends.map((left) => self.posToVal(left, "x")) as [number, number];
              self.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
              if (now.current.mark) now.current.mark([from, to]);
              else now.current.zoom(within([from, to], now.current.whole));
            },
          ],
        },
      },
      values,
      box,
    );
    plot.current = drawn;
    pointed.current = lineOver(drawn);
    pointed.current(now.current.pointer?.get());
    const sizes = new ResizeObserver(() => drawn.setSize({ width: width(), height }));
    sizes.observe(box);
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return; // the page scrolls; a pinch on a touchpad comes with Ctrl
      event.preventDefault();
      const { span: seen, whole: all, zoom: set } = now.current;
      const around = drawn.posToVal(event.clientX - drawn.over.getBoundingClientRect().left, "x");
      const factor = event.deltaY > 0 ? 1.25 : 0.8;
      set(within([around - (around - seen[0]) * factor, around + (seen[1] - around) * factor], all));
    };
    drawn.over.addEventListener("wheel", wheel, { passive: false });
    // uPlot keeps the click that ends a drag to itself
    const click = (event: MouseEvent) =>
      now.current.press?.(drawn.posToVal(event.clientX - drawn.over.getBoundingClientRect().left, "x"));
    drawn.over.addEventListener("click", click);
    const touches = touched(drawn, now);
    return () => {
      sizes.disconnect();
      drawn.over.removeEventListener("wheel", wheel);
      drawn.over.removeEventListener("click", click);
      touches();
      drawn.destroy();
      plot.current = null;
      pointed.current = null;
    };
  }, [form]);
  useEffect(() => plot.current?.setData(values), [values]);
  useEffect(() => plot.current?.setScale("x", { min: span[0], max: span[1] }), [span[0], span[1]]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the plot reads them where it draws
  useEffect(() => plot.current?.redraw(false), [leftOut, marks]);
  useEffect(() => {
    const follow = () => pointed.current?.(pointer?.get());
    follow();
    return pointer?.subscribe(follow);
  }, [pointer]);
  return (
    <Box
      ref={place}
      role="group"
      tabIndex={0}
      aria-label={describe}
      aria-keyshortcuts="+ - ArrowLeft ArrowRight Home"
      onKeyDown={keys}
      w="100%"
      minW={0}
      overflow="hidden"
      minH={`${height}px`}
      css={{ "& .u-over": { touchAction: "pan-y", cursor: mark ? "col-resize" : "crosshair" } }}
    />
  );
}

/** Lines with their numbers where somebody put a mark. */
function marked(self: uPlot, marks: readonly number[]) {
  const { ctx, bbox } = self;
  ctx.save();
  ctx.strokeStyle = ink("fg");
  ctx.fillStyle = ink("fg");
  ctx.lineWidth = 1;
  ctx.font = `${13 * devicePixelRatio}px Overpass Mono`;
  ctx.setLineDash([3, 3]);
  marks.forEach((at, place) => {
    const left = self.valToPos(at, "x", true);
    if (left < bbox.left || left > bbox.left + bbox.width) return;
    ctx.beginPath();
    ctx.moveTo(left, bbox.top);
    ctx.lineTo(left, bbox.top + bbox.height);
    ctx.stroke();
    ctx.fillText(String(place + 1), left + 3, bbox.top + 13 * devicePixelRatio);
  });
  ctx.restore();
}

/** The ground of what is left out. */
function shade(self: uPlot, spans: readonly Span[]) {
  const { ctx, bbox } = self;
  ctx.save();
  ctx.fillStyle = `${ink("fg-muted")}2e`;
  for (const [from, to] of spans) {
    const [left, right] = [from, to].map((at) =>
      Math.min(Math.max(self.valToPos(at, "x", true), bbox.left), bbox.left + bbox.width),
    ) as [number, number];
    ctx.fillRect(left, bbox.top, right - left, bbox.height);
  }
  ctx.restore();
}

/** The line where it is pointed at, here or in another drawing: above the plot, which is not drawn anew for it. */
function lineOver(self: uPlot) {
  const line = document.createElement("div");
  Object.assign(line.style, { position: "absolute", top: "0", bottom: "0", width: "1px", pointerEvents: "none" });
  line.style.background = ink("signal-fg");
  self.over.append(line);
  return (at: number | null | undefined) => {
    const left = at == null ? -1 : self.valToPos(at, "x");
    line.style.display = left < 0 || left > self.over.clientWidth ? "none" : "block";
    line.style.transform = `translateX(${left}px)`;
  };
}

/** One finger moves what is seen, or marks; two zoom. */
function touched(drawn: uPlot, now: { current: Props }) {
  let start: { span: Span; at: number[] } | null = null;
  const timeOf = (touch: Touch) => drawn.posToVal(touch.clientX - drawn.over.getBoundingClientRect().left, "x");
  const begin = (event: TouchEvent) => {
    start = { span: now.current.span, at: [...event.touches].slice(0, 2).map((touch) => touch.clientX) };
    if (now.current.mark) start.at = [...event.touches].slice(0, 1).map(timeOf);
  };
  const move = (event: TouchEvent) => {
    if (!start || now.current.mark) return;
    const { whole, zoom } = now.current;
    const per = (start.span[1] - start.span[0]) / drawn.over.clientWidth;
    const xs = [...event.touches].slice(0, 2).map((touch) => touch.clientX);
    const [a, b] = [start.at, xs];
    if (a.length !== b.length || a[0] === undefined || b[0] === undefined) return;
    if (a[1] === undefined || b[1] === undefined) {
      zoom(within([start.span[0] - (b[0] - a[0]) * per, start.span[1] - (b[0] - a[0]) * per], whole));
      return;
    }
    const factor = Math.abs(a[1] - a[0]) / Math.max(Math.abs(b[1] - b[0]), 20);
    const middle = (start.span[0] + start.span[1]) / 2 - ((b[0] + b[1] - a[0] - a[1]) / 2) * per;
    const half = ((start.span[1] - start.span[0]) / 2) * factor;
    zoom(within([middle - half, middle + half], whole));
  };
  const end = (event: TouchEvent) => {
    const first = start?.at[0];
    const last = event.changedTouches[0];
    if (now.current.mark && first !== undefined && last) {
      const to = timeOf(last);
      if (Math.abs(to - first) > 0) now.current.mark(first < to ? [first, to] : [to, first]);
    }
    start = null;
  };
  drawn.over.addEventListener("touchstart", begin, { passive: true });
  drawn.over.addEventListener("touchmove", move, { passive: true });
  drawn.over.addEventListener("touchend", end, { passive: true });
  return () => {
    drawn.over.removeEventListener("touchstart", begin);
    drawn.over.removeEventListener("touchmove", move);
    drawn.over.removeEventListener("touchend", end);
  };
}
