import type { RecordingOut } from "../../recordings/queries";
import { t } from "../../ui/words";

type Channel = RecordingOut["channels"][number];
const TOGETHER = ["speed", "frequency", "pulses", "altitude", "course", "accuracy", "distance"] as const;

/** Channels that are drawn together: those of one quantity; any other channel by itself. */
export function groupsOf(channels: readonly Channel[]) {
  const titles: Record<(typeof TOGETHER)[number], string> = {
    speed: t("Speed"),
    frequency: t("Frequency"),
    pulses: t("Pulses a second"),
    altitude: t("Altitude"),
    course: t("Course"),
    accuracy: t("Accuracy of the fix"),
    distance: t("Distance"),
  };
  const together = TOGETHER.map((quantity) => ({
    code: quantity as string,
    title: titles[quantity],
    channels: channels.filter((channel) => channel.quantity === quantity),
  })).filter((group) => group.channels.length > 0);
  const others = channels
    .filter((channel) => channel.quantity === "other")
    .map((channel) => ({ code: `other ${channel.name}`, title: channel.name, channels: [channel] }));
  return [...together, ...others];
}

/** The value at a place on a line through points; `xs` does not fall. */
export function between(xs: readonly number[], ys: readonly number[], at: number): number {
  const last = xs.length - 1;
  if (last < 0) return at;
  let low = 0;
  let high = last;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((xs[middle] ?? 0) < at) low = middle + 1;
    else high = middle;
  }
  const [x1, y1] = [xs[low] ?? 0, ys[low] ?? 0];
  if (low === 0 || at >= x1) return y1;
  const [x0, y0] = [xs[low - 1] ?? 0, ys[low - 1] ?? 0];
  return x1 === x0 ? y1 : y0 + ((at - x0) / (x1 - x0)) * (y1 - y0);
}
