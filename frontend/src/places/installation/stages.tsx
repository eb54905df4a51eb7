import { Box, Grid, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { StageName } from "../../api/client";
import { Exact } from "../../ui/Exact";
import { FindingBox } from "../../ui/FindingBox";
import { useUnits } from "../../ui/units";
import { useEditing } from "./context";

export function Figures({ stage }: { stage: StageName }) {
  const { evaluated } = useEditing();
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
export function Findings({ stage }: { stage: StageName }): ReactNode {
  const { evaluated } = useEditing();
  return evaluated.result.findings
    .filter((finding) => finding.stage === stage)
    .map((finding) => <FindingBox key={finding.code + finding.message} finding={finding} />);
}
