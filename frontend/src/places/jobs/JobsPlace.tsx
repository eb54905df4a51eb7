import { Box, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useInstallation } from "../../api/hooks";
import { fetchTag, useJobs, useStartSheet } from "../../jobs/useSheet";
import { Download } from "../../ui/Download";
import { Frame } from "../../ui/Frame";
import { when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { listed, t } from "../../ui/words";

const Go = chakra(Link);
const TAGS = [
  ["sensor", t("Tag for the sensor")],
  ["loom", t("Tag for the loom")],
  ["dash", t("Tag for the dash")],
] as const;

/** The jobs of an installation: those that can be begun, and the sheets of those that were. */
export default function JobsPlace() {
  const id = Number(useParams().id);
  const jobs = useJobs(id);
  const installation = useInstallation(id).data;
  const start = useStartSheet(id);
  const name = installation && `${installation.vehicle_name} / ${installation.head.document.name}`;
  return (
    <Frame title={t("Job sheets")}>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" pt={3}>
          {t("Job sheets")}
        </Heading>
        {name && (
          <Go to={`/installation/${id}`} textDecoration="underline" color="signal.fg" py={1} display="inline-block">
            {name}
          </Go>
        )}
        {!jobs.data && <Pending asked={jobs} text={t("Opening …")} />}
        <Stack gap={2} mt={3} data-testid="sheets">
          {jobs.data?.sheets.map((sheet) => (
            <Flex key={sheet.id} bg="bg.panel" borderRadius="md" px={4} py={2} gap={3} align="center" wrap="wrap">
              <Box flex="1" minW="200px">
                <Go
                  to={`/sheet/${sheet.id}`}
                  fontWeight="600"
                  textDecoration="underline"
                  color="signal.fg"
                  display="inline-block"
                  py={2}
                >
                  {sheet.title}
                </Go>
                <Text fontSize="sm" color="fg.muted">
                  {listed(
                    sheet.signed_at
                      ? t("Signed {0} by {1}", when(sheet.signed_at), sheet.signed_by)
                      : t("Started {0}, {1} of {2} steps", when(sheet.created_at), sheet.settled, sheet.steps),
                    sheet.stopped && t("stopped"),
                  )}
                </Text>
              </Box>
              <Text>{sheet.signed_at ? "✓" : sheet.stopped ? "✕" : "…"}</Text>
            </Flex>
          ))}
        </Stack>
        {jobs.data && (
          <>
            <Offers
              title={t("Fits now")}
              offers={jobs.data.offers.filter((offer) => offer.fits)}
              start={start.mutate}
              busy={start.isPending}
            />
            <Offers
              title={t("Start a sheet")}
              offers={jobs.data.offers.filter((offer) => !offer.fits)}
              start={start.mutate}
              busy={start.isPending}
            />
          </>
        )}
        <Go to="/jobs" textDecoration="underline" color="signal.fg" display="inline-block" py={2}>
          {t("The workshop's own jobs: write one, or copy a built-in one and change it")}
        </Go>
        <Heading as="h2" size="md" mt={5} mb={2}>
          {t("Tags")}
        </Heading>
        <Text fontSize="sm" color="fg.muted" mb={2}>
          {t("Labels with setting, count and gap; their code opens this installation on a phone of the network.")}
        </Text>
        <Flex gap={2} wrap="wrap">
          {TAGS.map(([place, title]) => (
            <Download key={place} load={() => fetchTag(id, place)} name={`tag-${place}.pdf`}>
              {title}
            </Download>
          ))}
        </Flex>
      </Box>
    </Frame>
  );
}

type OffersProps = {
  title: string;
  offers: Schemas["Offer"][];
  start: (template: string) => void;
  busy: boolean;
};

/** Jobs that can be started. */
function Offers({ title, offers, start, busy }: OffersProps) {
  if (offers.length === 0) return null;
  return (
    <>
      <Heading as="h2" size="md" mt={5} mb={2}>
        {title}
      </Heading>
      <Flex gap={2} wrap="wrap">
        {offers.map((offer) => (
          <Small
            key={offer.template}
            colorPalette={offer.fits ? "signal" : undefined}
            variant={offer.fits ? "solid" : "outline"}
            onClick={() => start(offer.template)}
            disabled={busy}
          >
            {offer.title}
          </Small>
        ))}
      </Flex>
    </>
  );
}
