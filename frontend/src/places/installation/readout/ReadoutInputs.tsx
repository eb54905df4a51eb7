import { Flex, Grid, Stack, Text } from "@chakra-ui/react";
import type { Installation } from "../../../api/client";
import { ChoiceField, TextField } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { Line, Small, Toggles, without } from "../../../ui/Small";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { PickField, ProofField, QuantityField, WordsField } from "../fields";
import { READOUT_NEEDS } from "../shape";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;
type Readout = Installation["readouts"][number];

/** The ride on which a reader learns its setting, and what came of it. */
function LearningRide({ path, ride }: { path: string; ride: Readout["learning_ride"] }) {
  const { catalogue, set } = useEditing();
  const outcomes = [{ code: "", label: "Not done yet" }, ...catalogue.ride_outcomes];
  return (
    <Stack gap={2} borderLeftWidth="4px" borderColor="border.emphasized" pl={3}>
      <Text fontWeight="600">Learning ride</Text>
      <Cautions tasks={["drive_test"]} />
      <Grid {...pair}>
        <QuantityField path={`${path}.hold_kmh`} label="Speed to hold" unit="km/h" nudge={5} usual="40" />
        <QuantityField path={`${path}.hold_s`} label="Hold for" unit="s" usual="10" />
        <QuantityField path={`${path}.key_off_s`} label="Key off afterwards for" unit="s" nudge={10} usual="60" />
        <ChoiceField
          label="Outcome"
          value={ride?.outcome ?? ""}
          options={outcomes}
          change={(code) => set(path, { ...ride, outcome: code || null })}
          testId={`${path}.outcome`}
        />
        <TextField
          label="Date"
          type="date"
          value={ride?.on ?? ""}
          change={(on) => set(path, { ...ride, on: on || null })}
          testId={`${path}.on`}
        />
        <WordsField path={`${path}.by`} label="Done by (role)" />
      </Grid>
    </Stack>
  );
}

export function ReadoutInputs({ chosen, choose }: { chosen: number; choose: (place: number) => void }) {
  const { document, evaluated, catalogue, set } = useEditing();
  const readout = document.readouts[chosen];
  if (!readout) return null;
  const path = `readouts.${chosen}`;
  const encoding = catalogue.encodings.find((item) => item.code === readout.encoding);
  const unit = readout.encoding === "custom" ? (readout.custom?.unit ?? "") : (encoding?.unit ?? "");
  const perTurn = readout.encoding === "custom" ? readout.custom?.per_turn : encoding?.per_turn;
  const result = evaluated.result.readouts[chosen];
  const change = (code: string) => {
    const kept = readout as unknown as Record<string, unknown>;
    const needs = Object.entries(READOUT_NEEDS[code] ?? {}).filter(
      ([name]) => kept[name] == null || (Array.isArray(kept[name]) && (kept[name] as unknown[]).length === 0),
    );
    const blank = { current_setting: null, current_setting_code: null, minimum: null, maximum: null, step: null };
    const geared = catalogue.encodings.find((item) => item.code === code)?.geared;
    const ratio = evaluated.result.stages[1]?.figures[0]?.value ?? 1;
    // a reader that is set to teeth and a gear ratio is set to those of this vehicle, until somebody says otherwise
    const known = geared
      ? {
          set_pulses_per_turn:
            Number(readout.set_pulses_per_turn ?? 1) === 1
              ? (evaluated.result.stages[2]?.figures[0]?.value ?? document.target.count)
              : readout.set_pulses_per_turn,
          set_gear_ratio:
            Number(readout.set_gear_ratio ?? 1) === 1 ? Number(ratio.toPrecision(5)) : readout.set_gear_ratio,
        }
      : {};
    set(path, { ...readout, ...blank, ...Object.fromEntries(needs), ...known, encoding: code });
  };
  return (
    <Stack gap={3}>
      <Flex gap={2} wrap="wrap">
        <Toggles options={document.readouts.map((item) => item.name)} chosen={chosen} choose={choose} />
        <AddReadout />
      </Flex>
      <Grid {...pair}>
        <WordsField path={`${path}.name`} label="Name" />
        <ChoiceField
          label="Setting format"
          value={readout.encoding}
          change={change}
          options={catalogue.encodings}
          testId={`${path}.encoding`}
        />
        <PickField path={`${path}.entry`} label="How the number gets in" options={catalogue.entries} />
        {perTurn && (
          <QuantityField
            path={`${path}.set_pulses_per_turn`}
            label={
              readout.encoding.startsWith("teeth") ? "Teeth set in the reader" : "Pulses per turn set in the reader"
            }
            unit=""
            hint="1 where it has no such setting"
          />
        )}
        {encoding?.geared && (
          <QuantityField
            path={`${path}.set_gear_ratio`}
            label="Gear ratio set in the reader"
            unit=""
            nudge={0.01}
            hint="1 where it has no such setting"
          />
        )}
        {encoding?.based && (
          <QuantityField
            path={`${path}.base_pulses_per_km`}
            label="Pulses per km at 0 %"
            unit="per km"
            hint="pulses per km"
          />
        )}
        {readout.encoding === "chart_code" ? (
          <CodePicker path={path} readout={readout} />
        ) : (
          readout.encoding !== "frequency_table" &&
          readout.entry !== "learned" && (
            <QuantityField
              path={`${path}.current_setting`}
              label={
                readout.entry === "fixed" ? "Number it is made for" : "Current setting, read back from the display"
              }
              unit={unit}
              optional
              nudge={readout.step ?? result?.step ?? 1}
              hint={readout.entry === "fixed" ? "from its data sheet or the bench" : "Leave empty until read back."}
            />
          )
        )}
        <QuantityField path={`${path}.display_step_kmh`} label="Display resolution" unit="km/h" nudge={0.1} usual="1" />
        <QuantityField path="check_speed_kmh" label="Check speed (true)" unit="km/h" nudge={5} />
      </Grid>
      {readout.encoding === "frequency_table" && <TableEditor path={path} readout={readout} />}
      {readout.encoding === "chart_code" && <CodesEditor path={path} readout={readout} />}
      {readout.encoding === "custom" && <CustomEditor path={`${path}.custom`} />}
      {readout.encoding !== "frequency_table" && readout.encoding !== "chart_code" && (
        <More label="Entry range, step and digits">
          <Grid {...pair}>
            <QuantityField
              path={`${path}.minimum`}
              label={`Smallest setting (${encoding?.minimum})`}
              unit=""
              optional
            />
            <QuantityField path={`${path}.maximum`} label={`Largest setting (${encoding?.maximum})`} unit="" optional />
            <QuantityField
              path={`${path}.step`}
              label={`Step of the setting (${encoding?.step})`}
              unit=""
              optional
              nudge={0.1}
            />
            <QuantityField path={`${path}.digits`} label="Digits" unit="" optional />
          </Grid>
        </More>
      )}
      {readout.entry === "learned" && <LearningRide path={`${path}.learning_ride`} ride={readout.learning_ride} />}
      <Timing path={`${path}.timing`} readout={readout} />
      <InputFields path={path} />
      {document.readouts.length > 1 && (
        <Small
          alignSelf="flex-start"
          onClick={() => {
            set("readouts", without(document.readouts, chosen));
            choose(0);
          }}
        >
          Remove {readout.name}
        </Small>
      )}
      <Cautions tasks={["set"]} />
      <ProofField path={`${path}.verification`} stage="readout" />
    </Stack>
  );
}

