import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import type { Installation } from "../../../api/client";
import { fixed, today } from "../../../ui/format";
import { Tick } from "../../../ui/Tick";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { IDLE, later, left_s } from "./ride";

const EVERY_MS = 500;
const OLD_MS = 4000;

/** Leads through a learning ride: the speed that is held, the seconds that are left, the wait, and what came of it. */
export function RideTimer({ readout }: { readout: number }) {
  const { evaluated, role, set } = useEditing();
  const ride = evaluated.document.readouts[readout]?.learning_ride;
  const { show } = useUnits();
  const [now, go] = useState(IDLE);
  const [spoken, speak] = useState(false);
  const fix = useRef<{ kmh: number; at: number } | null>(null);
  const running = now.phase === "hold" || now.phase === "off";
  const asked = ride ?? null;
  useEffect(() => {
    if (!running || !asked) return;
    const timer = window.setInterval(() => {
      const fresh = fix.current && Date.now() - fix.current.at < OLD_MS ? fix.current.kmh : null;
      go((before) => later(before, Date.now() / 1000, fresh, asked));
    }, EVERY_MS);
    const watched = navigator.geolocation?.watchPosition(
      ({ coords }) => {
        if (coords.speed !== null) fix.current = { kmh: coords.speed * 3.6, at: Date.now() };
      },
      () => undefined,
      { enableHighAccuracy: true, maximumAge: 0 },
    );
    return () => {
      window.clearInterval(timer);
      if (watched !== undefined) navigator.geolocation.clearWatch(watched);
    };
  }, [running, asked]);
  const left = asked ? left_s(now, asked) : 0;
  const text = !asked
    ? ""
    : {
        idle: t(
          "Hold {0} for {1} s. Then stop and keep the key off for {2} s.",
          speed(asked.hold_kmh, show),
          fixed(asked.hold_s, 0),
          fixed(asked.key_off_s, 0),
        ),
        hold: t("Hold {0}: {1} s left", speed(asked.hold_kmh, show), left),
        off: t("Stop where it is safe, key off: {0} s left", left),
        over: t("Key on. Did it learn?"),
      }[now.phase];
  const said = useRef("");
  useEffect(() => {
    const phrase = now.phase === "hold" && left % 5 !== 0 ? "" : text;
    if (!spoken || !running || !phrase || phrase === said.current) return;
    said.current = phrase;
    window.speechSynthesis?.speak(new SpeechSynthesisUtterance(phrase));
  }, [spoken, running, text, left, now.phase]);
  if (!asked) return <Text color="fg.muted">{t("Enter the ride by the reader's manual first.")}</Text>;
  const done = (outcome: NonNullable<Installation["readouts"][number]["learning_ride"]>["outcome"]) => {
    set(`readouts.${readout}.learning_ride`, {
      ...asked,
      outcome,
      on: today(),
      by: role,
      state: outcome === "learned" ? evaluated.result.known.now : null,
      voided_by: null,
    });
    go(IDLE);
  };
  return (
    <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4} data-testid="ride">
      <Text fontSize="2xl" fontWeight="700" role="timer">
        {text}
      </Text>
      <Text fontSize="sm">
        {t("! The driver does not look at this: a passenger reads it, or the phone speaks it.")}
      </Text>
      {running && (
        <Text color="chalk.dim" fontSize="sm">
          {fix.current
            ? t("Speed by satellite: {0}. Outside the band the timer restarts.", speed(fix.current.kmh, show))
            : t("No speed by satellite: watch the display; the seconds run by the clock.")}
        </Text>
      )}
      <Flex gap={2} mt={3} wrap="wrap" align="center">
        {now.phase === "over" ? (
          <>
            <Button minH="48px" colorPalette="signal" onClick={() => done("learned")}>
              {t("Learned")}
            </Button>
            <Button minH="48px" variant="outline" onClick={() => done("refused")}>
              {t("Not learned")}
            </Button>
          </>
        ) : (
          <Button
            minH="48px"
            colorPalette="signal"
            onClick={() => go(running ? IDLE : { phase: "hold", since_s: Date.now() / 1000, held_s: 0 })}
          >
            {running ? t("Stop the timer") : t("Start the timer")}
          </Button>
        )}
        <Tick checked={spoken} toggle={() => speak(!spoken)}>
          {t("Speak the seconds")}
        </Tick>
      </Flex>
    </Box>
  );
}

const speed = (kmh: number, show: ReturnType<typeof useUnits>["show"]) => show(kmh, "km/h", 0.5).join(" ");
