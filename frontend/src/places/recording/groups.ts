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

/** Channels that are drawn together: those of one quantity; any other channel by itself. */
export function groupsOf(channels: readonly Channel[]) {
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
