import { Box, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { api, type Schemas } from "../../api/client";
import { TextField } from "../../ui/fields";
import { fixed, signed } from "../../ui/format";
import { Meant } from "../../ui/Meant";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { Events } from "./Events";
import { numberIn, Rows, SpeedFields, type Speeds, State, useAnswer, useSpeeds } from "./shared";

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
              "Noise {0} % a sample; the driven wheel's channel is {1} s behind. Less torque is often the better cure than a larger dead band.",
              fixed(found.noise_pct, 2),
              fixed(found.lag_s, 2),
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
          <Text fontSize="sm">{t("Times beyond the dead band: {0}.", found.events.length)}</Text>
          {found.events.length > 0 && (
            <Events
              heads={[t("slip, %"), t("at")]}
              begins_s={recording.begins_s}
              events={found.events.map((event) => ({
                ...event,
                cells: [fixed(event.highest_pct, 1), show(event.at_kmh, "km/h", 0.5).join(" ")],
              }))}
            />
          )}
          <Traction recording={recording} speeds={asked} />
        </>
      )}
    </Stack>
  );
}

/** A start for the controller's traction table. */
function Traction({ recording, speeds }: { recording: RecordingOut; speeds: Speeds }) {
  const [held, hold] = useHeld(`traction ${recording.id}`, { most: "30", rows: "6" });
  const [most, rows] = [numberIn(held.most), numberIn(held.rows)];
  const asked = most === null || rows === null ? null : { ...speeds, most_cut_pct: most, rows };
  const answer = useAnswer(recording, "traction", asked, (id) =>
    api.POST("/api/recordings/{recording_id}/traction", {
      params: { path: { recording_id: id } },
      body: asked as Schemas["TractionIn"],
    }),
  );
  const found = answer.error ? undefined : answer.data;
  return (
    <Box borderTopWidth="1px" pt={2} data-testid="traction">
      <Heading as="h3" size="sm">
        {t("A start for the traction table")}
      </Heading>
      <Text fontSize="sm" color="fg.muted">
        {t(
          "! Keep to what the engine's maker allows: too much retard overheats it. Try it on private ground, with an observer. Less torque is often the better cure.",
        )}
      </Text>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} mt={2} maxW="420px">
        <TextField
          label={t("Most torque to take away")}
          unit="%"
          numeric
          value={held.most}
          change={(typed) => hold({ ...held, most: typed })}
        />
        <TextField
          label={t("Rows of the table")}
          numeric
          value={held.rows}
          change={(typed) => hold({ ...held, rows: typed })}
        />
      </Grid>
      <State answer={answer} />
      {found && (
        <>
          <Text fontWeight="600" mt={2}>
            {found.text}
          </Text>
          <Rows
            heads={[t("Slip, %"), t("torque less by, %")]}
            rows={found.rows.map((row) => [fixed(row.slip_pct, 1), fixed(row.cut_pct, 0)])}
          />
          <Text>{found.advice}</Text>
        </>
      )}
    </Box>
  );
}
