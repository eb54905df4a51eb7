import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { StageName } from "../../api/client";
import { useJobs, useStartSheet } from "../../jobs/useSheet";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";

const Go = chakra(Link);

/** The job sheets of a stage: those that are open, and those that can be started from here. */
export function StageSheets({ stage, installationId }: { stage: StageName; installationId: number }) {
  const jobs = useJobs(installationId).data;
  const start = useStartSheet(installationId);
  const offers = jobs?.offers.filter((offer) => offer.stage === stage) ?? [];
  const open =
    jobs?.sheets.filter((sheet) => !sheet.signed_at && offers.some((o) => o.template === sheet.template)) ?? [];
  if (offers.length === 0) return null;
  return (
    <Box data-testid="stage-sheets">
      <Text fontSize="sm" color="fg.muted">
        {t("Job sheets")}
      </Text>
      <Flex gap={2} wrap="wrap" align="center" mt={1}>
        {open.map((sheet) => (
          <Go key={sheet.id} to={`/sheet/${sheet.id}`} textDecoration="underline" color="signal.fg" py={2}>
            {t("Continue: {0}, {1} of {2} steps", sheet.title, sheet.settled, sheet.steps)}
          </Go>
        ))}
        {offers
          .filter((offer) => !open.some((sheet) => sheet.template === offer.template))
          .map((offer) => (
            <Small
              key={offer.template}
              colorPalette={offer.fits ? "signal" : undefined}
              onClick={() => start.mutate(offer.template)}
              disabled={start.isPending}
            >
              {offer.title}
            </Small>
          ))}
      </Flex>
    </Box>
  );
}
