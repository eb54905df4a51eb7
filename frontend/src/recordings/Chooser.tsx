import { Box, chakra, Flex, Progress, Text } from "@chakra-ui/react";
import { progressSlotRecipe } from "@chakra-ui/react/theme";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useRef, useState } from "react";
import { Link } from "react-router";
import { stopWork } from "../api/work";
import { Select } from "../ui/fields";
import { Failing } from "../ui/Pending";
import { Small } from "../ui/Small";
import { t } from "../ui/words";
import { type RecordingOut, recordingKeys, useRecordings } from "./queries";
import { refusalOf, sendRecording } from "./sending";

const Go = chakra(Link);
const ACCEPT =
  ".csv,.txt,.tsv,.gpx,.nmea,.log,.fit,.asc,.trc,.blf,.vcd,.wav,.flac,text/*,application/octet-stream,audio/*";

/** Sends a file that was chosen, and tells how far it is. */
export function useSending(vehicle: number | undefined, done: (recording: RecordingOut) => unknown) {
  const client = useQueryClient();
  const [share, tell] = useState<number | null>(null);
  const [refused, refuse] = useState("");
  const send = async (file: File | undefined) => {
    if (!file || vehicle === undefined) return;
    refuse("");
    tell(0);
    try {
      const recording = await sendRecording(vehicle, file, tell);
      await client.invalidateQueries({ queryKey: recordingKeys.ofVehicle(vehicle) });
      done(recording);
    } catch (error) {
      refuse(refusalOf(error));
    } finally {
      tell(null);
    }
  };
  return { send, share, refused };
}

/** The button that opens a file to be sent, and how far it is. */
export function SendButton({
  sending,
  label,
  children,
}: {
  sending: ReturnType<typeof useSending>;
  label: string;
  children?: ReactNode;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Box>
      <Flex gap={2} align="center" wrap="wrap">
        <Small colorPalette="signal" disabled={sending.share !== null} onClick={() => input.current?.click()}>
          {label}
        </Small>
        <input
          ref={input}
          type="file"
          accept={ACCEPT}
          aria-label={t("File of a recording")}
          style={{ display: "none" }}
          data-testid="recording-file"
          onChange={(event) => {
            sending.send(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        {children}
      </Flex>
      {sending.share !== null && <Share value={sending.share} label={t("Sending the file")} />}
      {sending.refused && (
        <Text role="alert" color="bad.fg" fontWeight="600" mt={1}>
          {sending.refused}
        </Text>
      )}
    </Box>
  );
}

/** How far long work is. */
export function Share({ value, label }: { value: number; label: string }) {
  return (
    <Box my={2}>
      <Text role="status" fontSize="sm">
        {label} …
      </Text>
      <Progress.Root recipe={progressSlotRecipe} value={100 * value} colorPalette="signal" aria-label={label} size="sm">
        <Progress.Track>
          <Progress.Range />
        </Progress.Track>
      </Progress.Root>
    </Box>
  );
}

/** How far a recording is read; the reading can be stopped. */
export function BeingRead({ recording }: { recording: RecordingOut }) {
  const client = useQueryClient();
  const stop = useMutation({
    meta: { what: t("Stopping the reading") },
    mutationFn: (id: number) => stopWork(id),
    onSuccess: () => client.invalidateQueries({ queryKey: ["recordings"] }),
  });
  if (recording.state !== "reading") return null;
  const { reading } = recording;
  return (
    <Flex align="center" gap={3}>
      <Box flex="1" minW="120px">
        <Share value={recording.share} label={t("Reading the recording")} />
      </Box>
      {reading !== null && (
        <Small onClick={() => stop.mutate(reading)} disabled={stop.isPending}>
          {t("Stop")}
        </Small>
      )}
    </Flex>
  );
}

/** One of the vehicle's recordings, or a new file. */
export function Chooser({
  vehicle,
  chosen,
  choose,
  fits,
  what,
}: {
  vehicle: number | undefined;
  chosen: number | null;
  choose: (id: number | null) => unknown;
  /** Which recordings are of use here. */
  fits: (recording: RecordingOut) => boolean;
  what: string;
}) {
  const asked = useRecordings(vehicle);
  const recordings = asked.data ?? [];
  const offered = recordings.filter((item) => item.id === chosen || item.state !== "ready" || fits(item));
  const sending = useSending(vehicle, (recording) => choose(recording.id));
  return (
    <SendButton sending={sending} label={t("Choose a file")}>
      <Failing asked={asked} />
      {offered.length > 0 && (
        <Box minW={{ base: "100%", md: "260px" }}>
          <Select
            name={t("Recording")}
            value={chosen === null ? "" : String(chosen)}
            change={(id) => choose(id === "" ? null : Number(id))}
            options={[
              { code: "", label: t("or one of the vehicle's recordings …") },
              ...offered.map((item) => ({ code: String(item.id), label: item.name })),
            ]}
            testId="recording-choice"
          />
        </Box>
      )}
      {chosen !== null && (
        <Go to={`/recording/${chosen}`} textDecoration="underline" color="signal.fg" py={2}>
          {t("Look at the recording")}
        </Go>
      )}
      {chosen === null && (
        <Text fontSize="sm" color="fg.muted" flexBasis="100%">
          {what}
        </Text>
      )}
    </SendButton>
  );
}
