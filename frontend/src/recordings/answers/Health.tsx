import { Box, Stack, Text } from "@chakra-ui/react";
import { api } from "../../api/client";
import { STAGE_LABELS } from "../../speedline/stages";
import { ChoiceField } from "../../ui/fields";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { Events } from "./Events";
import { State, speedOptions, ToInstallations, useAnswer } from "./shared";

/** Dropouts, doubles and spikes of one of its speeds. */
export function Health({ recording }: { recording: RecordingOut }) {
  const { show } = useUnits();
  const speeds = recording.channels.filter((channel) => channel.quantity === "speed");
  const first = recording.usual?.shown_channel ?? speeds[0]?.name ?? "";
  const [channel, hold] = useHeld(`health ${recording.id}`, first);
  const answer = useAnswer(recording, "health", channel, (id) =>
    api.POST("/api/recordings/{recording_id}/health", {
      params: { path: { recording_id: id } },
      body: { channel, reference: recording.usual?.true_channel ?? "" },
    }),
  );
  const found = answer.error ? undefined : answer.data;
  const kinds: Record<string, string> = {
    dropout: t("dropout"),
    half: t("half speed"),
    double: t("double speed"),
    spike: t("spike"),
    stuck: t("stuck"),
    low: t("nothing at low speed"),
    high: t("late at high speed"),
    ripple: t("ripple"),
    gap: t("nothing recorded"),
  };
  return (
    <Stack gap={2} mt={2}>
      {speeds.length > 1 && (
        <ChoiceField
          label={t("Speed")}
          value={channel}
          change={hold}
          options={speedOptions(recording)}
          testId="health-channel"
        />
      )}
      <State answer={answer} />
      {found && (
        <>
          <Text fontSize="lg" fontWeight="700" data-testid="health">
            {found.kinds.length > 0 ? "✕" : "✓"} {found.text}
          </Text>
          {found.counted && <Text data-testid="counted">{found.counted}</Text>}
          {found.beside.map((one) => (
            <Box key={`${one.channel} ${one.low}`} data-testid="beside">
              <Text fontWeight="600">{one.text}</Text>
              <Text color="fg.muted">{one.advice}</Text>
            </Box>
          ))}
          {found.kinds.map((kind) => (
            <Box key={kind.kind}>
              <Text fontWeight="600">{kind.text}</Text>
              <Text color="fg.muted">{kind.cause}</Text>
              <ToInstallations
                recording={recording}
                lead={t("Continue at:")}
                to={(installation) => `/installation/${installation}/${kind.stage}`}
                name={(row) => t("{0}: {1}", row.name, STAGE_LABELS[kind.stage])}
              />
              <ToInstallations
                recording={recording}
                lead={t("Find the cause of:")}
                to={(installation) => `/installation/${installation}/faults?run=${kind.kind}`}
              />
            </Box>
          ))}
          {found.events.length > 0 && (
            <Events
              heads={[t("What"), t("before"), t("then")]}
              begins_s={recording.begins_s}
              events={found.events.map((event) => ({
                ...event,
                cells: [
                  kinds[event.kind],
                  show(event.before_kmh, "km/h", 0.5).join(" "),
                  show(event.within_kmh, "km/h", 0.5).join(" "),
                ],
              }))}
            />
          )}
        </>
      )}
    </Stack>
  );
}
