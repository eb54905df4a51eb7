import { type ComponentType, memo } from "react";
import type { StageName } from "../../api/client";
import { type Lazily, lazily } from "../../ui/lazily";

export type StageProps = { readout: number; choose: (place: number) => void };
type Part = "Inputs" | "Result";
type Parts = Record<Part, Lazily<StageProps>>;
type Module = Record<Part, ComponentType<StageProps>>;

const parts = (load: () => Promise<Module>): Parts => {
  const part = (name: Part) =>
    lazily(async () => ({ default: memo((await load())[name]) as ComponentType<StageProps> }));
  return { Inputs: part("Inputs"), Result: part("Result") };
};

/** The six stages, each loaded when it is first seen, or when nothing else is to do. */
export const STAGE_PARTS: Record<StageName, Parts> = {
  wheel: parts(() => import("./wheel/WheelStage")),
  drive: parts(() => import("./drive/DriveStage")),
  target: parts(() => import("./target/TargetStage")),
  sensor: parts(() => import("./sensor/SensorStage")),
  signal: parts(() => import("./signal/SignalStage")),
  readout: parts(() => import("./readout/ReadoutStage")),
};

/** Both parts of a stage; of the wheel, where none is named. */
export function loadStage(name: string | undefined) {
  const { Inputs, Result } = STAGE_PARTS[name as StageName] ?? STAGE_PARTS.wheel;
  return Promise.all([Inputs.load(), Result.load()]);
}
