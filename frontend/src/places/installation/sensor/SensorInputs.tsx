import { Grid, Stack } from "@chakra-ui/react";
import { useState } from "react";
import { Cards } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { Small } from "../../../ui/Small";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { PickField, ProofField, QuantityField } from "../fields";
import { GuideSheet } from "../GuideSheet";
import { NeedsFields } from "./SensorData";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;

/** The kind of sensor, and where exactly it sits. */
export function SensorInputs() {
  const { document, evaluated, catalogue, set } = useEditing();
  const [guide, open] = useState(false);
  const detail = evaluated.result.placement_detail;
  const usual = detail.possible && !detail.gap_given ? detail.air_gap_mm.toFixed(2) : undefined;
  const placedAt = document.sensor.kind === "reed" ? "its end at the magnet" : "0";
  const second = document.placement?.second_channel;
  const paired = catalogue.sensors.find((item) => item.code === document.sensor.kind)?.paired;
  return (
    <Stack gap={3}>
      <PickField path="sensor.kind" label="Sensor type" options={catalogue.sensors} />
      <Grid {...pair}>
        <QuantityField
          path="placement.air_gap_mm"
          label="Air gap"
          unit="mm"
          optional
          nudge={0.05}
          usual={usual ?? "middle"}
          hint="at rest, nearest edge"
        />
        <QuantityField
          path="placement.lateral_offset_mm"
          label="Lateral offset"
          unit="mm"
          nudge={0.1}
          optional
          usual={placedAt}
          hint="sensor centreline from the middle of the teeth"
        />
        <QuantityField
          path="placement.clocking_angle_deg"
          label="Clocking angle"
          unit="°"
          nudge={5}
          usual={paired ? "0" : "90"}
          optional
          hint="0 along the travel, 90 across"
        />
        <QuantityField path="placement.tilt_deg" label="Tilt" unit="°" nudge={0.5} usual="0" />
      </Grid>
      <Cards
        label="Air gap is"
        value={document.placement?.air_gap_basis ?? "planned"}
        change={(code) => set("placement.air_gap_basis", code)}
        options={catalogue.gap_bases}
        columns={2}
      />
      <Small alignSelf="flex-start" onClick={() => open(true)}>
        Show steps
      </Small>
      <GuideSheet code={guide ? "gap" : null} close={() => open(false)} />
      <More label="Play, thermal growth and fitting tolerance">
        <Grid {...pair}>
          <QuantityField path="placement.bearing_play_mm" label="Bearing play" unit="mm" nudge={0.05} usual="0.05" />
          <QuantityField
            path="placement.temperature_rise_k"
            label="Temperature rise of the target"
            unit="K"
            nudge={10}
            usual="60"
          />
          <QuantityField
            path="placement.fitting_tolerance_mm"
            label="Fitting tolerance"
            unit="mm"
            nudge={0.1}
            usual="0.5"
            hint="to either side"
          />
        </Grid>
      </More>
      <More label="Reach copied from the original sensor">
        <Grid {...pair}>
          <QuantityField
            path="placement.original_reach_mm"
            label="Reach of the original"
            unit="mm"
            optional
            hint="mounting face to tip: 1.06in"
          />
          <QuantityField path="placement.reach_mm" label="Reach of this sensor" unit="mm" optional hint="by caliper" />
        </Grid>
      </More>
      <More label="Second channel" open={Boolean(second)}>
        <Grid {...pair} alignItems="end">
          <QuantityField
            path="placement.second_channel.spacing_mm"
            label="Distance along the ring"
            unit="mm"
            nudge={0.1}
            hint="for the direction"
          />
          {second && (
            <Small mb="22px" onClick={() => set("placement.second_channel", null)}>
              Remove
            </Small>
          )}
        </Grid>
      </More>
      <More label="Requirements">
        <NeedsFields />
      </More>
      <Cautions tasks={["fit_sensor"]} />
      <ProofField path="sensor.verification" stage="sensor" />
    </Stack>
  );
}
