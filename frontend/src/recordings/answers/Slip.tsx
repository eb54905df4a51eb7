import { Stack, Text } from "@chakra-ui/react";
import { api } from "../../api/client";
import { fixed, signed } from "../../ui/format";
import { Meant } from "../../ui/Meant";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { Events } from "./Events";
import { Rows, SpeedFields, State, useAnswer, useSpeeds } from "./shared";
import { Traction } from "./Traction";
import { Tune } from "./Tune";

/** A driven wheel against a reference. */
export function Slip({ recording }: { recording: RecordingOut }) {
  const { show } = useUnits();
  const [asked, hold] = useSpeeds(recording, "slip", recording.wheels ?? undefined);
  const answer = useAnswer(recording, "slip", asked, (id) =>
    api.POST("/api/recordings/{recording_id}/slip", { params: { path: { recording_id: id } }, body: asked }),
  );
  const found = answer.error ? undefined : answer.data;
  return (
    <Stack gap={2}>
      <SpeedFields
        recording={recording}
        asked={asked}
        hold={hold}
        labels={{
          true_channel: t("Reference: wheel that is not driven, or satellite"),
          shown_channel: t("Driven wheel"),
        }}
      />
      <State answer={answer} />
      {found && (
        <>
          <Text fontSize="lg" fontWeight="700" data-testid="slip">
            {found.text}
          </Text>
          <Text>{found.advice}</Text>
          <Meant term="dead_band" />
          <Text color="fg.muted" fontSize="sm">
            {t(
              "Noise {0} % per sample; the driven wheel's channel is {1} s late. Less torque is often the better cure than a larger dead band.",
              fixed(found.noise_pct, 2),
              signed(found.lag_s, 2),
            )}
          </Text>
          {found.bands.length > 0 && (
            <Rows
              heads={[t("Acceleration, m/s²"), t("for, s"), t("slip, %"), t("90 % of samples below, %")]}
              rows={found.bands.map((band) => [
                t("{0} to {1}", fixed(band.from_m_s2, 1), fixed(band.to_m_s2, 1)),
                fixed(band.seconds, 1),
                signed(band.median_pct, 1),
                signed(band.high_pct, 1),
              ])}
            />
          )}
          <Text fontSize="sm">
            {t(
              "Times beyond the dead band: {0}; spins that decide: {1}.",
              found.events.length,
              found.events.filter((event) => event.kind === "spin" && event.counts).length,
            )}
          </Text>
          {found.events.length > 0 && (
            <Events
              heads={[t("What"), t("slip, %"), t("spin"), t("ratio"), t("at"), t("for, s"), t("Decides")]}
              begins_s={recording.begins_s}
              events={found.events.map((event) => ({
                ...event,
                cells: [
                  event.kind === "lock" ? t("lock-up") : t("spin"),
                  signed(event.highest_pct, 1),
                  show((event.at_kmh * event.highest_pct) / 100, "km/h", 2).join(" "),
                  fixed(1 + event.highest_pct / 100, 2),
                  show(event.at_kmh, "km/h", 0.5).join(" "),
                  fixed(event.seconds, 1),
                  event.kind === "lock" ? "–" : event.counts ? t("yes") : t("no, too short or too small"),
                ],
              }))}
            />
          )}
          {found.events.some((event) => event.kind === "lock") && (
            <Text fontSize="sm">
              {t("A lock-up may also be a dropout of the driven wheel's signal: see its signal health.")}
            </Text>
          )}
          <Traction recording={recording} speeds={asked} />
          <Tune recording={recording} speeds={asked} />
        </>
      )}
    </Stack>
  );
}
