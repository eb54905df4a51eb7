import { Box, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { BenchScope, type Cursors } from "../../drawings/BenchScope";
import { useDialog } from "../../ui/address";
import { fixed } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Sheet } from "../../ui/Sheet";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { type Fault, useOnBench } from "./queries";

const LEAST_PCT = 0.5;

/** The causes, the likeliest first, each with what speaks for it and against it. */
export function Causes({ fault }: { fault: Fault }) {
  const [dialog, open] = useDialog();
  const { view } = fault;
  const shown = view.causes.find((cause) => dialog === `bench-${cause.code}`);
  return (
    <Box as="section" aria-label={t("Causes")} data-testid="causes">
      <Heading as="h2" size="lg" mb={2}>
        {t("Causes")}
      </Heading>
      <Stack as="ol" gap={2} listStyleType="none">
        {view.causes
          .filter((cause, place) => place === 0 || cause.chance_pct >= LEAST_PCT)
          .map((cause) => (
            <Box as="li" key={cause.code} bg="bg.panel" borderRadius="md" px={4} py={2} data-cause={cause.code}>
              <Flex justify="space-between" gap={3} align="baseline">
                <Text fontWeight="600">{cause.text}</Text>
                <Text fontWeight="700" whiteSpace="nowrap">
                  {t("{0} %", fixed(cause.chance_pct, 0))}
                </Text>
              </Flex>
              <Box bg="bg.emphasized" h="6px" borderRadius="full" mt={1} aria-hidden>
                <Box bg="signal.fg" h="6px" borderRadius="full" style={{ width: `${cause.chance_pct}%` }} />
              </Box>
              {cause.because.length > 0 && (
                <Text fontSize="sm" mt={1}>
                  {t("Because: {0}", cause.because.join("; "))}
                </Text>
              )}
              {cause.against.length > 0 && (
                <Text fontSize="sm" color="fg.muted">
                  {t("Against it: {0}", cause.against.join("; "))}
                </Text>
              )}
              <Flex gap={2} mt={1} align="center" wrap="wrap">
                <Text fontSize="sm" color="fg.muted" flex="1" minW="160px">
                  {cause.fix}
                </Text>
                <Small
                  variant="ghost"
                  aria-label={t("Show on the bench: {0}", cause.text)}
                  onClick={() => open(`bench-${cause.code}`)}
                >
                  {t("Show on the bench")}
                </Small>
              </Flex>
            </Box>
          ))}
        <Text as="li" fontSize="sm" color="fg.muted">
          {t("Something else: {0} %", fixed(view.other_pct, 0))}
        </Text>
      </Stack>
      <Sheet open={shown !== undefined} close={() => open(null)} title={shown?.text ?? ""} size="xl">
        {shown && <OnBench fault={fault.id} cause={shown.code} />}
      </Sheet>
    </Box>
  );
}

/** What scope and display would show with a cause. */
function OnBench({ fault, cause }: { fault: number; cause: string }) {
  const [cursors, move] = useState<Cursors>([30, 50]);
  const bench = useOnBench(fault, cause);
  if (!bench.data) return <Pending asked={bench} text={t("Simulating …")} />;
  return (
    <Box data-testid="on-bench">
      <Text fontWeight="600" mb={2}>
        {bench.data.text}
      </Text>
      <BenchScope scope={bench.data.frame.scope} cursors={cursors} move={move} text={bench.data.text} />
    </Box>
  );
}
