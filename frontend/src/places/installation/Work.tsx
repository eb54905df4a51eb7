import { Box, Grid, Stack } from "@chakra-ui/react";
import { type ComponentType, memo, type ReactNode } from "react";
import type { Evaluation, StageName } from "../../api/client";
import { stageLabel } from "../../speedline/SpeedLine";
import { Guarded } from "../../ui/Guarded";
import { lazily } from "../../ui/lazily";
import { t } from "../../ui/words";
import { type InstallationEditing, useOf } from "./context";
import { Contributions, Why } from "./Reasons";
import { Findings } from "./stages";

/** The six stages, each loaded when it is first seen, or when nothing else is to do. */
export const LOAD: Record<StageName, () => Promise<Record<Part, ComponentType<StageProps>>>> = {
  wheel: () => import("./wheel/WheelStage"),
  drive: () => import("./drive/DriveStage"),
  target: () => import("./target/TargetStage"),
  sensor: () => import("./sensor/SensorStage"),
  signal: () => import("./signal/SignalStage"),
  readout: () => import("./readout/ReadoutStage"),
};

type StageProps = { readout: number; choose: (place: number) => void };
type Part = "Inputs" | "Result";
const seen = (name: StageName, part: Part) =>
  lazily(() => LOAD[name]().then((stage) => ({ default: memo(stage[part]) })));
const partsOf = (part: Part): Record<StageName, ComponentType<StageProps>> => ({
  wheel: seen("wheel", part),
  drive: seen("drive", part),
  target: seen("target", part),
  sensor: seen("sensor", part),
  signal: seen("signal", part),
  readout: seen("readout", part),
});
const INPUTS = partsOf("Inputs");
const RESULTS = partsOf("Result");

/** A part that fails alone, and is tried again with the next thing that is typed. */
function Tried({ part, children }: { part: string; children: ReactNode }) {
  return (
    <Guarded part={part} again={useOf(documentOf)}>
      {children}
    </Guarded>
  );
}
const documentOf = ({ document }: InstallationEditing) => document;

type WorkProps = {
  stage: StageName;
  onWater: boolean;
  result: Evaluation;
  readout: number;
  chooseReadout: (place: number) => void;
  choose: (stage: StageName) => void;
  why: boolean;
  toggleWhy: () => void;
  installationId: number;
  vehicleId: number;
};

/** One stage: what is known, what follows, and why. */
export const Work = memo(function Work(props: WorkProps) {
  const { stage, onWater, result, readout, chooseReadout, choose, why, toggleWhy } = props;
  const { installationId, vehicleId } = props;
  const [Inputs, Result] = [INPUTS[stage], RESULTS[stage]];
  return (
    <Grid
      templateColumns={{ base: "1fr", md: "minmax(320px, 400px) minmax(0, 1fr)" }}
      gap={4}
      px={{ base: 3, md: 4 }}
      py={2}
      flex="1"
    >
      <Box
        as="section"
        aria-label={t("{0}: what is known", stageLabel(stage, onWater))}
        bg="bg.panel"
        p={4}
        borderRadius="md"
        order={{ base: stage === "readout" ? 2 : 0, md: 0 }}
      >
        <Tried part={t("This form")}>
          <Inputs readout={readout} choose={chooseReadout} />
        </Tried>
      </Box>
      <Stack
        as="section"
        aria-label={t("{0}: what follows", stageLabel(stage, onWater))}
        gap={3}
        bg="bg.panel"
        p={4}
        borderRadius="md"
        minW={0}
      >
        <Tried part={t("This view")}>
          <Result readout={readout} choose={chooseReadout} />
        </Tried>
        <Tried part={t("This explanation")}>
          <Findings stage={stage} findings={result.findings} installationId={installationId} vehicleId={vehicleId} />
          <Grid templateColumns={{ base: "1fr", xl: why ? "1fr 1fr" : "1fr" }} gap={3}>
            <Why found={result.stages.find((item) => item.stage === stage)} open={why} toggle={toggleWhy} />
            <Contributions
              contributions={result.contributions}
              expanded_pct={result.shown.expanded_uncertainty_pct}
              onWater={onWater}
              go={choose}
            />
          </Grid>
        </Tried>
      </Stack>
    </Grid>
  );
});
