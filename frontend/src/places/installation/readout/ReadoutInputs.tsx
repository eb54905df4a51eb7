import { Flex, Grid, Stack, Text } from "@chakra-ui/react";
import type { Installation } from "../../../api/client";
import { same } from "../../../editing/paths";
import { ChoiceField, TextField } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { Line, Small, Toggles, without } from "../../../ui/Small";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { Entries, Entry, ProofField } from "../fields";
import { PartOf } from "../PartOf";
import { choicesAt, fieldAt, withoutUnfinished } from "../schema";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;
type Readout = Installation["readouts"][number];

/** The ride on which a reader learns its setting, and what came of it. */
function LearningRide({ path, ride }: { path: string; ride: Readout["learning_ride"] }) {
  const { catalogue, evaluated, set } = useEditing();
  const outcomes = [{ code: "", label: t("Not done yet") }, ...choicesAt(catalogue, `${path}.outcome`)];
  return (
    <Stack gap={2} borderLeftWidth="4px" borderColor="border.emphasized" pl={3}>
      <Text fontWeight="600">{t("Learning ride")}</Text>
      <Cautions tasks={["drive_test"]} />
      <Entries of={path} names={["hold_kmh", "within_kmh", "hold_s", "key_off_s"]}>
        <ChoiceField
          label={t("Outcome")}
          value={ride?.outcome ?? ""}
          options={outcomes}
          change={(code) =>
            set(path, {
              ...ride,
              outcome: code || null,
              state: code === "learned" ? evaluated.result.known.now : null,
              voided_by: null,
            })
          }
          testId={`${path}.outcome`}
        />
        <TextField
          label={t("Date")}
          type="date"
          value={ride?.on ?? ""}
          change={(on) => set(`${path}.on`, on || null)}
          testId={`${path}.on`}
        />
        <Entry path={`${path}.by`} />
      </Entries>
    </Stack>
  );
}

