import { Grid, Stack, Text } from "@chakra-ui/react";
import { Cards } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { Small } from "../../../ui/Small";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { Entries, Entry, ProofField } from "../fields";
import { begun, choicesAt } from "../schema";

/** What lies between the sensor and the reader: resistors, conditioner, converters, the lead. */
export function SignalInputs() {
  const { document, evaluated, catalogue, set } = useEditing();
  const { facts, kind } = evaluated.document.sensor;
  const output = (facts ?? catalogue.sensors.find((item) => item.code === kind)?.facts)?.output;
  const says = choicesAt(catalogue, "sensor.facts.output").find((item) => item.code === output)?.label;
  const signal = document.signal;
  const conditioner = signal?.conditioner;
  const condition = (code: string) =>
    set(
      "signal.conditioner",
      code === "none" ? null : { ...begun(catalogue, "signal.conditioner"), ...conditioner, kind: code },
    );
  return (
    <Stack gap={3}>
      <Text>
        {t("Sensor output:")} <b>{says}</b>.
      </Text>
      {output !== "sine" && output !== "radio" && <Entries of="sensor.needs" names={["supply_v"]} />}
      {output === "sine" && <CoilFields />}
      {output === "two_wire_current" && <Entries of="signal.lead" names={["load_ohm", "low_ma", "high_ma"]} />}
      {(output === "open_collector" || output === "contact") && (
        <Entries of="signal.lead" names={["pull_up_ohm", "pull_up_v"]} />
      )}
      <Cards
        label={t("Signal conditioning")}
        value={conditioner?.kind ?? "none"}
        change={condition}
        options={[{ code: "none", label: t("None") }, ...choicesAt(catalogue, "signal.conditioner.kind")]}
        columns={2}
      />
      {conditioner && (
        <Entries
          of="signal.conditioner"
          names={CONDITIONER.filter((name) => output === "sine" || !["biased", "clamped"].includes(name))}
        />
      )}
      <Entry path="check_speed_kmh" />
      <More label={t("Pulse-ratio converter")} open={Boolean(signal?.converter)}>
        <ConverterFields />
      </More>
      <More label={t("Measured levels at the end of the lead")} open={Boolean(signal?.measured)}>
        <Entries of="signal.measured" names={["low_v", "high_v"]}>
          <Clear part="measured" />
        </Entries>
      </More>
      <More label={t("Lead, shield, fuse and plug")}>
        <Entries of="signal.lead" names={LEAD}>
          <Entry path="wheels_driven" />
        </Entries>
      </More>
      <More label={t("Frequency to voltage")} open={Boolean(signal?.analogue)}>
        <Entries of="signal.analogue" names={ANALOGUE}>
          <Clear part="analogue" />
        </Entries>
      </More>
      <Cautions tasks={["convert", "brakes"]} />
      <ProofField path="signal.verification" stage="signal" />
    </Stack>
  );
}

const CONDITIONER = [
  "arming_v",
  "max_input_vpp",
  "biased",
  "clamped",
  "supply_v",
  "noise_v",
  "series",
  "input_resistor_ohm",
  "max_frequency_hz",
  "output_v",
];
const LEAD = [
  "length_m",
  "pf_per_m",
  "twisted",
  "shield",
  "near_ignition",
  "shared",
  "permanent_feed",
  "fuse_a",
  "sealed",
  "plug",
];
const ANALOGUE = ["full_scale_kmh", "supply_v", "pwm_hz", "stages", "r_ohm", "c_nf", "load_ohm"];
const CONVERTER = [
  "drives",
  "target_pulses_per_km",
  "cable_turns_per_km",
  "motor_pulses",
  "cap_kmh",
  "stages",
  "max_numerator",
  "max_denominator",
  "averaged",
  "max_input_hz",
  "max_output_hz",
];

/** Takes one part of the signal away again. */
function Clear({ part }: { part: "vr" | "measured" | "converter" | "analogue" }) {
  const { document, set } = useEditing();
  if (!document.signal?.[part]) return null;
  return (
    <Small alignSelf="end" onClick={() => set(`signal.${part}`, null)}>
      {t("Remove")}
    </Small>
  );
}

function CoilFields() {
  return (
    <Stack gap={2}>
      <Text fontSize="sm" color="fg.muted">
        {t("Measure once with everything connected: spin the wheel by hand, or the ring with a drill.")}
      </Text>
      <Entries of="signal.vr" names={["measured_vpp", "at_hz", "air_gap_mm"]}>
        <Clear part="vr" />
      </Entries>
    </Stack>
  );
}

function ConverterFields() {
  const { document, catalogue, set } = useEditing();
  const converter = document.signal?.converter;
  return (
    <>
      <Entries of="signal.converter" names={CONVERTER}>
        {converter?.setting?.[0] ? (
          <>
            <Entry path="signal.converter.setting.0.numerator" />
            <Entry path="signal.converter.setting.0.denominator" />
          </>
        ) : null}
      </Entries>
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3} mt={3}>
        {converter?.setting?.[0] && (
          <Small onClick={() => set("signal.converter.setting", [])}>{t("Use the best ratio")}</Small>
        )}
        {converter && !converter.setting?.[0] && (
          <Small onClick={() => set("signal.converter.setting", [begun(catalogue, "signal.converter.setting")])}>
            {t("Enter its setting")}
          </Small>
        )}
        <Clear part="converter" />
      </Grid>
    </>
  );
}
