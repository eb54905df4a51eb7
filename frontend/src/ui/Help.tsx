import { Box, Button, Grid, Heading, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { Fragment } from "react";
import type { Catalogue } from "../api/client";
import { useSession } from "../api/hooks";
import { EvidenceStroke, SAID } from "../speedline/EvidenceStroke";
import { KEYS, switchSingleKeys, useSingleKeys } from "./keys";
import { Sheet } from "./Sheet";
import { t } from "./words";

/** Keys, how to read the line, and the terms. */
export default function Help({ open, close }: { open: boolean; close: () => void }) {
  const single = useSingleKeys();
  // asked for by the pages; before signing in there is none
  const terms = useQueryClient().getQueryData<Catalogue>(["catalogue"])?.glossary;
  const version = useSession().data?.version;
  return (
    <Sheet open={open} close={close} title={t("Keys, reading the line, terms")}>
      {version && (
        <Text color="fg.muted" mb={3} data-testid="version">
          {t("Wheelometron {0}", version)}
        </Text>
      )}
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
      <Button mt={3} size="sm" variant="outline" minH="44px" aria-pressed={single} onClick={switchSingleKeys}>
        {t("Keys without Ctrl: {0}", single ? t("on, switch off") : t("off, switch on"))}
      </Button>
      <Box mt={4} bg="road" color="chalk" p={3} borderRadius="md">
        {(["assumed", "measured", "verified", "failed"] as const).map((evidence) => (
          <Box key={evidence} display="flex" alignItems="center" gap={3} py={1}>
            <Box w="90px">
              <EvidenceStroke evidence={evidence} />
            </Box>
            <Text>
              {SAID[evidence]}:{" "}
              {
                {
                  assumed: t("a label, a formula, a default"),
                  measured: t("taped, rolled, counted"),
                  verified: t("agreed in a test"),
                  failed: t("a test failed and has not passed since"),
                }[evidence]
              }
            </Text>
          </Box>
        ))}
      </Box>
      {terms && (
        <Box mt={4} data-testid="glossary">
          <Heading as="h3" size="md" mb={2}>
            {t("Terms")}
          </Heading>
          {terms.map(({ term, meaning, unit }) => (
            <Text key={term} mb={1.5}>
              <b>{term}</b>
              {unit && ` (${unit})`}: {meaning}
            </Text>
          ))}
        </Box>
      )}
    </Sheet>
  );
}
