import { Box, Button, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { useVehicleNames } from "../../api/hooks";
import { Share } from "../../recordings/Chooser";
import { asTable, type Fix, fixOf, type Kept, keepRecording, keptRecording } from "../../recordings/phone";
import { refusalOf, sendRecording } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { fixed, today } from "../../ui/format";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";

const MARKS = [20, 30, 40, 50, 60, 80, 100, 120];

/** Record a drive with the phone's satellite receiver; a passenger presses what the display shows. */
export default function PhonePlace() {
  const vehicle = Number(useParams().id);
  const name = useVehicleNames().data?.find((item) => item.id === vehicle)?.name ?? "";
  const { speedUnit, scale } = useUnits();
  const [kept, keep] = useState<Kept | null>(() => keptRecording());
  const [going, go] = useState(false);
  const [last, show] = useState<Fix | null>(null);
  const [error, fail] = useState("");
  const [share, tell] = useState<number | null>(null);
  const client = useQueryClient();
  const navigate = useNavigate();
  const now = useRef(kept);
  const put = useCallback((next: Kept | null, at_once = false) => {
    now.current = next;
    keep(next);
    keepRecording(next, at_once);
  }, []);
  useAwake(going);
  useEffect(() => {
    if (!going) return;
    const watched = navigator.geolocation.watchPosition(
      (position) => {
        const fix = fixOf(position);
        show(fix);
        fail("");
        const before = now.current;
        if (before) put({ ...before, fixes: [...before.fixes, fix] });
      },
      (refused) =>
        fail(
          refused.code === refused.PERMISSION_DENIED
            ? t("The browser blocks the location. Allow it for this page, then start again.")
            : t("No satellite fix. Move to open sky; recording continues."),
        ),
      { enableHighAccuracy: true, maximumAge: 0, timeout: 20_000 },
    );
    return () => navigator.geolocation.clearWatch(watched);
  }, [going, put]);
  const start = () => {
    if (!navigator.geolocation) return fail(t("This browser has no access to a satellite receiver."));
    if (!now.current) put({ vehicle, begun: today(), fixes: [], marks: [] }, true);
    go(true);
  };
  const mark = (shown: number) => {
    const before = now.current;
    if (before) put({ ...before, marks: [...before.marks, { at_s: Date.now() / 1000, kmh: shown / scale }] }, true);
  };
  const send = async () => {
    const found = now.current;
    if (!found) return;
    go(false);
    tell(0);
    fail("");
    try {
      const file = new File([asTable(found)], t("Phone, {0}.csv", found.begun), { type: "text/csv" });
      const recording = await sendRecording(found.vehicle, file, tell);
      put(null);
      client.invalidateQueries({ queryKey: ["recordings"] });
      navigate(`/recording/${recording.id}`);
    } catch (refused) {
      fail(t("It is kept on this device: {0}", refusalOf(refused)));
    } finally {
      tell(null);
    }
  };
  return (
    <Frame title={t("Record with the phone")}>
      <Stack gap={3} px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="640px" mx="auto">
        <Heading as="h1" size="xl" pt={2}>
          {t("Record with the phone: {0}", name)}
        </Heading>
        <Box borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={3} py={2}>
          <Text>
            {t(
              "! Only a passenger touches this. The driver never does: alone, start it, stow the phone, and stop it after parking. Private ground or an observer; keep to the traffic law.",
            )}
          </Text>
        </Box>
        <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4} aria-live="off">
          <Text fontSize="4xl" fontWeight="700" fontFamily="mono" data-testid="phone-speed">
            {last?.kmh == null ? "–" : fixed(last.kmh * scale, 1)} {speedUnit}
          </Text>
          <Text color="chalk.dim" fontSize="sm">
            {last
              ? t(
                  "Fix within {0} m; {1} fixes, {2} marks",
                  fixed(last.accuracy, 0),
                  kept?.fixes.length,
                  kept?.marks.length,
                )
              : t("{0} fixes, {1} marks kept on this device", kept?.fixes.length ?? 0, kept?.marks.length ?? 0)}
          </Text>
        </Box>
        {error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {error}
          </Text>
        )}
        {going ? (
          <>
            <Text fontWeight="600">{t("Hold the speed; then press what the display shows, {0}:", speedUnit)}</Text>
            <Grid templateColumns="repeat(auto-fill, minmax(84px, 1fr))" gap={2}>
              {MARKS.map((shown) => (
                <Button
                  key={shown}
                  h="72px"
                  fontSize="2xl"
                  variant="outline"
                  aria-label={t("The display shows {0} now", shown)}
                  onClick={() => mark(shown)}
                >
                  {shown}
                </Button>
              ))}
            </Grid>
            <Button h="60px" colorPalette="signal" onClick={() => go(false)}>
              {t("Stop")}
            </Button>
          </>
        ) : (
          <Flex gap={2} wrap="wrap">
            <Button h="60px" flex="1" colorPalette="signal" onClick={start} disabled={share !== null}>
              {kept ? t("Continue") : t("Start recording")}
            </Button>
            {kept && kept.fixes.length > 0 && (
              <Button h="60px" flex="1" variant="outline" onClick={send} disabled={share !== null}>
                {t("Send it to the workshop")}
              </Button>
            )}
            {kept && (
              <Small color="bad.fg" onClick={() => put(null)} h="60px">
                {t("Discard")}
              </Small>
            )}
          </Flex>
        )}
        {share !== null && <Share value={share} label={t("Sending the recording")} />}
      </Stack>
    </Frame>
  );
}

/** The screen stays on while it records, where the browser can keep it so. */
function useAwake(wanted: boolean) {
  useEffect(() => {
    if (!wanted || !navigator.wakeLock) return;
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const hold = () =>
      navigator.wakeLock.request("screen").then(
        (held) => {
          lock = held;
          if (over) held.release();
        },
        () => undefined,
      );
    const again = () => document.visibilityState === "visible" && hold();
    hold();
    document.addEventListener("visibilitychange", again);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", again);
      lock?.release();
    };
  }, [wanted]);
}
