import { Box, Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Line, Small, without } from "../../../ui/Small";
import { useEditing } from "../context";
import { PickField, QuantityField, WordsField } from "../fields";
import { GuideSheet } from "../GuideSheet";

type FactField = [name: string, label: string, unit: string, nudge?: number];

const BODY: FactField[] = [
  ["body_diameter_mm", "Body diameter", "mm"],
  ["element_length_mm", "Element length", "mm", 0.1],
  ["element_width_mm", "Element width", "mm", 0.1],
  ["element_offset_mm", "Element offset, max.", "mm", 0.1],
  ["element_angle_tolerance_deg", "Element angle tolerance", "°"],
  ["element_spacing_mm", "Element spacing", "mm", 0.1],
  ["depth_mm", "Element depth behind the tip", "mm", 0.1],
  ["rated_air_gap_mm", "Rated air gap", "mm", 0.1],
  ["rated_pitch_mm", "Rated pitch", "mm", 0.1],
  ["operate_point_mt", "Operate point", "mT"],
  ["release_point_mt", "Release point", "mT"],
  ["supply_min_v", "Supply, min.", "V", 0.1],
  ["supply_max_v", "Supply, max.", "V"],
  ["max_frequency_hz", "Max. frequency", "Hz", 100],
  ["temperature_min_c", "Operating temperature, min.", "°C", 5],
  ["temperature_max_c", "Operating temperature, max.", "°C", 5],
];
const OPTIONAL = ["element_spacing_mm", "operate_point_mt", "release_point_mt"];

/** What the sensor has to do here; starts from what follows from the installation. */
export function NeedsFields() {
  const { min_speed_kmh, max_speed_kmh } = useEditing().evaluated.result.pulse_times;
  return (
    <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
      <QuantityField
        path="sensor.needs.min_speed_kmh"
        label="Min. speed"
        unit="km/h"
        optional
        usual={String(min_speed_kmh)}
      />
      <QuantityField
        path="sensor.needs.max_speed_kmh"
        label="Max. speed"
        unit="km/h"
        nudge={10}
        optional
        usual={String(max_speed_kmh)}
      />
      <SupplyField />
      <QuantityField
        path="sensor.needs.ambient_max_c"
        label="Max. temperature"
        unit="°C"
        nudge={5}
        optional
        usual="not checked"
      />
    </Grid>
  );
}

/** The supply at the sensor: one field, shown wherever it matters. */
export function SupplyField() {
  return (
    <QuantityField
      path="sensor.needs.supply_v"
      label="Supply at the sensor"
      unit="V"
      hint="0 for none"
      optional
      usual="not checked"
    />
  );
}

/** The facts of this sensor, its sensing element and its wires as tested. */
export function SensorData() {
  const { document, catalogue, set } = useEditing();
  const [guide, open] = useState(false);
  const kind = catalogue.sensors.find((item) => item.code === document.sensor.kind);
  if (!kind) return null;
  const own = document.sensor.facts != null;
  const relevant = BODY.filter(([name]) => {
    if (name === "element_spacing_mm") return kind.paired;
    if (name === "operate_point_mt" || name === "release_point_mt" || name === "depth_mm")
      return kind.facts.operate_point_mt != null;
    return true;
  });
  return (
    <Stack gap={3} data-testid="sensor-data">
      <Text fontSize="sm">
        Wires: {kind.wires}. Lowest speed: {kind.lowest}. Note: {kind.watch}.
      </Text>
      {own ? (
        <>
          <Grid templateColumns={{ base: "repeat(2, minmax(0, 1fr))", xl: "repeat(4, minmax(0, 1fr))" }} gap={3}>
            {relevant.map(([name, label, unit, nudge]) => (
              <QuantityField
                key={name}
                path={`sensor.facts.${name}`}
                label={label}
                unit={unit}
                nudge={nudge}
                optional={OPTIONAL.includes(name)}
              />
            ))}
            <PickField path="sensor.facts.output" label="Output" options={catalogue.outputs} />
          </Grid>
          <Small alignSelf="flex-start" onClick={() => set("sensor.facts", null)}>
            Use typical values
          </Small>
        </>
      ) : (
        <>
          <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={2}>
            {relevant.map(([name, label, unit]) => (
              <Text key={name} fontSize="sm">
                <Text as="span" color="fg.muted">
                  {label}{" "}
                </Text>
                <Text as="span" fontFamily="mono">
                  {String((kind.facts as unknown as Record<string, unknown>)[name] ?? "not known")} {unit}
                </Text>
              </Text>
            ))}
          </Grid>
          <Text fontSize="sm" color="fg.muted">
            Typical values for this sensor type. Replace them with the data sheet of your sensor.
          </Text>
          <Small alignSelf="flex-start" onClick={() => set("sensor.facts", kind.facts)}>
            Enter data sheet values
          </Small>
        </>
      )}
      <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={5}>
        <Spot />
        <Wires open={() => open(true)} />
      </Grid>
      <GuideSheet code={guide ? "unknown_sensor" : null} close={() => open(false)}>
        <WireLines />
      </GuideSheet>
    </Stack>
  );
}

function Spot() {
  const { catalogue } = useEditing();
  return (
    <Stack gap={2}>
      <Text fontWeight="600">Sensing element</Text>
      <PickField path="sensor.element_mark.feature" label="Marked by" options={catalogue.spots} />
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
        <QuantityField
          path="sensor.element_mark.along_mm"
          label="Along the direction of travel"
          unit="mm"
          nudge={0.1}
          usual="0"
        />
        <QuantityField
          path="sensor.element_mark.across_mm"
          label="Across the direction of travel"
          unit="mm"
          nudge={0.1}
          usual="0"
        />
      </Grid>
      <Text fontSize="xs" color="fg.muted">
        Measured from the sensor centreline. The round feature that you see can be the mounting bolt, not the element.
      </Text>
    </Stack>
  );
}

function Wires({ open }: { open: () => void }) {
  return (
    <Stack gap={2}>
      <Text fontWeight="600">Wires as tested</Text>
      <WireLines />
      <Small alignSelf="flex-start" onClick={open}>
        Show steps: an unknown sensor
      </Small>
    </Stack>
  );
}

function WireLines() {
  const { document, catalogue, set } = useEditing();
  const wires = document.sensor.wires ?? [];
  return (
    <Stack gap={2}>
      {wires.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: wires have no identity but their place
        <Line key={at} what={`wire ${at + 1}`} remove={() => set("sensor.wires", without(wires, at))}>
          <Box w="70px" flexShrink={0}>
            <WordsField path={`sensor.wires.${at}.pin`} label="Pin" />
          </Box>
          <WordsField path={`sensor.wires.${at}.colour`} label="Colour" />
          <PickField path={`sensor.wires.${at}.role`} label="Role" options={catalogue.wire_roles} />
        </Line>
      ))}
      <Small
        alignSelf="flex-start"
        disabled={wires.length >= 8}
        onClick={() => set("sensor.wires", [...wires, { colour: "", role: "unknown" }])}
      >
        Add wire
      </Small>
    </Stack>
  );
}