export function ReadoutInputs({ readout: chosen, choose }: { readout: number; choose: (place: number) => void }) {
  const { document, evaluated, catalogue, problems, set } = useEditing();
  const readout = document.readouts[chosen];
  if (!readout) return null;
  const path = `readouts.${chosen}`;
  const encoding = catalogue.encodings.find((item) => item.code === readout.encoding);
  const unit = readout.encoding === "custom" ? (readout.custom?.unit ?? "") : (encoding?.unit ?? "");
  const perTurn = readout.encoding === "custom" ? readout.custom?.per_turn : encoding?.per_turn;
  const result = evaluated.result.readouts[chosen];
  const change = (code: string) => {
    const kept = readout as unknown as Record<string, unknown>;
    const format = catalogue.encodings.find((item) => item.code === code);
    const needs = Object.entries(format?.start ?? {}).filter(
      ([name]) => kept[name] == null || (Array.isArray(kept[name]) && (kept[name] as unknown[]).length === 0),
    );
    const blank = { current_setting: null, current_setting_code: null, minimum: null, maximum: null, step: null };
    const asksTurns = format?.per_turn && !perTurn && Number(readout.set_pulses_per_turn ?? 1) === 1;
    const turns = asksTurns ? { set_pulses_per_turn: document.target.count } : {};
    const known = format?.geared ? evaluated.result.if_geared[chosen] : turns;
    const left = (name: string) => {
      const condition = fieldAt(catalogue, `${path}.${name}`)?.applies;
      return condition?.field === "encoding" && !condition.values.includes(code);
    };
    const still = withoutUnfinished(catalogue, readout, path, problems, left);
    // as the format left behind began it: the server may not have said yet that it is unfinished
    const untouched = Object.entries(encoding?.start ?? {}).filter(
      ([name, value]) => left(name) && same(kept[name], value),
    );
    const gone = untouched.map(([name, value]) => [name, Array.isArray(value) ? [] : null]);
    set(path, {
      ...still,
      ...Object.fromEntries(gone),
      ...blank,
      ...Object.fromEntries(needs),
      ...known,
      encoding: code,
    });
  };
  const counts = readout.entry === "counts";
  return (
    <Stack gap={3}>
      <Flex gap={2} wrap="wrap">
        <Toggles options={document.readouts.map((item) => item.name)} chosen={chosen} choose={choose} />
        <AddReadout choose={choose} />
      </Flex>
      <Grid {...pair}>
        <Entry path={`${path}.name`} />
        {!counts && (
          <ChoiceField
            label={t("Setting format")}
            value={readout.encoding}
            change={change}
            options={catalogue.encodings}
            testId={`${path}.encoding`}
          />
        )}
        <Entry path={`${path}.entry`} />
        {counts && <Entry path={`${path}.least_pulses_per_turn`} />}
        {counts && <Entry path={`${path}.most_pulses_per_turn`} />}
        {perTurn && !counts && (
          <Entry
            path={`${path}.set_pulses_per_turn`}
            label={encoding?.geared ? t("Teeth set in the reader") : undefined}
          />
        )}
        {encoding?.geared && <Entry path={`${path}.set_gear_ratio`} />}
        <Entry path={`${path}.base_pulses_per_km`} />
        {readout.encoding === "chart_code" ? (
          <CodePicker path={path} readout={readout} />
        ) : (
          readout.encoding !== "frequency_table" &&
          readout.entry !== "learned" &&
          !counts && (
            <Entry
              path={`${path}.current_setting`}
              label={
                readout.entry === "fixed"
                  ? t("Number it is made for")
                  : t("Current setting, read back from the display")
              }
              unit={unit}
              nudge={readout.step ?? result?.step ?? 1}
              hint={readout.entry === "fixed" ? t("from its data sheet or the bench") : undefined}
            />
          )
        )}
        <Entry path={`${path}.display_step_kmh`} />
        <Entry path="check_speed_kmh" />
      </Grid>
      <PartOf key={path} kind="readout" readout={chosen} />
      {readout.encoding === "frequency_table" && <TableEditor path={path} readout={readout} />}
      {readout.encoding === "chart_code" && <CodesEditor path={path} readout={readout} />}
      {readout.encoding === "custom" && <CustomEditor path={`${path}.custom`} />}
      {readout.encoding !== "frequency_table" && readout.encoding !== "chart_code" && !counts && (
        <More label={t("Entry range, step and digits")}>
          <Grid {...pair}>
            <Entry path={`${path}.minimum`} hint={t("not entered: not checked; usually {0}", encoding?.minimum)} />
            <Entry path={`${path}.maximum`} hint={t("not entered: not checked; usually {0}", encoding?.maximum)} />
            <Entry path={`${path}.step`} usual={String(encoding?.step ?? "")} />
            <Entry path={`${path}.digits`} />
          </Grid>
        </More>
      )}
      {readout.entry === "learned" && <LearningRide path={`${path}.learning_ride`} ride={readout.learning_ride} />}
      <More label={t("Pulse timing")}>
        <Entries of={`${path}.timing`} names={TIMING} />
      </More>
      <InputFields path={path} />
      <SettingsCard path={path} readout={readout} />
      {document.readouts.length > 1 && (
        <Small
          alignSelf="flex-start"
          onClick={() => {
            set("readouts", without(document.readouts, chosen));
            choose(0);
          }}
        >
          {t("Remove {0}", readout.name)}
        </Small>
      )}
      <Cautions tasks={["set"]} />
      <ProofField path={`${path}.verification`} stage="readout" />
    </Stack>
  );
}

const USUAL = [
  t("Unit"),
  t("Clock"),
  t("Pulses per turn of the engine"),
  t("Alarm"),
  t("Shift light"),
  t("Source wheel"),
];

/** All else that is entered in a display: what restores it after a flat battery. */
function SettingsCard({ path, readout }: { path: string; readout: Readout }) {
  const { set } = useEditing();
  const kept = readout.other_settings ?? [];
  const add = (name: string) => set(`${path}.other_settings`, [...kept, { name, set_to: "" }]);
  return (
    <More label={t("Settings card, and where it has its figure from")} open={kept.length > 0}>
      <Entry path={`${path}.figure_from`} />
      {kept.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place
        <Line key={at} what={t("setting {0}", at + 1)} remove={() => set(`${path}.other_settings`, without(kept, at))}>
          <Entry path={`${path}.other_settings.${at}.name`} />
          <Entry path={`${path}.other_settings.${at}.set_to`} />
        </Line>
      ))}
      <Flex gap={2} wrap="wrap" align="center">
        {USUAL.filter((name) => !kept.some((item) => item.name === name)).map((name) => (
          <Small key={name} onClick={() => add(name)}>
            {t("+ {0}", name)}
          </Small>
        ))}
        <Small onClick={() => add(t("Setting"))}>{t("+ Another setting")}</Small>
      </Flex>
    </More>
  );
}

const INPUT = [
  "max_low_v",
  "min_high_v",
  "max_input_v",
  "pull_up_ohm",
  "supply_v",
  "max_frequency_hz",
  "min_pulse_us",
  "dead_time_ms",
];

