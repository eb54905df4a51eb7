import { Grid, Stack, Text } from "@chakra-ui/react";
import { Cards } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { Small } from "../../../ui/Small";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { PickField, ProofField, QuantityField, WordsField } from "../fields";
import { SupplyField } from "../sensor/SensorData";
import { EMPTY } from "../shape";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;
const YES = [
  { code: "false", label: "No" },
  { code: "true", label: "Yes" },
];

/** What lies between the sensor and the reader: resistors, conditioner, converters, the lead. */
export function SignalInputs() {
  const { document, evaluated, catalogue, set } = useEditing();
  const output = (evaluated.document.sensor.facts ?? usualOf(catalogue, evaluated.document.sensor.kind))?.output;
  const says = catalogue.outputs.find((item) => item.code === output)?.label;
  const signal = document.signal;
  const conditioner = signal?.conditioner;
  return (
    <Stack gap={3}>
      <Text>
        Sensor output: <b>{says}</b>.
      </Text>
      {output !== "sine" && output !== "radio" && (
        <Grid {...pair}>
          <SupplyField />
        </Grid>
      )}
      {output === "sine" && <CoilFields />}
      {output === "two_wire_current" && <LoadFields />}
      {(output === "open_collector" || output === "contact") && <PullUpFields />}
      <Cards
        label="Signal conditioning"
        value={conditioner?.kind ?? "none"}
        change={(code) =>
          set(
            "signal.conditioner",
            code === "none" ? null : { ...(conditioner ?? EMPTY.signal?.conditioner), kind: code },
          )
        }
        options={[{ code: "none", label: "None" }, ...catalogue.conditioners]}
        columns={2}
      />
      {conditioner && <ConditionerFields />}
      <QuantityField
        path="check_speed_kmh"
        label="Check speed (true)"
        unit="km/h"
        hint="100, 60 mph, 10 kn"
        nudge={5}
      />
      <More label="Pulse-ratio converter" open={Boolean(signal?.converter)}>
        <ConverterFields />
      </More>
      <More label="Measured levels at the end of the lead" open={Boolean(signal?.measured)}>
        <Grid {...pair}>
          <QuantityField path="signal.measured.low_v" label="Max. low level" unit="V" nudge={0.1} />
          <QuantityField path="signal.measured.high_v" label="Min. high level" unit="V" nudge={0.1} />
          <Clear part="measured" />
        </Grid>
      </More>
      <More label="Lead, shield, fuse and plug">
        <LeadFields />
      </More>
      <More label="Frequency to voltage" open={Boolean(signal?.analogue)}>
        <AnalogueFields />
      </More>
      <Cautions tasks={["convert", "brakes"]} />
      <ProofField path="signal.verification" stage="signal" />
    </Stack>
  );
}

type Catalogue = ReturnType<typeof useEditing>["catalogue"];
const usualOf = (catalogue: Catalogue, kind: string) => catalogue.sensors.find((item) => item.code === kind)?.facts;

/** Takes one part of the signal away again. */
function Clear({ part }: { part: "vr" | "measured" | "converter" | "analogue" }) {
  const { document, set } = useEditing();
  if (!document.signal?.[part]) return null;
  return (
    <Small alignSelf="end" onClick={() => set(`signal.${part}`, null)}>
      Remove
    </Small>
  );
}

function CoilFields() {
  return (
    <Stack gap={2}>
      <Text fontSize="sm" color="fg.muted">
        Measure once with everything connected: spin the wheel by hand, or the ring with a drill.
      </Text>
      <Grid {...pair}>
        <QuantityField
          path="signal.vr.measured_vpp"
          label="Voltage, peak to peak"
          unit="V"
          nudge={0.1}
          hint="2.4, 350 mV"
        />
        <QuantityField path="signal.vr.at_hz" label="At frequency" unit="Hz" nudge={10} />
        <QuantityField
          path="signal.vr.air_gap_mm"
          label="At air gap"
          unit="mm"
          optional
          nudge={0.05}
          usual="the air gap entered"
        />
        <Clear part="vr" />
      </Grid>
    </Stack>
  );
}

function LoadFields() {
  return (
    <Grid {...pair}>
      <QuantityField path="signal.lead.load_ohm" label="Load resistor" unit="Ω" optional nudge={10} usual="about 100" />
      <span />
      <QuantityField path="signal.lead.low_ma" label="Low current" unit="mA" usual="7" />
      <QuantityField path="signal.lead.high_ma" label="High current" unit="mA" usual="14" />
    </Grid>
  );
}

function PullUpFields() {
  return (
    <Grid {...pair}>
      <QuantityField
        path="signal.lead.pull_up_ohm"
        label="Pull-up resistor"
        unit="Ω"
        optional
        nudge={100}
        usual="none"
        hint="4k7, 2200"
      />
      <QuantityField
        path="signal.lead.pull_up_v"
        label="Pull-up supply"
        unit="V"
        optional
        usual="the reader's"
        hint="of a pull-up outside"
      />
    </Grid>
  );
}

