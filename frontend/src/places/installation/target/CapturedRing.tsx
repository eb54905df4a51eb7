import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { useInstallation } from "../../../api/hooks";
import { numberIn } from "../../../recordings/answers/shared";
import { BeingRead, Chooser } from "../../../recordings/Chooser";
import { HowRead } from "../../../recordings/HowRead";
import { type RecordingOut, useRecording, useRecordings, useRing, useRingChange } from "../../../recordings/queries";
import { refusalOf } from "../../../recordings/sending";
import { useAddressed } from "../../../ui/address";
import { ChoiceField, TextField } from "../../../ui/fields";
import { fixed, signed } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { useEditing } from "../context";

const isCapture = (recording: RecordingOut) => recording.channels.some((channel) => channel.quantity === "pulses");

/** Count and flaws of a ring from the times of its pulses. */
export function CapturedRing() {
  const { installationId } = useEditing();
  const vehicle = useInstallation(installationId).data?.vehicle_id;
  const [address, open] = useAddressed("recording");
  const id = address === null ? null : Number(address);
  return (
    <Stack gap={3} data-testid="captured-ring">
      <Chooser
        vehicle={vehicle}
        chosen={id}
        choose={(next) => open(next === null ? null : String(next))}
        fits={isCapture}
        what={t(
          "The time of one edge of every pulse: a CSV file with one line per pulse, a VCD file, or a sound (WAV). Mark a tooth with chalk and start the recording there; ten turns and more.",
        )}
      />
      {id !== null && <Capture key={id} id={id} />}
    </Stack>
  );
}

/** One captured ring. */
function Capture({ id }: { id: number }) {
  const { document, set } = useEditing();
  const reading = useRecording(id).data;
  const recording = reading?.recording;
  const pulses = recording?.channels.filter((channel) => channel.quantity === "pulses") ?? [];
  const [held, hold] = useHeld(`ring ${id}`, { channel: "", count: "", mark: "" });
  const channel = pulses.some((item) => item.name === held.channel) ? held.channel : pulses[0]?.name;
  const count = numberIn(held.count);
  const mark = numberIn(held.mark);
  const asked = useRing(
    recording,
    channel
      ? {
          channel,
          count: count !== null && Number.isInteger(count) && count > 0 && count <= 120 ? count : null,
          mark_s: mark === null ? null : mark + (recording?.begins_s ?? 0),
        }
      : null,
  );
  const found = asked.error ? undefined : asked.data;
  return (
    <>
      {recording && <BeingRead recording={recording} />}
      {reading && recording?.state === "failed" && <HowRead reading={reading} />}
      {recording?.state === "ready" && !channel && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {t("This recording holds no pulses. Choose another one.")}
        </Text>
      )}
      {asked.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(asked.error)}
        </Text>
      )}
      {channel && asked.isPending && <Text role="status">{t("Counting …")}</Text>}
      {channel && (
        <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3}>
          {pulses.length > 1 && (
            <ChoiceField
              label={t("Wire")}
              value={channel}
              change={(name) => hold({ ...held, channel: name })}
              options={pulses.map(({ name }) => ({ code: name, label: name }))}
            />
          )}
          <TextField
            label={t("Count, where it is known")}
            hint={t("empty: found from the pulses")}
            numeric
            value={held.count}
            change={(typed) => hold({ ...held, count: typed })}
            testId="ring-count"
          />
          <TextField
            label={t("Chalk mark passes at, s")}
            hint={t("empty: at the first pulse")}
            numeric
            value={held.mark}
            change={(typed) => hold({ ...held, mark: typed })}
            testId="ring-mark"
          />
        </Grid>
      )}
      {found && (
        <>
          <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
            <Text fontSize="xl" fontWeight="700" data-testid="fingerprint">
              {found.sure && found.flaws.length === 0 ? "✓" : "!"} {found.text}
            </Text>
            <Text color="chalk.dim" fontSize="sm">
              {t(
                "{0} turns; the places scatter by {1} % of the pitch; a reader that times single pulses shows ± {2} % ripple.",
                fixed(found.turns, 0),
                fixed(found.scatter_pct, 1),
                fixed(found.ripple_pct, 1),
              )}
              {found.sure && found.runout_deg > 0.02 && (
                <>
                  {" "}
                  {t(
                    "Runout moves the teeth by ± {0}° once per turn, most at tooth {1}.",
                    fixed(found.runout_deg, 2),
                    found.runout_at,
                  )}
                </>
              )}
            </Text>
            {found.sure && found.pulses_per_turn !== document.target.count && (
              <Small
                mt={3}
                colorPalette="signal"
                variant="solid"
                onClick={() => set("target", { ...document.target, count: found.pulses_per_turn, basis: "captured" })}
              >
                {t("Use {0} as the count, instead of {1}", found.pulses_per_turn, document.target.count)}
              </Small>
            )}
          </Box>
          {found.sure && channel && recording && (
            <Compared
              recording={recording}
              ring={{
                channel,
                count: found.pulses_per_turn,
                mark_s: mark === null ? null : mark + recording.begins_s,
              }}
            />
          )}
          {found.sure && (
            <Teeth
              off={found.deviation_pct}
              flawed={
                new Set(found.flaws.filter((tooth) => tooth.flaw === "out_of_place").map((tooth) => tooth.number))
              }
            />
          )}
        </>
      )}
    </>
  );
}