/** Its input: what it takes for low and high, its filter; where its scale ends; before or behind the converter. */
function InputFields({ path }: { path: string }) {
  const { document } = useEditing();
  return (
    <More label={t("Input and end of scale")}>
      <Entries of={`${path}.input`} names={INPUT}>
        <Entry path={`${path}.scale_end_kmh`} />
        <Entry path={`${path}.past_end`} />
        {document.signal?.converter && <Entry path={`${path}.before_converter`} />}
      </Entries>
    </More>
  );
}

/** One more readout, in the format of the first, with its pulses per turn where it asks for them; it is shown at once. */
function AddReadout({ choose }: { choose: (place: number) => void }) {
  const { document, set, catalogue } = useEditing();
  const plain = (code?: string) =>
    catalogue.encodings.find((item) => item.code === code && Object.keys(item.start ?? {}).length === 0);
  const encoding = plain(document.readouts[0]?.encoding) ?? catalogue.encodings[0];
  const add = () => {
    const turns = encoding?.per_turn ? { set_pulses_per_turn: document.readouts[0]?.set_pulses_per_turn ?? 1 } : {};
    const name = t("Readout {0}", document.readouts.length + 1);
    set("readouts", [...document.readouts, { name, encoding: encoding?.code ?? "circumference_mm", ...turns }]);
    choose(document.readouts.length);
  };
  return (
    <Small onClick={add} disabled={document.readouts.length >= (fieldAt(catalogue, "readouts")?.most ?? 0)}>
      {t("Add readout")}
    </Small>
  );
}

const TIMING = ["method", "gate_s", "pulses_averaged", "timer_tick_us", "time_out_s", "minimum_kmh"];

function TableEditor({ path, readout }: { path: string; readout: Readout }) {
  const { set, evaluated, catalogue } = useEditing();
  const points = readout.table ?? [];
  const place = Number(path.split(".")[1]);
  const rows = evaluated.result.readouts[place]?.table ?? [];
  const last = Number(points.at(-1)?.speed_kmh ?? 0) || 0;
  return (
    <Stack gap={2}>
      {points.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: points have no identity but their place
        <Line key={at} what={t("speed {0}", at + 1)} remove={() => set(`${path}.table`, without(points, at))}>
          <Entry path={`${path}.table.${at}.speed_kmh`} />
          <Entry
            path={`${path}.table.${at}.set_frequency_hz`}
            label={t("Current setting (enter {0})", rows[at]?.to_type_hz ?? "…")}
          />
        </Line>
      ))}
      <Small
        alignSelf="flex-start"
        disabled={points.length >= (fieldAt(catalogue, `${path}.table`)?.most ?? 0)}
        onClick={() => set(`${path}.table`, [...points, { speed_kmh: last + 40 }])}
      >
        {t("Add check speed")}
      </Small>
    </Stack>
  );
}

function CodePicker({ path, readout }: { path: string; readout: Readout }) {
  const { set } = useEditing();
  const options = [
    { code: "", label: t("not read back yet") },
    ...(readout.codes ?? []).map((item) => ({ code: item.code, label: item.code })),
  ];
  return (
    <ChoiceField
      label={t("Current setting, read back from the display")}
      value={readout.current_setting_code ?? ""}
      change={(code) => set(`${path}.current_setting_code`, code || null)}
      options={options}
      testId={`${path}.current_setting_code`}
    />
  );
}

function CodesEditor({ path, readout }: { path: string; readout: Readout }) {
  const { set, catalogue } = useEditing();
  const codes = readout.codes ?? [];
  return (
    <Stack gap={2}>
      <Text fontSize="sm" color="fg.muted">
        {t("Printed chart: code to enter and its circumference")}
      </Text>
      {codes.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines have no identity but their place
        <Line key={at} what={t("code {0}", at + 1)} remove={() => set(`${path}.codes`, without(codes, at))}>
          <Entry path={`${path}.codes.${at}.code`} />
          <Entry path={`${path}.codes.${at}.circumference_mm`} />
        </Line>
      ))}
      <Small
        alignSelf="flex-start"
        disabled={codes.length >= (fieldAt(catalogue, `${path}.codes`)?.most ?? 0)}
        onClick={() => set(`${path}.codes`, [...codes, { code: String(codes.length + 1), circumference_mm: "" }])}
      >
        {t("Add code")}
      </Small>
    </Stack>
  );
}

function CustomEditor({ path }: { path: string }) {
  return <Entries of={path} names={["label", "unit", "direct", "scale", "per_turn", "step", "minimum", "maximum"]} />;
}
