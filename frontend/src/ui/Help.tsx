import { Box, Grid, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import { EvidenceStroke } from "../speedline/EvidenceStroke";
import { KEYS } from "./keys";
import { Sheet } from "./Sheet";

/** Keys, and how to read the line. */
export function Help({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Sheet open={open} close={close} title="Keys, and how to read the line">
      <Grid templateColumns="auto 1fr" columnGap={5} rowGap={1.5}>
        {KEYS.map(([key, what]) => (
          <Fragment key={key}>
            <Text fontFamily="mono" color="signal.fg">
              {key}
            </Text>
            <Text>{what}</Text>
          </Fragment>
        ))}
      </Grid>
      <Box mt={4} bg="road" color="chalk" p={3} borderRadius="md">
        {(["assumed", "measured", "proven"] as const).map((evidence) => (
          <Box key={evidence} display="flex" alignItems="center" gap={3} py={1}>
            <Box w="90px">
              <EvidenceStroke evidence={evidence} />
            </Box>
            <Text>
              {evidence}:{" "}
              {
                {
                  assumed: "a label, a formula, a default",
                  measured: "taped, rolled, counted",
                  proven: "agreed in a test",
                }[evidence]
              }
            </Text>
          </Box>
        ))}
      </Box>
    </Sheet>
  );
}
