import { Box, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "react-router";
import { api, data } from "../../api/client";
import { useVehicleNames } from "../../api/hooks";
import { Answers } from "../../recordings/answers/Answers";
import { BeingRead } from "../../recordings/Chooser";
import { HowRead } from "../../recordings/HowRead";
import { type Reading, type RecordingOut, useExport, useRecording } from "../../recordings/queries";
import { Frame } from "../../ui/Frame";
import { fixed, when } from "../../ui/format";
import { Guarded } from "../../ui/Guarded";
import { Message } from "../../ui/Message";
import { Small } from "../../ui/Small";
import { UnitsOfVehicle } from "../../ui/units";
import { t } from "../../ui/words";
import { Look } from "./Look";

const Go = chakra(Link);
const FORMATS: Record<NonNullable<RecordingOut["format"]>, string> = {
  table: t("table (CSV)"),
  pulses: t("times of pulses (CSV)"),
  gpx: "GPX",
  nmea: "NMEA 0183",
  fit: "FIT",
  candump: t("CAN log (candump)"),
  asc: t("CAN log (ASC)"),
  trc: t("CAN log (TRC)"),
  blf: t("CAN log (BLF)"),
  can_csv: t("CAN log (table)"),
  vcd: t("captured pulses (VCD)"),
  wav: t("sound"),
};

/** A recording: its channels over time, where it was driven, how it was read, and its files. */
export default function RecordingPlace() {
  const id = Number(useParams().id);
  const reading = useRecording(id);
  if (!reading.data)
    return (
      <Frame>
        <Message
          text={reading.error ? reading.error.message : t("Opening the recording …")}
          back={Boolean(reading.error)}
        />
      </Frame>
    );
  return <Opened reading={reading.data} />;
}

function Opened({ reading }: { reading: Reading }) {
  const { recording } = reading;
  const vehicle = useVehicleNames().data?.find((item) => item.id === recording.vehicle);
  return (
    <UnitsOfVehicle vehicle={recording.vehicle} afloat={vehicle?.kind === "boat"}>
      <Frame title={recording.name}>
        <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="1280px" mx="auto">
          <Flex align="baseline" gap={3} py={2} wrap="wrap">
            <Heading as="h1" size="xl" wordBreak="break-word">
              {recording.name}
            </Heading>
            {vehicle && (
              <Go
                to={`/vehicle/${vehicle.id}`}
                textDecoration="underline"
                color="signal.fg"
                py={1}
                display="inline-block"
              >
                {vehicle.name}
              </Go>
            )}
            <Text color="fg.muted">
              {[
                recording.format && FORMATS[recording.format],
                recording.begins_at && when(recording.begins_at),
                recording.seconds > 0 && t("{0} s", fixed(recording.seconds, 0)),
                t("added {0} by {1}", when(recording.created_at), recording.created_by_role),
              ]
                .filter(Boolean)
                .join(", ")}
            </Text>
          </Flex>
          <BeingRead recording={recording} />
          {recording.state === "sending" && (
            <Message text={t("The file is not complete. Send it again on the vehicle's page.")} />
          )}
          {recording.bad_lines > 0 && (
            <Text color="signal.fg" data-testid="bad-lines">
              {t(
                "! {0} of {1} lines cannot be read in full ({2}).",
                recording.bad_lines,
                recording.lines,
                recording.examples.join(", "),
              )}
            </Text>
          )}
          <HowRead reading={reading} open={recording.channels.some((channel) => channel.role && channel.guessed)} />
          {recording.channels.length > 0 && (
            <Guarded part={t("The plot")} again={recording}>
              <Look recording={recording} />
            </Guarded>
          )}
          {recording.channels.length > 0 && <Answers recording={recording} />}
          <Files recording={recording} />
        </Box>
      </Frame>
    </UnitsOfVehicle>
  );
}

/** Original file, and what was read of it. */
function Files({ recording }: { recording: RecordingOut }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const remove = useMutation({
    meta: { what: t("Deleting the recording") },
    mutationFn: () =>
      data(api.DELETE("/api/recordings/{recording_id}", { params: { path: { recording_id: recording.id } } })),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["recordings"] });
      navigate(`/vehicle/${recording.vehicle}`);
    },
  });
  const out = useExport(recording.id);
  const make = (kind: "csv" | "parquet" | "gpx", label: string) => (
    <Small onClick={() => out.mutate({ kind, shown: "", ratio: 1 })} disabled={out.isPending}>
      {out.isPending && out.variables.kind === kind ? t("Making the file …") : label}
    </Small>
  );
  return (
    <Stack gap={2} mt={4}>
      <Heading as="h2" size="md">
        {t("Files")}
      </Heading>
      <Flex gap={2} wrap="wrap">
        {recording.state !== "sending" && (
          <Small asChild>
            <a href={`/api/recordings/${recording.id}/original`}>{t("Original file")}</a>
          </Small>
        )}
        {recording.channels.length > 0 && (
          <>
            {make("csv", t("All channels as CSV"))}
            {make("parquet", t("All channels as Parquet"))}
            {recording.channels.some((channel) => channel.quantity === "latitude") &&
              make("gpx", t("The track as GPX"))}
          </>
        )}
        <Small ml="auto" color="bad.fg" onClick={() => remove.mutate()} disabled={remove.isPending}>
          {t("Move to the bin")}
        </Small>
      </Flex>
    </Stack>
  );
}
