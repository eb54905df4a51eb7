import type { RecordingOut } from "../../recordings/queries";
import { t } from "../../ui/words";

type Channel = RecordingOut["channels"][number];
const TOGETHER = [
  "speed",
  "frequency",
  "engine",
  "pulses",
  "altitude",
  "course",
  "heading",
  "accuracy",
  "distance",
] as const;

/** So many lines in one strip are easily distinguished. */
const MOST_LINES = 3;
export type Group = { code: string; title: string; channels: Channel[] };

/** Channels that are drawn together: those of one quantity, three at most; any other channel by itself. */
export function groupsOf(channels: readonly Channel[]): Group[] {
  const titles: Record<(typeof TOGETHER)[number], string> = {
    speed: t("Speed"),
    frequency: t("Frequency"),
    engine: t("Engine speed"),
    pulses: t("Pulses a second"),
    altitude: t("Altitude"),
    course: t("Course"),
    heading: t("Heading"),
    accuracy: t("Accuracy of the fix"),
    distance: t("Distance"),
  };
  const together = TOGETHER.flatMap((quantity) => {
    const mine = channels.filter((channel) => channel.quantity === quantity);
    return mine
      .filter((_, place) => place % MOST_LINES === 0)
      .map((_, part) => ({
        code: part === 0 ? quantity : `${quantity} ${part + 1}`,
        title: part === 0 ? titles[quantity] : t("{0} ({1})", titles[quantity], part + 1),
        channels: mine.slice(part * MOST_LINES, (part + 1) * MOST_LINES),
      }));
  });
  const others = channels
    .filter((channel) => channel.quantity === "other")
    .map((channel) => ({ code: `other ${channel.name}`, title: channel.name, channels: [channel] }));
  return [...together, ...others];
}
