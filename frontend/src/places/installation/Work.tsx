import { Box, Grid, Stack } from "@chakra-ui/react";
import { memo, type ReactNode, useState } from "react";
import type { Evaluation, StageName } from "../../api/client";
import { stageLabel } from "../../speedline/stages";
import { Guarded } from "../../ui/Guarded";
import { t } from "../../ui/words";
import { type InstallationEditing, useOf } from "./context";
import { Contributions, Why } from "./Reasons";
import { StageSheets } from "./StageSheets";
import { STAGE_PARTS } from "./stageParts";
import { Findings } from "./stages";

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

/** Where the drawing gives the answer: at the readout, and at a sensor that is placed. */
const answers = (stage: StageName, result: Evaluation) =>
  stage === "readout" || (stage === "sensor" && result.placement_detail.possible);

/** Whether a phone shows the drawing before the entries: settled when a stage is opened, so that nothing moves while typing. */
function useDrawingFirst(stage: StageName, result: Evaluation) {
  const [settled, settle] = useState({ stage, first: answers(stage, result) });
  if (settled.stage === stage) return settled.first;
  const opened = { stage, first: answers(stage, result) };
  settle(opened);
  return opened.first;
}

/** One stage: its entries, what follows from them, and why. */
export const Work = memo(function Work(props: WorkProps) {
  const { stage, onWater, result, readout, chooseReadout, choose, why, toggleWhy } = props;
  const { installationId, vehicleId } = props;
  const { Inputs, Result } = STAGE_PARTS[stage];
  const drawingFirst = useDrawingFirst(stage, result);
  const panel = { as: "section", bg: "bg.panel", p: 4, borderRadius: "md", minW: 0 } as const;
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr)", md: "minmax(320px, 400px) minmax(0, 1fr)" }}
      templateRows={{ md: "auto 1fr" }}
      templateAreas={{
        base: drawingFirst ? '"results" "entries" "reasons"' : '"entries" "results" "reasons"',
        md: '"entries results" "entries reasons"',
      }}
      columnGap={4}
      rowGap={3}
      px={{ base: 3, md: 4 }}
      py={2}
      flex="1"
    >
      <Box {...panel} gridArea="entries" aria-label={t("{0}: entries", stageLabel(stage, onWater))}>
        <Tried part={t("This form")}>
          <Inputs readout={readout} choose={chooseReadout} />
        </Tried>
      </Box>
      <Box {...panel} gridArea="results" aria-label={t("{0}: results", stageLabel(stage, onWater))}>
        <Tried part={t("This view")}>
          <Result readout={readout} choose={chooseReadout} />
        </Tried>
      </Box>
      <Stack
        {...panel}
        gridArea="reasons"
        gap={3}
        aria-label={t("{0}: findings and formulas", stageLabel(stage, onWater))}
      >
        <Tried part={t("This explanation")}>
          <Findings stage={stage} findings={result.findings} installationId={installationId} vehicleId={vehicleId} />
          <StageSheets stage={stage} installationId={installationId} />
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
