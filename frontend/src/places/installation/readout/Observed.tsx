import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../../api/client";
import { TextField } from "../../../ui/fields";
import { figure, fixed, percent, today } from "../../../ui/format";
import { Line, Small, without } from "../../../ui/Small";
import { attempt } from "../../../ui/toaster";
import { UnitField } from "../../../ui/UnitField";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { observeChain } from "../bench/queries";
import { useEditing } from "../context";
import { RunsByHand } from "./RunsByHand";
import { TimedRun } from "./TimedRun";
import { TurnsCounted } from "./TurnsCounted";

type Kind = Schemas["Observation"]["kind"];
type Pair = { true: string; shown: string; setting: string };
const EMPTY: Pair = { true: "", shown: "", setting: "" };
const KINDS: readonly Kind[] = ["drive", "distance", "there_and_back", "read"];

/** What a comparison on another page came to, where one led here: `?seen=50:55&within=0.4&kind=distance`. */
function broughtBy(asked: URLSearchParams) {
  const pairs = (asked.get("seen") ?? "").split(",").flatMap((pair): Pair[] => {
    const [known = "", shown = ""] = pair.split(":");
    return known && shown ? [{ true: known, shown, setting: "" }] : [];
  });
  const kind = KINDS.find((item) => item === asked.get("kind")) ?? "read";
  return { pairs, kind, within: asked.get("within") ?? "", recording: asked.get("recording") ?? "" };
}

/** True speeds beside shown ones: what is kept of them, and the entry for more. */
export function Observed({ chosen }: { chosen: number }) {
  return (
    <Stack gap={4} data-testid="observed">
      <Kept />
      <Entry chosen={chosen} />
      <TurnsCounted />
    </Stack>
  );
}

/** What was observed of wheel, drive and target together. */
function Kept() {
  const { document, evaluated, set } = useEditing();
  const { show } = useUnits();
  const { known, chain_expanded_uncertainty_pct } = evaluated.result;
  const observations = document.observations ?? [];
  const speed = (kmh: number) => show(kmh, "km/h", 0.5).join(" ");
  if (known.observations.length === 0)
    return (
      <Text>
        {t("Nothing was observed yet. Compare the display with a true speed: that tests the whole chain at once.")}
      </Text>
    );
  return (
    <Stack gap={2}>
      <Text fontWeight="600" data-testid="known">
        {t(
          "Together: {0} pulses per km, ± {1} %.",
          figure(known.pulses_per_km),
          percent(chain_expanded_uncertainty_pct),
        )}{" "}
        <Text as="span" fontWeight="400">
          {t(
            "The parts as entered say {0}, ± {1} %.",
            figure(known.parts_pulses_per_km),
            percent(known.parts_expanded_pct),
          )}
        </Text>
      </Text>
      {known.observations.map((item) => (
        <Box
          key={item.place}
          borderLeftWidth="4px"
          borderColor={item.weight > 0 ? "good.fg" : "border.emphasized"}
          pl={3}
          data-testid="observation"
        >
          <Text>
            {[
              item.label,
              item.on,
              item.readout,
              item.at_kmh !== null &&
                item.shown_kmh !== null &&
                t("{0} shown at {1} true", speed(item.shown_kmh), speed(item.at_kmh)),
              item.setting && t("with {0} set", item.setting),
            ]
              .filter(Boolean)
              .join(", ")}
          </Text>
          <Text fontSize="sm" color="fg.muted">
            {t("{0} pulses per km, ± {1} %.", figure(item.pulses_per_km), percent(item.expanded_pct))}{" "}
            {item.stale
              ? t("Does not count: {0}.", item.stale)
              : item.left_out
                ? t("Does not count: it disagrees with the others.")
                : t("Counts {0} %.", fixed(100 * item.weight, 0))}
          </Text>
          <Flex gap={2} wrap="wrap" mt={1}>
            {item.stale && (
              <Small
                onClick={() =>
                  set(`observations.${item.place}`, {
                    ...observations[item.place],
                    state: known.now,
                    voided_by: null,
                  })
                }
              >
                {t("It still holds")}
              </Small>
            )}
            <Small onClick={() => set("observations", without(observations, item.place))}>
              {t("Remove observation")}
            </Small>
          </Flex>
        </Box>
      ))}
    </Stack>
  );
}

