import { Flex, Grid, Text } from "@chakra-ui/react";
import { type RecordingOut, useLaidOver, useRecordings } from "../../recordings/queries";
import { refusalOf } from "../../recordings/sending";
import { ChoiceField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";

type By = Parameters<typeof useLaidOver>[2];
type Chosen = { id: number | null; by: By; more_s: number };
const START: Chosen = { id: null, by: "launch", more_s: 0 };
const STEPS_S = [-1, -0.1, 0.1, 1];

/** Another recording of the vehicle over this one, and by how much it is shifted. */
export function useOther(recording: RecordingOut) {
  const [chosen, choose] = useHeld<Chosen>(`over ${recording.id}`, START);
  const list = useRecordings(recording.vehicle).data ?? [];
  const offered = list.filter((item) => item.id !== recording.id && item.state === "ready" && item.usual);
  const found = offered.find((item) => item.id === chosen.id);
  const aligned = useLaidOver(recording.id, found?.id, chosen.by);
  const other = found && aligned.data && { recording: found, shift_s: aligned.data.shift_s + chosen.more_s };
  return { chosen, choose, offered, aligned, found, other };
}

/** What is laid over, how the two are aligned, and a shift by hand. */
export function LayOver({ of }: { of: ReturnType<typeof useOther> }) {
  const { chosen, choose, offered, aligned, found } = of;
  if (offered.length === 0) return null;
  const ways: { code: By; label: string }[] = [
    { code: "launch", label: t("where both move off") },
    { code: "speed", label: t("where the speeds are most alike") },
    { code: "begin", label: t("at the beginning") },
    { code: "clock", label: t("by the time of day") },
  ];
  return (
    <details data-testid="lay-over" open={found !== undefined || undefined}>
      <summary style={{ cursor: "pointer", minHeight: 32 }}>{t("Lay another recording over it")}</summary>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" }} gap={3} mt={1}>
        <ChoiceField
          label={t("Recording")}
          value={found ? String(found.id) : ""}
          change={(id) => choose({ ...START, by: chosen.by, id: id === "" ? null : Number(id) })}
          options={[
            { code: "", label: t("none") },
            ...offered.map((item) => ({ code: String(item.id), label: item.name })),
          ]}
          testId="over-recording"
        />
        {found && (
          <ChoiceField
            label={t("Aligned")}
            value={chosen.by}
            change={(by) => choose({ ...chosen, by: by as By, more_s: 0 })}
            options={ways}
            testId="over-by"
          />
        )}
      </Grid>
      {found && aligned.error && (
        <Text role="alert" color="bad.fg" fontWeight="600" mt={1}>
          {refusalOf(aligned.error)}
        </Text>
      )}
      {found && aligned.data && (
        <Flex gap={2} wrap="wrap" align="center" mt={1}>
          <Text data-testid="laid-over">{aligned.data.text}</Text>
          {STEPS_S.map((step) => (
            <Small
              key={step}
              aria-label={t("Shift it by {0} s", step > 0 ? `+${fixed(step, 1)}` : `−${fixed(-step, 1)}`)}
              onClick={() => choose({ ...chosen, more_s: Math.round(10 * (chosen.more_s + step)) / 10 })}
            >
              {step > 0 ? `+${fixed(step, 1)}` : `−${fixed(-step, 1)}`} s
            </Small>
          ))}
          {chosen.more_s !== 0 && (
            <Text fontFamily="mono" fontSize="sm">
              {t("by hand {0} s more", fixed(chosen.more_s, 1))}
            </Text>
          )}
        </Flex>
      )}
    </details>
  );
}
