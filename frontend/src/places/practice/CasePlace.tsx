import { Box, chakra, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { Link, useParams } from "react-router";
import { Ways } from "../../drawings/Ways";
import { Frame } from "../../ui/Frame";
import { fixed } from "../../ui/format";
import { Message } from "../../ui/Message";
import { useUnits } from "../../ui/units";
import { listed, t } from "../../ui/words";
import { Moves } from "./Moves";
import { type Case, useCase } from "./queries";

const Go = chakra(Link);

/** A case of practice: what the customer says, what can be done, what was done. */
export default function CasePlace() {
  const id = Number(useParams().id);
  const found = useCase(id);
  const { show } = useUnits();
  const speed = (kmh: number) => show(kmh, "km/h", 0.5).join(" ");
  if (!found.data)
    return (
      <Frame>
        <Message text={found.error ? found.error.message : t("Opening the case …")} back={Boolean(found.error)} />
      </Frame>
    );
  const { play, outcome, number } = found.data;
  return (
    <Frame title={t("Practice")}>
      <Box px={{ base: 3, md: 4 }} pb={10} w="100%" maxW="1180px" mx="auto">
        <Heading as="h1" size="xl" pt={2}>
          {number ? t("Case {0}", number) : t("Generated case")}
        </Heading>
        <Go to="/practice" textDecoration="underline" color="signal.fg" py={1} display="inline-block">
          {t("All cases")}
        </Go>
        <Text fontSize="lg" borderLeftWidth="4px" borderColor="signal.fg" pl={3} my={2}>
          {play.sentence}
        </Text>
        <Flex gap={4} wrap="wrap" data-testid="figures">
          <Text>{t("Seen: {0}", play.noticed.join(", "))}</Text>
          <Text fontFamily="mono">{t("{0} shown at {1}", speed(play.shown_kmh), speed(play.true_kmh))}</Text>
          <Text fontWeight="700">{t("{0} min so far", fixed(play.minutes, 0))}</Text>
          {play.solved && <Text color="good.fg">{t("✓ The shown speed is right")}</Text>}
        </Flex>
        {outcome && <Ended outcome={outcome} />}
        <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }} gap={5} mt={3}>
          {!outcome && <Moves found={found.data} />}
          <Box>
            {play.done.length > 0 && (
              <Box bg="bg.panel" borderRadius="md" p={3} mb={3} data-testid="ways">
                <Ways own={play.done} expert={outcome?.expert} afloat={play.afloat} />
                <Text fontSize="sm" color="fg.muted">
                  {outcome ? t("Upper bars: your way. Lower bars: an expert's.") : t("Where your minutes went.")}
                </Text>
              </Box>
            )}
            <Made title={outcome ? t("What you did") : t("Done so far")} done={play.done} testId="made" />
          </Box>
          {outcome && <Made title={t("What an expert would have done")} done={outcome.expert} testId="expert" />}
        </Grid>
      </Box>
    </Frame>
  );
}

function Made({ title, done, testId }: { title: string; done: Case["play"]["done"]; testId: string }) {
  return (
    <Box data-testid={testId}>
      <Heading as="h2" size="md" mb={1}>
        {title}
      </Heading>
      {done.length === 0 && <Text color="fg.muted">{t("Nothing yet.")}</Text>}
      <Stack as="ol" gap={1} listStyleType="none">
        {done.map((item, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same move can be made twice
          <Text as="li" key={place}>
            {item.title}
            {item.title.endsWith(".") ? " " : ": "}
            <b>{item.outcome}</b>{" "}
            <Text as="span" color="fg.muted">
              {listed(t("{0} min", fixed(item.minutes, 0)), item.skipped && t("its caution was skipped"))}
            </Text>
          </Text>
        ))}
      </Stack>
    </Box>
  );
}

function Ended({ outcome }: { outcome: NonNullable<Case["outcome"]> }) {
  return (
    <Box bg="bg.panel" borderRadius="md" p={4} mt={3} data-testid="outcome">
      <Heading as="h2" size="lg">
        {outcome.solved ? t("✓ {0} points", outcome.points) : t("✕ 0 points: the shown speed is still wrong")}
      </Heading>
      <Text mt={1}>{t("The cause: {0} The cure: {1}", outcome.cause, outcome.fix)}</Text>
      <Text>
        {t("{0} min; an expert needs {1} min.", fixed(outcome.minutes, 0), fixed(outcome.expert_minutes, 0))}{" "}
        {outcome.skipped > 0 &&
          t("Cautions skipped: {0}, {1} min each.", outcome.skipped, fixed(outcome.caution_minutes, 0))}
      </Text>
    </Box>
  );
}
