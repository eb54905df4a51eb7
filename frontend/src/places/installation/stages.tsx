import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { memo, type ReactNode } from "react";
import { Link } from "react-router";
import type { Evaluation, StageName } from "../../api/client";
import { Exact } from "../../ui/Exact";
import { FindingBox } from "../../ui/FindingBox";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";
import { PutOnList } from "../service/PutOnList";
import { useEvaluated } from "./context";

export function Figures({ stage }: { stage: StageName }) {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const found = evaluated.result.stages.find((item) => item.stage === stage);
  return (
    <Grid templateColumns="repeat(auto-fit, minmax(190px, 1fr))" gap={3}>
      {found?.figures.map((item) => (
        <Box key={item.name}>
          <Text fontSize="sm" color="fg.muted">
            {item.name}
          </Text>
          <Text fontFamily="mono" fontSize="xl">
            <Exact value={item.value} unit={item.unit}>
              {show(item.value, item.unit, item.relative_standard_uncertainty_pct).join(" ")}
            </Exact>
          </Text>
        </Box>
      ))}
    </Grid>
  );
}

/** Findings of one stage, with what to do. */
export const Findings = memo(function Findings({
  stage,
  findings,
  installationId,
  vehicleId,
}: {
  stage: StageName;
  findings: Evaluation["findings"];
  installationId: number;
  vehicleId: number;
}): ReactNode {
  return findings
    .filter((finding) => finding.stage === stage)
    .map((finding) => (
      <FindingBox key={finding.code + finding.message} finding={finding}>
        {finding.severity !== "note" && (
          <Flex gap={2} wrap="wrap" mt={1}>
            {finding.code.startsWith("test.") && (
              <Small asChild>
                <Link to={`/installation/${installationId}/faults`}>{t("Find the cause")}</Link>
              </Small>
            )}
            <PutOnList
              vehicle={vehicleId}
              installation={installationId}
              text={`${finding.message} ${finding.remedy}`}
            />
          </Flex>
        )}
      </FindingBox>
    ));
});
