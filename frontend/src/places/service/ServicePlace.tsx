import { Box, chakra, Flex, Heading, Stack } from "@chakra-ui/react";
import { Link, useParams } from "react-router";
import { useVehicleNames } from "../../api/hooks";
import { Download } from "../../ui/Download";
import { Frame } from "../../ui/Frame";
import { t } from "../../ui/words";
import { DueList } from "./DueList";
import { Feed } from "./Feed";
import { Parts } from "./Parts";
import { fetchTrailerCard } from "./queries";
import { Timeline } from "./Timeline";

const Go = chakra(Link);

/** A vehicle's service: what is due, and all that happened to it. */
export default function ServicePlace() {
  const id = Number(useParams().id);
  const vehicle = useVehicleNames().data?.find((item) => item.id === id);
  return (
    <Frame title={t("Service and timeline")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="1280px" mx="auto">
        <Flex align="baseline" gap={3} pt={3} wrap="wrap">
          <Heading as="h1" size="2xl">
            {t("Service and timeline")}
          </Heading>
          {vehicle && (
            <Go to={`/vehicle/${id}`} textDecoration="underline" color="signal.fg" py={1}>
              {vehicle.name}
            </Go>
          )}
        </Flex>
        <Flex gap={2} wrap="wrap" mt={2}>
          <Download load={() => fetchTrailerCard(id)} name="trailer-card.pdf">
            {t("Trailer card: every wheel with every reader, as PDF")}
          </Download>
        </Flex>
        <Stack gap={6} mt={3}>
          <DueList vehicle={id} />
          <Parts vehicle={id} />
          <Timeline vehicle={id} />
          <Feed />
        </Stack>
      </Box>
    </Frame>
  );
}
