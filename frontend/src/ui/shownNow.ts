import type { Schemas } from "../api/client";
import { useUnits } from "./units";
import { t } from "./words";

export type ShownNow = Schemas["ShownNow"];

/** What a display really shows where something is blocked or failed, with its unit where it is a figure. */
export function useShownNow() {
  const { show } = useUnits();
  return ({ kind, low_kmh, high_kmh }: ShownNow): [shown: string, unit: string] => {
    const whole = (kmh: number) => show(kmh, "km/h", 1)[0];
    const unit = show(1, "km/h")[1];
    if (kind === "nothing") return [t("nothing"), ""];
    if (kind === "unknown") return [t("not known"), ""];
    if (kind === "unsteady") return [t("{0} to {1}", whole(low_kmh), whole(high_kmh)), unit];
    return [show((low_kmh + high_kmh) / 2, "km/h", 0.05)[0], unit];
  };
}

export const isOtherwise = (now?: ShownNow): now is ShownNow => now !== undefined && now.kind !== "shows";