/** Its input: what it takes for low and high, its filter; where its scale ends; before or behind the converter. */
function InputFields({ path }: { path: string }) {
  const { document, catalogue } = useEditing();
  return (
    <More label="Input and end of scale">
      <Grid {...pair} alignItems="start">
        <QuantityField path={`${path}.input.max_low_v`} label="Max. low level" unit="V" nudge={0.1} usual="0.8" />
        <QuantityField path={`${path}.input.min_high_v`} label="Min. high level" unit="V" nudge={0.1} usual="2" />
        <QuantityField
          path={`${path}.input.max_input_v`}
          label="Max. input voltage"
          unit="V"
          optional
          usual="not known"
        />
        <QuantityField path={`${path}.input.pull_up_ohm`} label="Internal pull-up" unit="Ω" optional usual="none" />
        <QuantityField path={`${path}.input.supply_v`} label="Supply" unit="V" usual="5" />
        <QuantityField
          path={`${path}.input.max_frequency_hz`}
          label="Max. frequency"
          unit="Hz"
          optional
          usual="not known"
        />
        <QuantityField path={`${path}.input.min_pulse_us`} label="Min. pulse width" unit="µs" usual="0" />
        <QuantityField
          path={`${path}.input.dead_time_ms`}
          label="Dead time"
          unit="ms"
          usual="0"
          hint="after a pulse none is counted"
        />
        <QuantityField
          path={`${path}.scale_end_kmh`}
          label="End of scale"
          unit="km/h"
          optional
          nudge={10}
          usual="no end"
        />
        <PickField path={`${path}.past_end`} label="Past the end of scale" options={catalogue.past_ends} />
        {document.signal?.converter && (
          <PickField
            path={`${path}.before_converter`}
            label="Connected"
            options={[
              { code: "false", label: "After the converter" },
              { code: "true", label: "Before the converter, at the sensor" },
            ]}
            flag
          />
        )}
      </Grid>
    </More>
  );
}

function AddReadout() {
  const { document, set, catalogue } = useEditing();
  const encoding = catalogue.encodings[0]?.code ?? "circumference_mm";
  const add = () =>
    set("readouts", [...document.readouts, { name: `Readout ${document.readouts.length + 1}`, encoding }]);
  return (
    <Small onClick={add} disabled={document.readouts.length >= 8}>
      Add readout
    </Small>
  );
}

