import { Box, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { Link, useNavigate } from "react-router";
import { fixed, when } from "../ui/format";
import { Pending } from "../ui/Pending";
import { t } from "../ui/words";
import { BeingRead, SendButton, useSending } from "./Chooser";
import { useRecordings } from "./queries";

const Go = chakra(Link);

/** The recordings of a vehicle, and the way to bring one in. */
export function VehicleRecordings({ vehicle }: { vehicle: number }) {
  const asked = useRecordings(vehicle);
  const recordings = asked.data ?? [];
  const navigate = useNavigate();
  const sending = useSending(vehicle, (recording) => navigate(`/recording/${recording.id}`));
  return (
    <Box bg="bg.panel" px={4} py={3} borderRadius="md" data-testid="recordings">
      <Heading as="h2" size="md" mb={2}>
        {t("Recordings")}
      </Heading>
      <SendButton sending={sending} label={t("Add a recording")}>
        <Text fontSize="sm" color="fg.muted">
          <Go
            to={`/vehicle/${vehicle}/record`}
            textDecoration="underline"
            color="signal.fg"
            py={2}
            mr={3}
            display="inline-block"
          >
            {t("Record with the phone")}
          </Go>
          {t("A drive, a boat run or captured pulses: CSV, GPX, NMEA, FIT, CAN log with its DBC, VCD or WAV.")}
        </Text>
      </SendButton>
      <Stack gap={0} mt={2}>
        {!asked.data && <Pending asked={asked} text={t("Opening …")} />}
        {recordings.map((item) => (
          <Flex key={item.id} gap={3} py={2} borderTopWidth="1px" wrap="wrap" align="baseline">
            <Go to={`/recording/${item.id}`} textDecoration="underline" minW="180px" py={1} wordBreak="break-word">
              {item.name}
            </Go>
            <Text fontSize="sm" color={item.state === "failed" ? "bad.fg" : "fg.muted"}>
              {item.state === "failed" ? `✕ ${item.problem?.message ?? ""}` : facts(item)}
            </Text>
            <BeingRead recording={item} />
          </Flex>
        ))}
      </Stack>
    </Box>
  );
}

function facts(item: ReturnType<typeof useRecordings>["data"] extends (infer One)[] | undefined ? One : never) {
  const names = item.channels.filter(({ quantity }) => quantity === "speed" || quantity === "pulses");
  return [
    when(item.begins_at ?? item.created_at),
    item.seconds > 0 && t("{0} s", fixed(item.seconds, 0)),
    names.map(({ name }) => name).join(", "),
    item.state === "sending" && t("not sent in full"),
  ]
    .filter(Boolean)
    .join("; ");
}