/** Speeds read at the same moment, or brought by another page. */
function Entry({ chosen }: { chosen: number }) {
  const { document, evaluated, role, command, installationId } = useEditing();
  const [asked, ask] = useSearchParams();
  const brought = broughtBy(asked);
  const [held, hold] = useHeld(`observed ${installationId} ${chosen}`, {
    pairs: [EMPTY],
    setting: "",
    on: today(),
  });
  const { typed, inOwn } = useUnits();
  const readout = document.readouts[chosen];
  const result = evaluated.result.readouts[chosen];
  if (!readout || !result) return null;
  const pairs = brought.pairs.length > 0 ? brought.pairs : held.pairs;
  const change = (some: Partial<typeof held>) => hold({ ...held, ...some });
  /** What was brought along becomes one's own entry with the first change. */
  const setPairs = (next: Pair[]) => {
    change({ pairs: next });
    if (brought.pairs.length > 0) ask({ view: "speeds" }, { replace: true });
  };
  const changePair = (at: number, some: Partial<Pair>) =>
    setPairs(pairs.map((pair, place) => (place === at ? { ...pair, ...some } : pair)));
  const complete = pairs.filter((pair) => pair.true !== "" && pair.shown !== "");
  const observe = (of: "chain" | "reader") =>
    attempt(t("Using the speeds"), async () => {
      for (const setting of new Set(complete.map((pair) => pair.setting))) {
        const comparison = {
          kind: brought.kind,
          on: held.on,
          by: role,
          note: "",
          recording: brought.recording,
          readout: chosen,
          setting: setting || held.setting || null,
          pairs: complete
            .filter((pair) => pair.setting === setting)
            .map((pair) => ({ true_kmh: pair.true, shown_kmh: pair.shown })),
          expanded_pct: brought.within || null,
          of,
        };
        await command((known) => observeChain(known, comparison));
      }
      change({ pairs: [EMPTY], setting: "" });
      if (brought.pairs.length > 0) ask({ view: "speeds" }, { replace: true });
    });
  if (readout.entry === "counts")
    return (
      <Text>{t("{0} compares the counts of the wheels: compare a display that shows a speed.", readout.name)}</Text>
    );
  if (readout.entry === "learned")
    return <Text>{t("{0} learns its setting. If it shows a wrong speed: {1}.", readout.name, result.action)}</Text>;
  if (document.vehicle_kind === "boat" && brought.pairs.length === 0) return <RunsByHand chosen={chosen} />;
  const known = readout.current_setting_code ?? result.current_setting;
  const timed = ({ kmh }: { kmh: number }) => {
    const free = pairs.findIndex((pair) => pair.true === "");
    const speed = typed(inOwn(Number(kmh.toFixed(3)), "km/h"), "km/h");
    if (free >= 0) changePair(free, { true: speed });
    else setPairs([...pairs, { ...EMPTY, true: speed }]);
  };
  return (
    <Stack gap={3} borderTopWidth="1px" pt={3}>
      {brought.pairs.length === 0 && pairs.length < 12 && (
        <>
          <TimedRun held={`${installationId} ${chosen}`} afloat={false} done={timed} />
          <Text color="fg.muted" fontSize="sm">
            {t(
              "A passenger presses, or an observer at the marks; the driver operates nothing. Closed or private ground.",
            )}
          </Text>
        </>
      )}
      <Text fontWeight="600">
        {brought.pairs.length > 0
          ? brought.within
            ? t("From the other page, ± {0} %:", percent(Number(brought.within)))
            : t("From the other page:")
          : t("Known from speeds: read both at the same moment, at a steady speed")}
      </Text>
      {pairs.map((pair, at) => (
        <Line
          // biome-ignore lint/suspicious/noArrayIndexKey: pairs have no identity but their place
          key={at}
          what={t("speeds {0}", at + 1)}
          remove={() => setPairs(pairs.length > 1 ? pairs.filter((_, place) => place !== at) : [EMPTY])}
        >
          <Grid
            flex="1"
            templateColumns={{ base: "1fr 1fr", lg: pairs.length > 1 ? "repeat(3, 1fr)" : "1fr 1fr" }}
            gap={2}
            alignItems="end"
          >
            <UnitField
              label={t("True speed")}
              unit="km/h"
              value={pair.true}
              change={(text) => changePair(at, { true: text })}
              testId={`seen-true-${at}`}
            />
            <UnitField
              label={t("Shown speed")}
              unit="km/h"
              value={pair.shown}
              change={(text) => changePair(at, { shown: text })}
              testId={`seen-shown-${at}`}
            />
            {pairs.length > 1 && brought.pairs.length === 0 && (
              <TextField
                label={t("Setting, if another")}
                value={pair.setting}
                change={(setting) => changePair(at, { setting })}
                testId={`seen-setting-${at}`}
              />
            )}
          </Grid>
        </Line>
      ))}
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        {readout.encoding !== "frequency_table" && (
          <TextField
            label={readout.encoding === "chart_code" ? t("Code at the comparison") : t("Setting at the comparison")}
            hint={known == null ? t("as it was in the reader") : t("empty: the current one, {0}", known)}
            unit={readout.encoding === "chart_code" ? "" : result.unit}
            value={held.setting}
            change={(setting) => change({ setting })}
            testId="seen-setting"
          />
        )}
        <TextField label={t("Date")} type="date" value={held.on} change={(on) => change({ on })} testId="seen-on" />
      </Grid>
      <Flex gap={2} wrap="wrap">
        {brought.pairs.length === 0 && pairs.length < 12 && (
          <Small onClick={() => change({ pairs: [...pairs, EMPTY] })}>{t("Another speed")}</Small>
        )}
        <Small variant="solid" colorPalette="signal" disabled={complete.length === 0} onClick={() => observe("chain")}>
          {t("Use these speeds")}
        </Small>
        {readout.entry === "fixed" && readout.encoding !== "frequency_table" && readout.encoding !== "chart_code" && (
          <Small disabled={complete.length === 0} onClick={() => observe("reader")}>
            {t("Find the number {0} is made for", readout.name)}
          </Small>
        )}
      </Flex>
    </Stack>
  );
}
