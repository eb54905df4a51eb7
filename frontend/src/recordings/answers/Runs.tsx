import { Box, Stack, Text } from "@chakra-ui/react";
import { api } from "../../api/client";
import { fixed, signed, when } from "../../ui/format";
import { Meant } from "../../ui/Meant";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";
import { type RecordingOut, useDrift } from "../queries";
import { RunsTable } from "./RunsTable";
import { Rows, SpeedFields, State, UseIn, useAnswer, useSpeeds } from "./shared";

/** The same stretch there and back: current, wind and slope cancel. */
export function Runs({ recording }: { recording: RecordingOut }) {
  const [asked, hold] = useSpeeds(recording, "runs");
  const answer = useAnswer(recording, "reciprocal", asked, (id) =>
    api.POST("/api/recordings/{recording_id}/reciprocal", { params: { path: { recording_id: id } }, body: asked }),
  );
  const found = answer.error ? undefined : answer.data;
  return (
    <Stack gap={2}>
      <Meant term="reciprocal_runs" />
      <SpeedFields
        recording={recording}
        asked={asked}
        hold={hold}
        labels={{ true_channel: t("Speed over ground"), shown_channel: t("Shown speed") }}
      />
      <State answer={answer} />
      {found && (
        <>
          <Text fontSize="lg" fontWeight="700" data-testid="reciprocal">
            {found.text}
          </Text>
          {found.advice && <Text>{found.advice}</Text>}
          <UseIn
            recording={recording}
            kind="there_and_back"
            true_kmh={found.water_kmh}
            shown_kmh={found.shown_kmh}
            within={found.expanded_pct}
          />
          <RunsTable runs={found} begins_s={recording.begins_s} />
          <Drifting recording={recording} />
        </>
      )}
    </Stack>
  );
}

/** The same runs in the vehicle's other recordings: a paddle grows over. */
function Drifting({ recording }: { recording: RecordingOut }) {
  const { show } = useUnits();
  const found = useDrift(recording.id).data;
  if (!found || found.runs.length < 2) return null;
  return (
    <Box borderTopWidth="1px" pt={2} data-testid="drift">
      {found.drift && (
        <Text fontWeight="600">
          {found.drift.text} {found.drift.advice}
        </Text>
      )}
      <Rows
        heads={[t("Recorded"), t("recording"), t("error, %"), "± %", t("works from")]}
        rows={found.runs.map((run) => [
          when(new Date(run.at_s * 1000).toISOString()),
          run.name,
          signed(run.error_pct, 1),
          fixed(run.expanded_pct, 1),
          run.works_from_kmh === null ? "–" : show(run.works_from_kmh, "km/h", 5).join(" "),
        ])}
      />
    </Box>
  );
}
