import { useEffect, useRef, useState } from "react";
import type { Installation } from "../../../api/client";
import { type BenchFrame, type Faults, fetchMoment, messageOf, type Sent } from "./queries";

/** A little under a twentieth of a second: a picture that comes late is not caught up. */
const EVERY_MS = 46;
const WHEN_HIDDEN_MS = 500;
const AFTER_ERROR_MS = 2000;
const REMEMBERED_S = 14;
const MOST_POINTS = 380;
const BEGINS_S = 30;
export const SWEEP_S = 40;

export type Setup = { kmh: number; top: number; sweeping: boolean; window_ms: number | null; faults: Faults };

/**
 * The running bench: twenty pictures a second, each from how it was driven lately.
 * `running` false holds the last picture.
 */
export function useLive(document: Installation, setup: Setup, running: boolean) {
  const [frame, show] = useState<BenchFrame>();
  const [error, fail] = useState("");
  const now = useRef({ document, setup });
  now.current = { document, setup };
  const sent = useRef<Sent>({ key: "" });
  const clock = useRef({ began: performance.now(), points: [{ at_s: 0, kmh: setup.kmh }] });
  useEffect(() => {
    if (!running) return;
    let live = true;
    let timer = 0;
    let due = performance.now();
    const turn = async () => {
      const began = performance.now();
      due = Math.max(due + EVERY_MS, began);
      if (window.document.hidden) due = began + WHEN_HIDDEN_MS;
      else
        try {
          const { document, setup } = now.current;
          const at_s = BEGINS_S + (began - clock.current.began) / 1000;
          clock.current.points = driven(clock.current.points, at_s, setup);
          const result = await fetchMoment(sent.current, document, {
            profile: { points: clock.current.points },
            now_s: at_s,
            window_ms: setup.window_ms,
            faults: setup.faults,
          });
          if (!live) return;
          show(result);
          fail("");
        } catch (problem) {
          if (!live) return;
          fail(messageOf(problem as Error));
          due = began + AFTER_ERROR_MS;
        }
      if (live) timer = window.setTimeout(turn, Math.max(due - performance.now(), 0));
    };
    turn();
    return () => {
      live = false;
      window.clearTimeout(timer);
    };
  }, [running]);
  return { frame, error };
}

type Point = { at_s: number; kmh: number };

/** How it was driven, with where it is now; what nobody remembers is forgotten. */
function driven(points: Point[], at_s: number, { kmh, top, sweeping }: Setup): Point[] {
  const last = points.at(-1);
  const part = (at_s % SWEEP_S) / SWEEP_S;
  const next = sweeping ? top * (part < 0.5 ? 2 * part : 2 - 2 * part) : kmh;
  const steady = last && points.at(-2)?.kmh === last.kmh && last.kmh === next;
  const grown = [...(steady ? points.slice(0, -1) : points), { at_s, kmh: next }];
  const recent = grown.findIndex((point) => point.at_s > at_s - REMEMBERED_S);
  return grown.slice(Math.max(recent - 1, 0)).slice(-MOST_POINTS);
}
