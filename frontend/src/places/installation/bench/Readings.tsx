import { Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { TextField } from "../../../ui/fields";
import { Small, Toggles } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { LikelyCauses } from "../LikelyCauses";
import { messageOf, useReadings } from "./queries";

const MOST = 12;
const START = { true_kmh: "", shown_kmh: "" };

/** Readings beside the true speed: their pattern over speed, and the likely causes. */
export function ReadingsView() {
  const { document, evaluated, installationId } = useEditing();
  const { speedUnit } = useUnits();
  const [chosen, choose] = useHeld(`readings of ${installationId}`, 0);
  const [pairs, setPairs] = useHeld(`pairs of ${installationId}`, [START, START, START]);
  const filled = pairs.filter((pair) => pair.true_kmh.trim() && pair.shown_kmh.trim());
  const inUnit = (text: string) => (/^[\d.,\s]+$/.test(text) && speedUnit !== "km/h" ? `${text} ${speedUnit}` : text);
  const { data, error } = useReadings(evaluated.document, {
    readout: chosen,
    pairs: filled.map((pair) => ({ true_kmh: inUnit(pair.true_kmh), shown_kmh: inUnit(pair.shown_kmh) })),
  });
  const change = (place: number, name: keyof typeof START, text: string) =>
    setPairs(pairs.map((pair, at) => (at === place ? { ...pair, [name]: text } : pair)));
  return (
    <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 5fr) minmax(0, 6fr)" }} gap={5} data-testid="readings">
      <Stack gap={3}>
        <Text>
          {t(
            "Enter what the display shows at known true speeds. One pair gives the ratio; three or more also tell an offset, a limit and missed pulses apart.",
          )}
        </Text>
        <Cautions tasks={["drive_test", "water_test"]} />
        {document.readouts.length > 1 && (
          <Toggles options={document.readouts.map((item) => item.name)} chosen={chosen} choose={choose} />
        )}
        {pairs.map((pair, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a pair is its place in the list
          <Grid key={place} templateColumns="repeat(2, minmax(0, 1fr))" gap={3} maxW="360px">
            <TextField
              label={t("True speed {0}", place + 1)}
              unit={speedUnit}
              numeric
              nudge={5}
              value={pair.true_kmh}
              change={(text) => change(place, "true_kmh", text)}
              testId={`true-${place}`}
            />
            <TextField
              label={t("Reading {0}", place + 1)}
              unit={speedUnit}
              numeric
              nudge={1}
              value={pair.shown_kmh}
              change={(text) => change(place, "shown_kmh", text)}
              testId={`shown-${place}`}
            />
          </Grid>
        ))}
        <Flex gap={2}>
          {pairs.length < MOST && <Small onClick={() => setPairs([...pairs, START])}>{t("Add a pair")}</Small>}
          <Small onClick={() => setPairs([START, START, START])}>{t("Clear")}</Small>
        </Flex>
      </Stack>
      <Stack gap={3}>
        {error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            ✕ {messageOf(error)}
          </Text>
        )}
        {filled.length === 0 && <Text color="fg.muted">{t("No pair entered yet.")}</Text>}
        {data && filled.length > 0 && (
          <>
            <Text fontWeight="700">{data.text}</Text>
            <LikelyCauses causes={data.causes} />
            {data.causes.length === 0 && <Text>{t("No known mistake fits. Check every stage with the bench.")}</Text>}
          </>
        )}
      </Stack>
    </Grid>
  );
}
