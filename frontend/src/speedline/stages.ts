import type { StageName } from "../api/client";
import { t } from "../ui/words";

export const STAGES: StageName[] = ["wheel", "drive", "target", "sensor", "signal", "readout"];
export const STAGE_LABELS: Record<StageName, string> = {
  wheel: t("Wheel"),
  drive: t("Drive"),
  target: t("Target"),
  sensor: t("Sensor"),
  signal: t("Signal"),
  readout: t("Readout"),
};
/** A stage's name; on the water the wheel is a paddle. */
export const stageLabel = (name: StageName, onWater: boolean) =>
  name === "wheel" && onWater ? t("Paddle") : STAGE_LABELS[name];
