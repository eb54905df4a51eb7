import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { ScopeView } from "../../../drawings/ScopeView";
import { ToleranceView } from "../../../drawings/ToleranceView";
import { useView } from "../../../ui/address";
import { figure } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { Views } from "../../../ui/Views";
import { useEditing } from "../context";
import { usePlacement } from "../sensing";
import { Mounting } from "./Mounting";
import { MovedPlacement } from "./MovedPlacement";
import { SensorData } from "./SensorData";
import { WhichSensor } from "./WhichSensor";

/** The sensor before its target, how much may go wrong, which kind suits, its data, and how it is mounted. */
export function SensorResult() {
  const [view, choose] = useView("placement");
  return (
    <Views
      label="The sensor"
      chosen={view}
      choose={choose}
      views={[
        { code: "placement", label: "Placement", content: <Placement /> },
        { code: "tolerance", label: "Tolerance", content: <Tolerance /> },
        { code: "which", label: "Sensor choice", content: <WhichSensor /> },
        { code: "data", label: "Data and wires", content: <SensorData /> },
        { code: "mounting", label: "Bracket and clearance", content: <Mounting /> },
      ]}
    />
  );
}

function Placement() {
  const { evaluated } = useEditing();
  const view = usePlacement(evaluated.document).data;
  const [passing, pass] = useState(false);
  const [marking, mark] = useState(false);
  if (!view) return <Text>Drawing …</Text>;
  if (!view.detail.possible) return <Missing detail={view.detail} />;
  const entered = evaluated.result.placement_detail;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) 210px" }} gap={4} data-testid="placement">
      <Stack gap={1} minW={0}>
        <MovedPlacement view={view} passing={passing} marking={marking} marked={() => mark(false)} />
        <Flex gap={2}>
          <Small onClick={() => mark(!marking)} aria-pressed={marking}>
            {marking ? "Press on the tip …" : "Mark sensing element"}
          </Small>
          <Small onClick={() => pass(!passing)} aria-pressed={passing}>
            {passing ? "Stop it" : "Animate"}
          </Small>
        </Flex>
        {view.scope && <ScopeView scope={view.scope} />}
        <Text fontSize="xs" color="fg.muted">
          Drag the sensor or a dot; by keyboard Tab to it, then arrows, Shift by ten. Orange dashes: target position of
          the sensor centreline. Dashed circle: possible position of the element. Filled band: permitted air gap.
        </Text>
      </Stack>
      <Signal detail={entered.possible ? entered : view.detail} pulses={evaluated.result.pulse_times} />
    </Grid>
  );
}

function Missing({ detail }: { detail: Schemas["PlacementDetail"] }) {
  return (
    <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={2} data-testid="not-placed">
      <Text fontWeight="600">There is no placement to draw yet.</Text>
      <Text>{detail.missing}</Text>
    </Box>
  );
}

