import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useServiceChanges } from "../../places/service/queries";
import { TextField } from "../../ui/fields";
import { fixed, today } from "../../ui/format";
import { Small } from "../../ui/Small";
import { Tick } from "../../ui/Tick";
import { t } from "../../ui/words";

const EVERY_MS = 100;

function say(text: string) {
  if (!("speechSynthesis" in window)) return;
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(text));
}

/** A stop watch for a coast-down without a logger: pressed at the upper and at the lower speed, filed in the timeline. */
export function CoastTimer({ vehicle, unit }: { vehicle: number; unit: string }) {
  const [speeds, set] = useState({ from: "60", to: "50" });
  const [spoken, speak] = useState(false);
  const [begun, begin] = useState<number | null>(null);
  const [now, tick] = useState(0);
  const [took, end] = useState<number | null>(null);
  const { addNote } = useServiceChanges(vehicle);
  useEffect(() => {
    if (begun === null) return;
    const timer = window.setInterval(() => tick(Date.now()), EVERY_MS);
    return () => window.clearInterval(timer);
  }, [begun]);
  const seconds = took ?? (begun === null ? 0 : Math.max((now || Date.now()) - begun, 0) / 1000);
  return (
    <Box borderTopWidth="1px" pt={2} data-testid="coast-timer">
      <Heading as="h3" size="sm">
        {t("Timer, without a recording")}
      </Heading>
      <Text fontSize="sm" color="fg.muted">
        {t("! A passenger presses; the driver rolls with the drive out of gear on private, level ground, both ways.")}
      </Text>
      <Flex gap={3} align="end" wrap="wrap" mt={2}>
        <Box w="110px">
          <TextField
            label={t("From")}
            unit={unit}
            numeric
            value={speeds.from}
            change={(from) => set({ ...speeds, from })}
          />
        </Box>
        <Box w="110px">
          <TextField label={t("To")} unit={unit} numeric value={speeds.to} change={(to) => set({ ...speeds, to })} />
        </Box>
        <Text fontSize="2xl" fontFamily="mono" role="timer">
          {t("{0} s", fixed(seconds, 1))}
        </Text>
      </Flex>
      <Tick checked={spoken} toggle={() => speak(!spoken)}>
        {t("Speak the result")}
      </Tick>
      <Flex gap={2} wrap="wrap">
        {begun === null ? (
          <Button
            minH="48px"
            colorPalette="signal"
            onClick={() => {
              begin(Date.now());
              end(null);
              if (spoken) say(t("Running. Press at {0}.", speeds.to));
            }}
          >
            {t("Passing {0} now", speeds.from)}
          </Button>
        ) : (
          <Button
            minH="48px"
            colorPalette="signal"
            onClick={() => {
              const passed = (Date.now() - begun) / 1000;
              end(passed);
              begin(null);
              if (spoken) say(t("{0} seconds", fixed(passed, 1)));
            }}
          >
            {t("Passing {0} now", speeds.to)}
          </Button>
        )}
        {took !== null && (
          <Small
            disabled={addNote.isPending}
            onClick={() =>
              addNote.mutate(
                {
                  kind: "note",
                  text: t("Coast-down from {0} to {1} {2} in {3} s.", speeds.from, speeds.to, unit, fixed(took, 1)),
                  value: null,
                  km: null,
                  on: today(),
                  installation_id: null,
                },
                { onSuccess: () => end(null) },
              )
            }
          >
            {t("File it in the timeline")}
          </Small>
        )}
      </Flex>
      {addNote.isSuccess && <Text>{t("✓ It is in the timeline.")}</Text>}
    </Box>
  );
}
