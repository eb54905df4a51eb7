import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef } from "react";

/**
 * Something in a drawing that can be dragged or nudged by arrows, Shift by ten.
 * `read` turns a pointer's place in the drawing into the value.
 */
export function Handle({
  label,
  text,
  value,
  low,
  high,
  step,
  keys,
  read,
  change,
  done,
  press,
  children,
}: {
  label: string;
  /** The value with its unit, for those who do not see it. */
  text: string;
  value: number;
  low: number;
  high: number;
  step: number;
  keys: "upright" | "level";
  read: (x: number, y: number, start: { x: number; y: number; value: number }) => number;
  change: (value: number) => void;
  done: () => void;
  /** Takes a press in place of a drag: where it was. */
  press?: (x: number, y: number) => void;
  children: ReactNode;
}) {
  const from = useRef<{ x: number; y: number; value: number; matrix: DOMMatrix | undefined } | null>(null);
  const digits = step < 0.1 ? 2 : 1;
  const keep = (next: number) => change(Number(Math.min(Math.max(next, low), high).toFixed(digits)));
  const onScreen = (event: PointerEvent<SVGGElement>) => event.currentTarget.ownerSVGElement?.getScreenCTM()?.inverse();
  const place = (event: PointerEvent<SVGGElement>, matrix = onScreen(event)) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return { x: point.x, y: point.y };
  };
  const drop = () => {
    if (from.current) done();
    from.current = null;
  };
  const pressed = (event: KeyboardEvent) => {
    const more = keys === "upright" ? ["ArrowUp", "ArrowRight"] : ["ArrowRight", "ArrowUp"];
    const less = keys === "upright" ? ["ArrowDown", "ArrowLeft"] : ["ArrowLeft", "ArrowDown"];
    const leap = { Home: low, End: high, PageUp: value + 10 * step, PageDown: value - 10 * step }[event.key];
    if (leap !== undefined) {
      event.preventDefault();
      keep(leap);
      done();
      return;
    }
    const way = more.includes(event.key) ? 1 : less.includes(event.key) ? -1 : 0;
    if (way === 0) return;
    event.preventDefault();
    keep(value + way * step * (event.shiftKey ? 10 : 1));
    done();
  };
  return (
    <g
      className="handle"
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuetext={text}
      aria-orientation={keys === "upright" ? "vertical" : "horizontal"}
      onKeyDown={pressed}
      onPointerDown={(event) => {
        if (press) {
          const { x, y } = place(event);
          press(x, y);
          return;
        }
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { ...place(event), value, matrix: onScreen(event) };
      }}
      onPointerMove={(event) => {
        if (!from.current) return;
        // as the drawing lay when it was taken: text that comes above it must not move the handle on
        const { x, y } = place(event, from.current.matrix);
        keep(read(x, y, from.current));
      }}
      onPointerUp={drop}
      onPointerCancel={drop}
    >
      {children}
    </g>
  );
}
