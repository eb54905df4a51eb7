import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useInstallation } from "../../../api/hooks";
import { RunsTable } from "../../../recordings/answers/RunsTable";
import { BeingRead, Chooser } from "../../../recordings/Chooser";
import { HowRead } from "../../../recordings/HowRead";
import {
  fetchReport,
  type Proof,
  type RecordingOut,
  useExport,
  useProof,
  useRecording,
  type Wanted,
} from "../../../recordings/queries";
import { refusalOf } from "../../../recordings/sending";
import { useAddressed } from "../../../ui/address";
import { Download } from "../../../ui/Download";
import { ChoiceField } from "../../../ui/fields";
import { Small } from "../../../ui/Small";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { Answer } from "./DriveAnswer";
import { type CheckedProps, DrawnDrive, ErrorOf, Parts } from "./DriveParts";

const isDrive = (recording: RecordingOut) => recording.usual != null;

/** Shown against true speed over a recorded drive. */
export function DriveCheck({ chosen: readout }: { chosen: number }) {
  const { installationId, evaluated } = useEditing();
  const vehicle = useInstallation(installationId).data?.vehicle_id;
  const [address, open] = useAddressed("recording");
  const id = address === null ? null : Number(address);
  const onWater = evaluated.document.vehicle_kind === "boat";
  return (
    <Stack gap={3} data-testid="drive-check">
      <Box borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={3} py={1}>
        <Text fontSize="sm">
          {onWater
            ? t("! Keep a lookout: a second person watches the displays. Run both ways, straight, clear of traffic.")
            : t("! The driver operates nothing: a passenger or the logger records. Keep to the traffic law.")}
        </Text>
      </Box>
      <Chooser
        vehicle={vehicle}
        chosen={id}
        choose={(next) => open(next === null ? null : String(next))}
        fits={isDrive}
        what={t(
          "Hold a steady speed for 20 seconds and more, three times or more, straight and level, there and back; record the shown and the true speed.",
        )}
      />
      {id !== null && <Drive key={`${id} ${readout}`} id={id} readout={readout} />}
    </Stack>
  );
}

/** One recording: what it proves, and how it is read. */
function Drive({ id, readout }: { id: number; readout: number }) {
  const { evaluated, installationId } = useEditing();
  const reading = useRecording(id).data;
  const recording = reading?.recording;
  const setting = evaluated.document.readouts[readout]?.current_setting ?? null;
  // what was set when the recording was first looked at is taken for what was driven
  const [held, hold] = useHeld<Partial<Wanted>>(`drive ${id} ${readout}`, { driven_setting: setting });
  const wanted: Wanted | null = recording?.usual
    ? {
        left_out: [],
        used: [],
        by: "",
        driven_setting: setting,
        ...recording.usual,
        ...known(held, recording),
        readout,
      }
    : null;
  const proof = useProof(recording, evaluated.document, wanted, installationId);
  return (
    <>
      {recording && <BeingRead recording={recording} />}
      {reading && recording?.state === "failed" && <HowRead reading={reading} />}
      {recording?.state === "ready" && !wanted && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {t("This recording holds no speed. Choose another one, or say how it is read.")}
        </Text>
      )}
      {proof.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(proof.error)}
        </Text>
      )}
      {recording && wanted && proof.isPending && proof.fetchStatus === "fetching" && (
        <Text role="status">{t("Comparing …")}</Text>
      )}
      {recording && wanted && (
        <Checked
          recording={recording}
          wanted={wanted}
          hold={(some) => hold({ ...held, ...some })}
          proof={proof.error ? null : (proof.data ?? null)}
          readout={readout}
        />
      )}
      {reading && recording?.state === "ready" && <HowRead reading={reading} />}
    </>
  );
}

/** What was decided before, where the recording still has those channels. */
function known(held: Partial<Wanted>, recording: RecordingOut): Partial<Wanted> {
  const names = new Set(recording.channels.map((channel) => channel.name));
  const { true_channel, shown_channel, ...others } = held;
  return {
    ...others,
    ...(true_channel && names.has(true_channel) ? { true_channel } : {}),
    ...(shown_channel && names.has(shown_channel) ? { shown_channel } : {}),
  };
}

function Checked({ recording, wanted, hold, proof, readout }: CheckedProps) {
  const { evaluated, installationId } = useEditing();
  const speeds = recording.channels.filter((channel) => channel.quantity === "speed");
  return (
    <>
      {proof && <Answer proof={proof} readout={readout} recording={recording} wanted={wanted} />}
      {proof && <ErrorOf proof={proof} begins_s={recording.begins_s} readout={readout} />}
      {speeds.length > 1 && (
        <Grid templateColumns="repeat(auto-fit, minmax(160px, 1fr))" gap={3}>
          {(["true_channel", "shown_channel"] as const).map((name) => (
            <ChoiceField
              key={name}
              label={name === "true_channel" ? t("True speed") : t("Shown speed")}
              value={wanted[name]}
              change={(channel) => hold({ [name]: channel })}
              options={speeds.map((speed) => ({ code: speed.name, label: speed.name }))}
              testId={name}
            />
          ))}
        </Grid>
      )}
      {speeds.length > 1 && (proof?.there_and_back || wanted.by) && (
        <ChoiceField
          label={t("Checked by")}
          value={wanted.by ?? ""}
          change={(by) => hold({ by: by as Wanted["by"] })}
          options={[
            {
              code: "",
              label: proof?.runs ? t("as the recording allows: runs there and back") : t("as the recording allows"),
            },
            { code: "whole", label: t("the whole drive") },
            { code: "runs", label: t("runs there and back") },
          ]}
          testId="checked-by-way"
        />
      )}
      <DrawnDrive recording={recording} wanted={wanted} hold={hold} proof={proof} />
      {proof?.runs && <RunsTable runs={proof.runs} begins_s={recording.begins_s} />}
      {proof && <Parts proof={proof} hold={hold} wanted={wanted} />}
      {proof && (
        <Flex gap={2} wrap="wrap">
          <Download load={() => fetchReport(recording.id, evaluated.document, wanted, installationId)} name="drive.pdf">
            {t("Report as PDF")}
          </Download>
          {proof.verdict === "wrong" && <Corrected recording={recording} wanted={wanted} proof={proof} />}
        </Flex>
      )}
    </>
  );
}

/** The drive with the corrected speed beside the shown one. */
function Corrected({ recording, wanted, proof }: { recording: RecordingOut; wanted: Wanted; proof: Proof }) {
  const out = useExport(recording.id);
  const asked = { shown: wanted.shown_channel, ratio: 1 + proof.check.error_pct / 100 };
  return (
    <>
      <Small onClick={() => out.mutate({ kind: "csv", ...asked })} disabled={out.isPending}>
        {t("The drive with the corrected speed, as CSV")}
      </Small>
      {recording.channels.some((channel) => channel.quantity === "latitude") && (
        <Small onClick={() => out.mutate({ kind: "gpx", ...asked })} disabled={out.isPending}>
          {t("Its track with the corrected speed, as GPX")}
        </Small>
      )}
    </>
  );
}