function Timing({ path, readout }: { path: string; readout: Readout }) {
  const { catalogue } = useEditing();
  const gate = readout.timing?.method === "gate";
  return (
    <More label="Pulse timing">
      <Grid {...pair}>
        <PickField path={`${path}.method`} label="Method" options={catalogue.timing_methods} />
        {gate ? (
          <QuantityField path={`${path}.gate_s`} label="Gate" unit="s" nudge={0.1} hint="0.5, 500 ms" />
        ) : (
          <>
            <QuantityField path={`${path}.pulses_averaged`} label="Pulses averaged" unit="" usual="1" />
            <QuantityField path={`${path}.timer_tick_us`} label="Timer tick" unit="µs" usual="4" />
          </>
        )}
        <QuantityField
          path={`${path}.time_out_s`}
          label="Zero time-out"
          unit="s"
          optional
          nudge={0.5}
          hint="without a pulse"
        />
        <QuantityField
          path={`${path}.minimum_kmh`}
          label="Minimum speed shown"
          unit="km/h"
          optional
          hint="its own minimum"
        />
      </Grid>
    </More>
  );
}

function TableEditor({ path, readout }: { path: string; readout: Readout }) {
  const { set, evaluated } = useEditing();
  const points = readout.table ?? [];
  const place = Number(path.split(".")[1]);
  const rows = evaluated.result.readouts[place]?.table ?? [];
  const last = Number(points.at(-1)?.speed_kmh ?? 0) || 0;
  return (
    <Stack gap={2}>
      {points.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: points have no identity but their place
        <Line key={at} what={`speed ${at + 1}`} remove={() => set(`${path}.table`, without(points, at))}>
          <QuantityField path={`${path}.table.${at}.speed_kmh`} label="Speed" unit="km/h" nudge={10} />
          <QuantityField
            path={`${path}.table.${at}.set_frequency_hz`}
            label={`Current setting (enter ${rows[at]?.to_type_hz ?? "…"})`}
            unit="Hz"
            optional
            nudge={0.1}
          />
        </Line>
      ))}
      <Small
        alignSelf="flex-start"
        disabled={points.length >= 24}
        onClick={() => set(`${path}.table`, [...points, { speed_kmh: last + 40 }])}
      >
        Add check speed
      </Small>
    </Stack>
  );
}

function CodePicker({ path, readout }: { path: string; readout: Readout }) {
  const { set } = useEditing();
  const options = [
    { code: "", label: "not read back yet" },
    ...(readout.codes ?? []).map((item) => ({ code: item.code, label: item.code })),
  ];
  return (
    <ChoiceField
      label="Current setting, read back from the display"
      value={readout.current_setting_code ?? ""}
      change={(code) => set(`${path}.current_setting_code`, code || null)}
      options={options}
      testId={`${path}.current_setting_code`}
    />
  );
}

function CodesEditor({ path, readout }: { path: string; readout: Readout }) {
  const { set } = useEditing();
  const codes = readout.codes ?? [];
  return (
    <Stack gap={2}>
      <Text fontSize="sm" color="fg.muted">
        Printed chart: code to enter and its circumference
      </Text>
      {codes.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines have no identity but their place
        <Line key={at} what={`code ${at + 1}`} remove={() => set(`${path}.codes`, without(codes, at))}>
          <WordsField path={`${path}.codes.${at}.code`} label="Code" />
          <QuantityField path={`${path}.codes.${at}.circumference_mm`} label="Circumference" unit="mm" />
        </Line>
      ))}
      <Small
        alignSelf="flex-start"
        disabled={codes.length >= 200}
        onClick={() => set(`${path}.codes`, [...codes, { code: String(codes.length + 1), circumference_mm: "" }])}
      >
        Add code
      </Small>
    </Stack>
  );
}

function CustomEditor({ path }: { path: string }) {
  return (
    <Grid {...pair}>
      <WordsField path={`${path}.label`} label="Name of the setting" />
      <WordsField path={`${path}.unit`} label="Unit" />
      <PickField
        path={`${path}.direct`}
        label="Larger pulses per km"
        options={[
          { code: "true", label: "Make the setting larger" },
          { code: "false", label: "Make the setting smaller" },
        ]}
        flag
      />
      <QuantityField path={`${path}.scale`} label="Scale" unit="" hint="set = scale × number, or scale / number" />
      <PickField
        path={`${path}.per_turn`}
        label="Pulses per turn set too?"
        options={[
          { code: "false", label: "No" },
          { code: "true", label: "Yes, they multiply the scale" },
        ]}
        flag
      />
      <QuantityField path={`${path}.step`} label="Step of the setting" unit="" nudge={0.1} usual="1" />
      <QuantityField path={`${path}.minimum`} label="Smallest setting" unit="" usual="1" />
      <QuantityField path={`${path}.maximum`} label="Largest setting" unit="" usual="999999" />
    </Grid>
  );
}