/** The number for signal strength, what it is made of, and the window of the gap. */
function Signal({ detail, pulses }: { detail: Schemas["PlacementDetail"]; pulses: Schemas["PulseTimes"] }) {
  const { show } = useUnits();
  const enough = detail.weakest >= 1;
  return (
    <Stack gap={2} aria-live="polite">
      <Box>
        <Text fontSize="sm" color="fg.muted">
          Signal margin
        </Text>
        <Text fontFamily="mono" fontSize="3xl" fontWeight="700" lineHeight="1.1" data-testid="strength">
          {detail.strength.toFixed(2)} ×
        </Text>
        <Text fontSize="sm" color={enough ? "good.fg" : "bad.fg"} fontWeight="600">
          {enough ? "✓" : "✕"} minimum over one turn {detail.weakest.toFixed(2)} ×
        </Text>
      </Box>
      <Box>
        <Text fontSize="sm" color="fg.muted">
          Permitted air gap
        </Text>
        <Text fontFamily="mono" fontSize="lg" data-testid="window">
          {detail.highest_gap_mm >= detail.lowest_gap_mm
            ? `${detail.lowest_gap_mm.toFixed(2)} … ${detail.highest_gap_mm.toFixed(2)} mm`
            : "none"}
        </Text>
        <Text fontSize="xs" color="fg.muted">
          movement ± {detail.moves_mm.toFixed(2)}, thermal {detail.heat_mm.toFixed(2)} mm
        </Text>
      </Box>
      {detail.factors.map((item) => (
        <Box key={item.name} title={item.text}>
          <Flex justify="space-between" fontSize="sm">
            <span>{item.name}</span>
            <Text as="span" fontFamily="mono">
              {(100 * item.value).toFixed(0)} %
            </Text>
          </Flex>
          <Box h="6px" bg="bg.muted" borderRadius="sm">
            <Box h="6px" w={`${Math.min(100 * item.value, 100)}%`} bg="signal.solid" borderRadius="sm" />
          </Box>
        </Box>
      ))}
      {detail.magnet_pass && (
        <Text fontSize="sm">
          {Math.max(...detail.magnet_pass.drive_mt).toFixed(1)} mT at most; it works at{" "}
          {detail.magnet_pass.operate_point_mt} mT and lets go at {detail.magnet_pass.release_point_mt} mT
          {detail.magnet_pass.closures > 0 &&
            `, on for ${detail.magnet_pass.dwell_mm.toFixed(1)} mm (${detail.magnet_pass.dwell_deg.toFixed(1)}°)`}
          .
        </Text>
      )}
      {pulses.shortest_ms > 0 && (
        <Text fontSize="sm" color="fg.muted">
          Pulses of {figure(pulses.shortest_ms, 3)} ms at {show(pulses.max_speed_kmh, "km/h", 1).join(" ")}, up to{" "}
          {figure(pulses.longest_ms, 3)} ms at {show(pulses.min_speed_kmh, "km/h", 1).join(" ")}.
        </Text>
      )}
      {detail.channels && (
        <Text fontSize="sm">
          {detail.channels.text} Good spacings:{" "}
          {detail.channels.good_spacings_mm.map((item) => item.toFixed(2)).join(", ")} mm.
        </Text>
      )}
      {detail.advice.map((text) => (
        <Text key={text} fontSize="sm" fontWeight="600">
          {text}
        </Text>
      ))}
    </Stack>
  );
}

function Tolerance() {
  const { document, evaluated, set, catalogue } = useEditing();
  const view = usePlacement(evaluated.document).data;
  if (!view) return <Text>Drawing …</Text>;
  if (!view.map) return <Missing detail={view.detail} />;
  const paired = catalogue.sensors.find((item) => item.code === document.sensor.kind)?.paired;
  const spot = document.sensor.element_mark?.across_mm ?? 0;
  const move = (sideways: number, clocking: number) =>
    set("placement", {
      ...document.placement,
      lateral_offset_mm: Number((sideways - Number(spot)).toFixed(1)),
      clocking_angle_deg: Math.round(clocking),
    });
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) 270px" }} gap={4}>
      <Stack gap={1}>
        <ToleranceView map={view.map} choose={move} />
        <Text fontSize="sm" color="fg.muted">
          Filled, inside the line: signal above the switching level minimum over one turn
          {view.map.double.length > 0 && "; hatched: it would count twice"}. Click to move the sensor there.
        </Text>
      </Stack>
      <Stack gap={3} data-testid="chances">
        <Text fontWeight="600">Probability of a clean signal</Text>
        {view.chances.map((item) => (
          <Box key={item.code} title={`${item.samples} trials`}>
            <Flex justify="space-between">
              <span>{item.label}</span>
              <Text as="span" fontFamily="mono" fontWeight="700">
                {item.chance_pct.toFixed(0)} %
              </Text>
            </Flex>
            <Text fontSize="xs" color="fg.muted">
              between {item.low_pct.toFixed(0)} and {item.high_pct.toFixed(0)} %, by {item.samples} trials
            </Text>
          </Box>
        ))}
        {paired && (
          <Text fontWeight="600" color="bad.fg">
            ✕ Do not rotate this sensor: its two elements must lie along the teeth. A quarter turn loses the signal.
          </Text>
        )}
        <Text fontSize="sm" color="fg.muted">
          The position of the element in the body is not visible. Each trial puts it within{" "}
          {view.facts.element_offset_mm} mm and {view.facts.element_angle_tolerance_deg}° of nominal, and moves the body
          by the fitting tolerance. “Mark sensing element” raises the probability.
        </Text>
        {view.detail.weakest >= 1 && (
          <Text fontSize="sm">
            Signal above the switching level from {view.reach_mm[0]?.toFixed(1)} to +{view.reach_mm[1]?.toFixed(1)} mm
            of lateral movement.
          </Text>
        )}
      </Stack>
    </Grid>
  );
}
