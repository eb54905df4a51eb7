import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { TextField } from "../../../ui/fields";
import { figure, fixed, percent, today } from "../../../ui/format";
import { Small, without } from "../../../ui/Small";
import { Tick } from "../../../ui/Tick";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { useEditing } from "../context";

const NOTHING = () => ({ turns: "10", pulses: "", held: false, on: today() });

/** Pulses counted while the wheel was turned by hand: ring and gearing together, whatever the tyre. */
export function TurnsCounted() {
  const { document, evaluated, role, set, installationId } = useEditing();
  const { turned, known } = evaluated.result;
  const counts = document.turn_counts ?? [];
  const [held, hold] = useHeld(`turns ${installationId}`, NOTHING);
  const change = (some: Partial<typeof held>) => hold({ ...held, ...some });
  if (document.vehicle_kind === "boat") return null;
  const use = () => {
    const count = {
      on: held.on,
      by: role,
      wheel_turns: held.turns,
      pulses: held.pulses,
      one_wheel_held: held.held,
      state: known.now,
    };
    set("turn_counts", [...counts, count]);
    hold(NOTHING());
  };
  return (
    <Stack gap={3} borderTopWidth="1px" pt={3} data-testid="turns-counted">
      <Text fontWeight="600">
        {t("Turns counted by hand: turn the wheel, and count the pulses at a lamp or a meter")}
      </Text>
      {turned.counts.map((item) => (
        <Box
          key={item.place}
          borderLeftWidth="4px"
          borderColor={item.weight > 0 ? "good.fg" : "border.emphasized"}
          pl={3}
        >
          <Text>{t("{0}: {1} pulses in {2} turns of the wheel", item.on, item.pulses, item.wheel_turns)}</Text>
          <Text fontSize="sm" color="fg.muted">
            {t("{0} pulses per turn, ± {1} %.", figure(item.pulses_per_turn), percent(item.expanded_pct))}{" "}
            {item.stale
              ? t("Does not count: {0}.", item.stale)
              : item.weight > 0
                ? t("Counts {0} %.", fixed(100 * item.weight, 0))
                : t("Does not count: it disagrees with what is entered.")}
          </Text>
          <Small mt={1} onClick={() => set("turn_counts", without(counts, item.place))}>
            {t("Remove count of turns")}
          </Small>
        </Box>
      ))}
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3}>
        <TextField
          label={t("Turns of the wheel")}
          numeric
          value={held.turns}
          change={(turns) => change({ turns })}
          testId="turns-turned"
        />
        <TextField
          label={t("Pulses counted")}
          numeric
          value={held.pulses}
          change={(pulses) => change({ pulses })}
          testId="turns-pulses"
        />
        <TextField label={t("Date")} type="date" value={held.on} change={(on) => change({ on })} testId="turns-on" />
      </Grid>
      {document.drive.driven && document.drive.kind !== "hub" && (
        <Tick checked={held.held} toggle={() => change({ held: !held.held })}>
          {t("The other wheel of the axle was held still")}
        </Tick>
      )}
      <Flex>
        <Small
          variant="solid"
          colorPalette="signal"
          disabled={!(Number(held.turns) > 0 && Number(held.pulses) > 0)}
          onClick={use}
        >
          {t("Use this count")}
        </Small>
      </Flex>
    </Stack>
  );
}
