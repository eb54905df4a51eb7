import { Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { ChoiceField, TextField } from "../../../ui/fields";
import { today } from "../../../ui/format";
import { Line, Small, without } from "../../../ui/Small";
import { attempt } from "../../../ui/toaster";
import { UnitField } from "../../../ui/UnitField";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { observeChain, useRunsByHand } from "../bench/queries";
import { useEditing } from "../context";
import { TimedRun } from "./TimedRun";

type Run = {
  ground: string;
  shown: string;
  back: boolean;
  setting: string;
  from_s: number | null;
  to_s: number | null;
};
const MOST = 12;
const empty = (back: boolean): Run => ({ ground: "", shown: "", back, setting: "", from_s: null, to_s: null });
const FIRST: Run[] = [empty(false), empty(true)];

/** Runs there and back without a file: typed, or timed between two marks. The current is taken out of them. */
export function RunsByHand({ chosen }: { chosen: number }) {
  const { document, evaluated, role, command, installationId } = useEditing();
  const { show, typed, inOwn } = useUnits();
  const [held, hold] = useHeld(`runs ${installationId} ${chosen}`, { runs: FIRST, setting: "", on: today() });
  const readout = document.readouts[chosen];
  const result = evaluated.result.readouts[chosen];
  const { runs } = held;
  const complete = runs.filter((run) => run.ground !== "" && run.shown !== "");
  const settings = [...new Set(complete.map((run) => run.setting))];
  const groups = settings.map((setting) => complete.filter((run) => run.setting === setting));
  const asked = (of: Run[]) => ({
    runs: of.map((run) => ({
      ground_kmh: run.ground,
      shown_kmh: run.shown,
      back: run.back,
      from_s: run.from_s,
      to_s: run.to_s,
    })),
    display_step_kmh: Number(readout?.display_step_kmh ?? 0),
  });
  const found = useRunsByHand(groups.map(asked));
  if (!readout || !result) return null;
  const change = (some: Partial<typeof held>) => hold({ ...held, ...some });
  const put = (place: number, some: Partial<Run>) =>
    change({ runs: runs.map((run, at) => (at === place ? { ...run, ...some } : run)) });
  const timed = ({ kmh, from_s, to_s }: { kmh: number; from_s: number; to_s: number }) => {
    const free = runs.findIndex((run) => run.ground === "");
    const run = { ground: typed(inOwn(Number(kmh.toFixed(3)), "km/h"), "km/h"), from_s, to_s };
    if (free >= 0) put(free, run);
    else change({ runs: [...runs, { ...empty(!runs.at(-1)?.back), ...run }] });
  };
  const known = readout.current_setting_code ?? result.current_setting;
  const answers = found.map((answer) => answer.data);
  const ready = answers.length > 0 && answers.every((answer) => answer !== undefined);
  const use = () =>
    attempt(t("Using the runs"), async () => {
      for (const [place, answer] of answers.entries()) {
        if (!answer) continue;
        const comparison = {
          kind: "there_and_back" as const,
          on: held.on,
          by: role,
          note: "",
          recording: "",
          readout: chosen,
          setting: settings[place] || held.setting || null,
          pairs: [{ true_kmh: answer.water_kmh, shown_kmh: answer.shown_kmh }],
          expanded_pct: answer.expanded_pct,
          of: "chain" as const,
        };
        await command((known) => observeChain(known, comparison));
      }
      change({ runs: FIRST, setting: "" });
    });
  return (
    <Stack gap={3} borderTopWidth="1px" pt={3} data-testid="runs-by-hand">
      <Text fontWeight="600">{t("Runs there and back, without a file")}</Text>
      <Text>
        {t(
          "Run the same stretch both ways, straight, with the throttle where it is. Enter the mean of each run. A third run also cancels a current that changes.",
        )}
      </Text>
      <Text color="fg.muted" fontSize="sm">
        {t("One steers and keeps a lookout, another presses and notes.")}
      </Text>
      <TimedRun held={`${installationId} ${chosen}`} afloat done={timed} />
      {runs.map((run, place) => (
        <Line
          // biome-ignore lint/suspicious/noArrayIndexKey: runs have no identity but their place
          key={place}
          what={t("run {0}", place + 1)}
          remove={() => change({ runs: runs.length > 2 ? without(runs, place) : FIRST })}
        >
          <Grid flex="1" templateColumns={{ base: "1fr 1fr", lg: "repeat(4, 1fr)" }} gap={2} alignItems="end">
            <ChoiceField
              label={t("Run {0}", place + 1)}
              value={run.back ? "back" : "there"}
              change={(way) => put(place, { back: way === "back" })}
              options={[
                { code: "there", label: t("there") },
                { code: "back", label: t("back") },
              ]}
              testId={`run-way-${place}`}
            />
            <UnitField
              label={t("Speed over ground")}
              unit="km/h"
              value={run.ground}
              change={(ground) => put(place, { ground, from_s: null, to_s: null })}
              testId={`run-ground-${place}`}
            />
            <UnitField
              label={t("Shown speed")}
              unit="km/h"
              value={run.shown}
              change={(shown) => put(place, { shown })}
              testId={`run-shown-${place}`}
            />
            <TextField
              label={t("Setting, if another")}
              value={run.setting}
              change={(setting) => put(place, { setting })}
              testId={`run-setting-${place}`}
            />
          </Grid>
        </Line>
      ))}
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        <TextField
          label={t("Setting at the comparison")}
          hint={known == null ? t("as it was in the reader") : t("empty: the current one, {0}", known)}
          unit={result.unit}
          value={held.setting}
          change={(setting) => change({ setting })}
          testId="runs-setting"
        />
        <TextField label={t("Date")} type="date" value={held.on} change={(on) => change({ on })} testId="runs-on" />
      </Grid>
      {found.map((answer, place) => (
        <Stack key={settings[place]} gap={1} aria-live="polite">
          {answer.error && (
            <Text role="alert" color="bad.fg" fontWeight="600">
              {answer.error.message}
            </Text>
          )}
          {answer.data && (
            <>
              <Text fontWeight="600" data-testid="runs-answer">
                {settings[place] ? t("With {0} set: {1}", settings[place], answer.data.text) : answer.data.text}
              </Text>
              <Text>
                {t(
                  "Current along the first run: {0}, at the last {1}.",
                  show(answer.data.current_first_kmh, "km/h").join(" "),
                  show(answer.data.current_last_kmh, "km/h").join(" "),
                )}{" "}
                {answer.data.advice}
              </Text>
            </>
          )}
        </Stack>
      ))}
      <Flex gap={2} wrap="wrap">
        {runs.length < MOST && (
          <Small onClick={() => change({ runs: [...runs, empty(!runs.at(-1)?.back)] })}>{t("Another run")}</Small>
        )}
        <Small variant="solid" colorPalette="signal" disabled={!ready} onClick={use}>
          {t("Use these runs")}
        </Small>
      </Flex>
    </Stack>
  );
}