/** What changed since an earlier capture of the same ring. */
function Compared({ recording, ring }: { recording: RecordingOut; ring: Schemas["RingIn"] }) {
  const others = (useRecordings(recording.vehicle).data ?? []).filter(
    (other) => other.id !== recording.id && other.state === "ready" && isCapture(other),
  );
  const [held, hold] = useHeld(`ring before ${recording.id}`, { earlier: "", mark: "" });
  const earlier = others.find((other) => String(other.id) === held.earlier);
  const mark = numberIn(held.mark);
  const asked = useRingChange(
    recording,
    earlier ? { ...ring, earlier: earlier.id, earlier_mark_s: mark === null ? null : mark + earlier.begins_s } : null,
  );
  if (others.length === 0) return null;
  return (
    <Box data-testid="ring-change">
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        <ChoiceField
          label={t("Compare with an earlier capture")}
          value={held.earlier}
          change={(code) => hold({ ...held, earlier: code })}
          options={[
            { code: "", label: t("none") },
            ...others.map((other) => ({ code: String(other.id), label: other.name })),
          ]}
          testId="ring-earlier"
        />
        {earlier && (
          <TextField
            label={t("Chalk mark passed then at, s")}
            hint={t("empty: the teeth are laid on each other")}
            numeric
            value={held.mark}
            change={(typed) => hold({ ...held, mark: typed })}
          />
        )}
      </Grid>
      {earlier && asked.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(asked.error)}
        </Text>
      )}
      {earlier && asked.isPending && <Text role="status">{t("Comparing …")}</Text>}
      {earlier && asked.data && !asked.error && (
        <Text fontWeight="600" data-testid="ring-changed">
          {asked.data.teeth.length > 0 || !asked.data.same_count ? "!" : "✓"} {asked.data.text}{" "}
          {asked.data.sure &&
            asked.data.runout_deg > 0.02 &&
            t("Runout changed by ± {0}° once per turn.", fixed(asked.data.runout_deg, 2))}
        </Text>
      )}
    </Box>
  );
}

/** How far each tooth is out of its place. */
function Teeth({ off, flawed }: { off: readonly number[]; flawed: Set<number> }) {
  const most = Math.max(...off.map(Math.abs), 0.5);
  return (
    <Box>
      <Text fontSize="sm" color="fg.muted">
        {t("Place of each tooth against an even ring, % of the pitch (± {0}); tooth 1 comes first", fixed(most, 1))}
      </Text>
      <Flex
        role="img"
        aria-label={t("Place of each tooth: {0}", off.map((value, at) => `${at + 1}: ${signed(value, 1)}`).join(", "))}
        align="stretch"
        h="120px"
        gap="1px"
        borderBottomWidth="1px"
        position="relative"
      >
        <Box position="absolute" left={0} right={0} top="50%" borderTopWidth="1px" borderColor="border" />
        {off.map((value, at) => (
          <Box
            // biome-ignore lint/suspicious/noArrayIndexKey: a tooth is its place
            key={at}
            flex="1"
            minW="1px"
            position="relative"
          >
            <Box
              position="absolute"
              left={0}
              right={0}
              top={`${50 - (50 * Math.max(value, 0)) / most}%`}
              height={`${Math.max((50 * Math.abs(value)) / most, 0.8)}%`}
              bg={flawed.has(at + 1) ? "bad.fg" : "signal.fg"}
            />
          </Box>
        ))}
      </Flex>
    </Box>
  );
}
