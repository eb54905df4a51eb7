import { Button, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { TextField } from "../../../ui/fields";
import { fixed } from "../../../ui/format";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";

const NMI_M = 1852;
const TICK_MS = 100;
const numberIn = (typed: string) => (/^\s*\d+([.,]\d+)?\s*$/.test(typed) ? Number(typed.replace(",", ".")) : null);

/** The speed of a run between two marks, by one press at each. It outlives a reload: the time of the first press is kept. */
export function TimedRun({
  held: name,
  afloat,
  done,
}: {
  held: string;
  afloat: boolean;
  done: (run: { kmh: number; from_s: number; to_s: number }) => void;
}) {
  const [held, hold] = useHeld(`timed ${name}`, { distance: "", began_s: null as number | null });
  const [now, tick] = useState(() => Date.now() / 1000);
  const { began_s } = held;
  useEffect(() => {
    if (began_s === null) return;
    const timer = window.setInterval(() => tick(Date.now() / 1000), TICK_MS);
    return () => window.clearInterval(timer);
  }, [began_s]);
  const typed = numberIn(held.distance);
  const metres = typed === null || typed <= 0 ? null : afloat ? typed * NMI_M : typed;
  const press = () => {
    const at = Date.now() / 1000;
    if (began_s === null) {
      tick(at);
      return hold({ ...held, began_s: at });
    }
    hold({ ...held, began_s: null });
    if (metres !== null && at > began_s) done({ kmh: (3.6 * metres) / (at - began_s), from_s: began_s, to_s: at });
  };
  return (
    <Flex gap={3} wrap="wrap" align="end" data-testid="timed-run">
      <TextField
        label={t("Distance between two marks")}
        hint={t("to time a run with a press at each mark")}
        unit={afloat ? "nmi" : "m"}
        numeric
        value={held.distance}
        change={(distance) => hold({ ...held, distance })}
        testId="marks-distance"
      />
      <Button
        h="60px"
        minW="160px"
        fontSize="lg"
        colorPalette="signal"
        variant={began_s === null ? "outline" : "solid"}
        disabled={metres === null}
        onClick={press}
      >
        {began_s === null ? t("At the first mark") : t("At the second mark")}
      </Button>
      {began_s !== null && (
        <>
          <Text fontFamily="mono" fontSize="2xl" role="timer" aria-label={t("Time of the run")}>
            {t("{0} s", fixed(Math.max(now - began_s, 0), 1))}
          </Text>
          <Button variant="ghost" h="60px" onClick={() => hold({ ...held, began_s: null })}>
            {t("Cancel")}
          </Button>
        </>
      )}
    </Flex>
  );
}
