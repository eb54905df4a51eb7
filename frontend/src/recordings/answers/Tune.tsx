import { Box, Heading, Text } from "@chakra-ui/react";
import { api } from "../../api/client";
import { ChoiceField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { type RecordingOut, useRecordings } from "../queries";
import { Rows, type Speeds, State, useAnswer } from "./shared";

/** What a change of tune did: the spins of a recording from before it, each with the one at about the same speed. */
export function Tune({ recording, speeds }: { recording: RecordingOut; speeds: Speeds }) {
  const { show } = useUnits();
  const [earlier, hold] = useHeld(`tune ${recording.id}`, "");
  const list = useRecordings(recording.vehicle).data ?? [];
  const offered = list.filter((item) => item.id !== recording.id && item.state === "ready" && item.wheels);
  const there = offered.some((item) => String(item.id) === earlier);
  const asked = there ? { ...speeds, earlier: Number(earlier) } : null;
  const answer = useAnswer(recording, "tune_change", asked, (id) =>
    api.POST("/api/recordings/{recording_id}/tune-change", {
      params: { path: { recording_id: id } },
      body: asked ?? { ...speeds, earlier: 0 },
    }),
  );
  const found = asked === null || answer.error ? undefined : answer.data;
  if (offered.length === 0) return null;
  return (
    <Box borderTopWidth="1px" pt={2} data-testid="tune">
      <Heading as="h3" size="sm">
        {t("Before and after a change of tune")}
      </Heading>
      <Box maxW="420px" mt={1}>
        <ChoiceField
          label={t("Recording from before the change")}
          value={there ? earlier : ""}
          change={hold}
          options={[
            { code: "", label: t("none") },
            ...offered.map((item) => ({ code: String(item.id), label: item.name })),
          ]}
          testId="tune-earlier"
        />
      </Box>
      {asked && <State answer={answer} />}
      {found && (
        <>
          <Text fontWeight="600" mt={2} data-testid="tune-text">
            {found.text}
          </Text>
          {found.pairs.length > 0 && (
            <Rows
              heads={[t("from"), t("before, %"), t("after, %"), t("before, s"), t("after, s")]}
              rows={found.pairs.map((pair) => [
                show(pair.at_kmh, "km/h", 0.5).join(" "),
                fixed(pair.before_pct, 1),
                fixed(pair.after_pct, 1),
                fixed(pair.before_s, 1),
                fixed(pair.after_s, 1),
              ])}
            />
          )}
          <Text fontSize="sm" color="fg.muted">
            {t("Without a partner: {0} before, {1} after.", found.before_alone, found.after_alone)}
          </Text>
        </>
      )}
    </Box>
  );
}
