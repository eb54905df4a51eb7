import { Stack, Text } from "@chakra-ui/react";
import { api } from "../../api/client";
import { ChoiceField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Meant } from "../../ui/Meant";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { CoastTimer } from "./CoastTimer";
import { Rows, State, speedOptions, useAnswer } from "./shared";

/** How fast it slows down while it rolls freely. */
export function Coasting({ recording }: { recording: RecordingOut }) {
  const { show, speedUnit } = useUnits();
  const options = speedOptions(recording);
  const [channel, hold] = useHeld(`coast ${recording.id}`, recording.usual?.true_channel ?? options[0]?.code ?? "");
  const answer = useAnswer(recording, "coast_down", channel, (id) =>
    api.POST("/api/recordings/{recording_id}/coast-down", {
      params: { path: { recording_id: id } },
      body: { channel },
    }),
  );
  const found = answer.error ? undefined : answer.data;
  const speed = (kmh: number) => show(kmh, "km/h", 0.5).join(" ");
  return (
    <Stack gap={2} mt={2}>
      <Meant term="coast_down" />
      {options.length > 1 && (
        <ChoiceField label={t("Speed")} value={channel} change={hold} options={options} testId="coast-channel" />
      )}
      <State answer={answer} />
      {found && (
        <>
          <Text fontSize="lg" fontWeight="700" data-testid="coast-down">
            {found.text}
          </Text>
          {found.advice && <Text>{found.advice}</Text>}
          <Text color="fg.muted" fontSize="sm">
            {t("Rolling resistance {0} of the weight.", fixed(found.rolling, 4))}
          </Text>
          <Rows
            heads={[t("Run from, s"), t("to, s"), t("from"), t("to"), t("constant loss, m/s²")]}
            rows={found.runs.map((run) => [
              fixed(run.from_s - recording.begins_s, 0),
              fixed(run.to_s - recording.begins_s, 0),
              speed(run.from_kmh),
              speed(run.to_kmh),
              fixed(run.constant_m_s2, 3),
            ])}
          />
          {found.times.length > 0 && (
            <Rows
              heads={[t("From"), t("to"), t("in, s")]}
              rows={found.times.map((time) => [speed(time.from_kmh), speed(time.to_kmh), fixed(time.seconds, 1)])}
            />
          )}
        </>
      )}
      <CoastTimer vehicle={recording.vehicle} unit={speedUnit} />
    </Stack>
  );
}