function ConditionerFields() {
  const { document, catalogue } = useEditing();
  const coil = document.signal?.conditioner?.kind === "vr_converter";
  return (
    <Grid {...pair}>
      {coil ? (
        <>
          <QuantityField
            path="signal.conditioner.arming_v"
            label="Arming threshold"
            unit="V peak"
            nudge={0.05}
            usual="0.3"
          />
          <QuantityField
            path="signal.conditioner.max_input_vpp"
            label="Max. input"
            unit="V pp"
            optional
            usual="not known"
            hint="peak to peak"
          />
          <PickField path="signal.conditioner.clamped" label="Input clamp" options={YES} flag />
        </>
      ) : (
        <>
          <QuantityField path="signal.conditioner.supply_v" label="Supply" unit="V" usual="5" />
          <QuantityField
            path="signal.conditioner.noise_v"
            label="Noise voltage"
            unit="V pp"
            nudge={0.01}
            usual="0.05"
          />
          <PickField path="signal.conditioner.series" label="Resistor series" options={catalogue.series} />
          <QuantityField path="signal.conditioner.input_resistor_ohm" label="Input resistor" unit="Ω" usual="10000" />
        </>
      )}
      <QuantityField path="signal.conditioner.max_frequency_hz" label="Max. frequency" unit="Hz" usual="10000" />
      <QuantityField path="signal.conditioner.output_v" label="Output high level" unit="V high" usual="5" />
    </Grid>
  );
}

function ConverterFields() {
  const { document, catalogue, set } = useEditing();
  const converter = document.signal?.converter;
  const mechanical = converter?.drives === "mechanical";
  const step = converter?.setting?.[0];
  return (
    <Grid {...pair} alignItems="end">
      <PickField path="signal.converter.drives" label="Gauge type" options={catalogue.converter_drives} />
      {mechanical ? (
        <>
          <QuantityField
            path="signal.converter.cable_turns_per_km"
            label="Cable turns of the gauge"
            unit="per km"
            optional
            hint="on its face: 621 per km"
          />
          <QuantityField
            path="signal.converter.motor_pulses"
            label="Pulses per motor turn"
            unit="pulses a turn"
            usual="1"
          />
        </>
      ) : (
        <QuantityField
          path="signal.converter.target_pulses_per_km"
          label="Pulses per km of the gauge"
          unit="per km"
          hint="pulses per km"
        />
      )}
      <QuantityField
        path="signal.converter.cap_kmh"
        label="Output limit"
        unit="km/h"
        optional
        nudge={5}
        usual="no cap"
        hint="the end of the gauge"
      />
      <PickField
        path="signal.converter.stages"
        label="Stages in series"
        options={[
          { code: "1", label: "One" },
          { code: "2", label: "Two" },
        ]}
        number
      />
      <QuantityField
        path="signal.converter.max_numerator"
        label="Max. numerator"
        unit=""
        hint="1: a divider"
        usual="9999"
      />
      <QuantityField path="signal.converter.max_denominator" label="Max. denominator" unit="" usual="9999" />
      <QuantityField path="signal.converter.averaged" label="Pulses averaged" unit="pulses" usual="1" />
      <QuantityField path="signal.converter.max_input_hz" label="Max. input frequency" unit="Hz" usual="10000" />
      <QuantityField path="signal.converter.max_output_hz" label="Max. output frequency" unit="Hz" usual="10000" />
      {step ? (
        <>
          <QuantityField path="signal.converter.setting.0.numerator" label="Setting: pulses out" unit="" />
          <QuantityField path="signal.converter.setting.0.denominator" label="Setting: pulses in" unit="" />
          <Small onClick={() => set("signal.converter.setting", [])}>Use the best ratio</Small>
        </>
      ) : (
        converter && (
          <Small onClick={() => set("signal.converter.setting", [{ numerator: 1, denominator: "" }])}>
            Enter its setting
          </Small>
        )
      )}
      <Clear part="converter" />
    </Grid>
  );
}

function LeadFields() {
  const { catalogue } = useEditing();
  return (
    <Grid {...pair} alignItems="start">
      <QuantityField path="signal.lead.length_m" label="Lead length" unit="m" nudge={0.5} usual="3" hint="3, 10 ft" />
      <QuantityField path="signal.lead.pf_per_m" label="Lead capacitance" unit="pF per m" nudge={10} usual="100" />
      <PickField path="signal.lead.twisted" label="Twisted pair" options={YES} flag />
      <PickField path="signal.lead.shield" label="Shield" options={catalogue.shields} />
      <PickField path="signal.lead.near_ignition" label="Runs along ignition wires" options={YES} flag />
      <PickField path="signal.lead.permanent_feed" label="Permanent battery feed" options={YES} flag />
      <QuantityField path="signal.lead.fuse_a" label="Fuse at the battery" unit="A" optional usual="none" />
      <PickField path="signal.lead.sealed" label="Sealed plug" options={YES} flag />
      <WordsField path="signal.lead.plug" label="Connector" hint="as somebody would order it" />
      <PickField path="wheels_driven" label="Wheels driven" options={catalogue.wheels_driven} />
    </Grid>
  );
}

function AnalogueFields() {
  return (
    <Grid {...pair} alignItems="end">
      <QuantityField
        path="signal.analogue.full_scale_kmh"
        label="Full scale (100 % duty)"
        unit="km/h"
        usual="200"
        nudge={5}
      />
      <QuantityField path="signal.analogue.supply_v" label="Output supply" unit="V" usual="5" />
      <QuantityField path="signal.analogue.pwm_hz" label="PWM frequency" unit="Hz" usual="1000" nudge={100} />
      <PickField
        path="signal.analogue.stages"
        label="Smoothing"
        options={[
          { code: "2", label: "Two stages" },
          { code: "1", label: "One stage" },
        ]}
        number
      />
      <QuantityField path="signal.analogue.r_ohm" label="Resistor per stage" unit="Ω" usual="10000" nudge={1000} />
      <QuantityField path="signal.analogue.c_nf" label="Capacitor per stage" unit="nF" usual="1000" nudge={100} />
      <QuantityField path="signal.analogue.load_ohm" label="Load resistance" unit="Ω" optional usual="nothing" />
      <Clear part="analogue" />
    </Grid>
  );
}
