import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { memo, useCallback, useState } from "react";
import type { Schemas } from "../../../api/client";
import { ScopeView } from "../../../drawings/ScopeView";
import { ToleranceView } from "../../../drawings/ToleranceView";
import { useView } from "../../../ui/address";
import { figure, fixed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { Views } from "../../../ui/Views";
import { t } from "../../../ui/words";
import { useEditing, useEvaluated } from "../context";
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
      label={t("The sensor")}
      chosen={view}
      choose={choose}
      views={[
        { code: "placement", label: t("Placement"), content: <Placement /> },
        { code: "tolerance", label: t("Tolerance"), content: <Tolerance /> },
        { code: "which", label: t("Sensor choice"), content: <WhichSensor /> },
        { code: "data", label: t("Data and wires"), content: <SensorData /> },
        { code: "mounting", label: t("Bracket and clearance"), content: <Mounting /> },
      ]}
    />
  );
}

function Placement() {
  const evaluated = useEvaluated();
  const asked = usePlacement(evaluated.document);
  const view = asked.data;
  const [passing, pass] = useState(false);
  const [marking, mark] = useState(false);
  const marked = useCallback(() => mark(false), []);
  if (!view) return <Pending asked={asked} text={t("Drawing …")} />;
  if (!view.detail.possible) return <Missing detail={view.detail} />;
  const entered = evaluated.result.placement_detail;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) 210px" }} gap={4} data-testid="placement">
      <Stack gap={1} minW={0}>
        <MovedPlacement view={view} passing={passing} marking={marking} marked={marked} />
        <Flex gap={2}>
          <Small onClick={() => mark(!marking)} aria-pressed={marking}>
            {marking ? t("Press on the tip …") : t("Mark sensing element")}
          </Small>
          <Small onClick={() => pass(!passing)} aria-pressed={passing}>
            {passing ? t("Stop it") : t("Animate")}
          </Small>
        </Flex>
        {view.scope && <ScopeView scope={view.scope} />}
        <Text fontSize="xs" color="fg.muted">
          {t(
            "Drag the sensor or a dot; by keyboard Tab to it, then arrows, Shift by ten. Orange dashes: target position of the sensor centreline. Dashed circle: possible position of the element. Filled band: permitted air gap.",
          )}
        </Text>
      </Stack>
      <Signal detail={entered.possible ? entered : view.detail} pulses={evaluated.result.pulse_times} />
    </Grid>
  );
}

function Missing({ detail }: { detail: Schemas["PlacementDetail"] }) {
  return (
    <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={2} data-testid="not-placed">
      <Text fontWeight="600">{t("There is no placement to draw yet.")}</Text>
      <Text>{detail.missing}</Text>
    </Box>
  );
}

type SignalProps = { detail: Schemas["PlacementDetail"]; pulses: Schemas["PulseTimes"] };

/** The number for signal strength, what it is made of, and the window of the gap. */
const Signal = memo(function Signal({ detail, pulses }: SignalProps) {
  const { show } = useUnits();
  const length = (mm: number) => show(mm, "mm", 5);
  return (
    <Stack gap={2}>
      <Box>
        <Text fontSize="sm" color="fg.muted">
          {t("Signal margin")}
        </Text>
        <Text fontFamily="mono" fontSize="3xl" fontWeight="700" lineHeight="1.1" data-testid="strength">
          {fixed(detail.strength, 2)} ×
        </Text>
        <Text fontSize="sm" color={detail.enough ? "good.fg" : "bad.fg"} fontWeight="600">
          {t("{0} minimum over one turn {1}", detail.enough ? "✓" : "✕", `${fixed(detail.weakest, 2)}\u00a0×`)}
        </Text>
      </Box>
      <Box>
        <Text fontSize="sm" color="fg.muted">
          {t("Permitted air gap")}
        </Text>
        <Text fontFamily="mono" fontSize="lg" data-testid="window">
          {detail.highest_gap_mm >= detail.lowest_gap_mm
            ? `${length(detail.lowest_gap_mm)[0]} … ${length(detail.highest_gap_mm).join(" ")}`
            : t("none")}
        </Text>
        <Text fontSize="xs" color="fg.muted">
          {t("movement ± {0}, thermal {1}", length(detail.moves_mm)[0], length(detail.heat_mm).join(" "))}
        </Text>
      </Box>
      {detail.factors.map((item) => (
        <Factor key={item.name} item={item} />
      ))}
      {detail.magnet_pass && (
        <Text fontSize="sm">
          {t(
            detail.magnet_pass.closures > 0
              ? "{0} mT at most; it works at {1} mT and releases at {2} mT, on for {3} ({4}°)."
              : "{0} mT at most; it works at {1} mT and releases at {2} mT.",
            fixed(Math.max(...detail.magnet_pass.drive_mt), 1),
            detail.magnet_pass.operate_point_mt,
            detail.magnet_pass.release_point_mt,
            length(detail.magnet_pass.dwell_mm).join(" "),
            fixed(detail.magnet_pass.dwell_deg, 1),
          )}
        </Text>
      )}
      {pulses.shortest_ms > 0 && (
        <Text fontSize="sm" color="fg.muted">
          {t(
            "Pulses of {0} ms at {1}, up to {2} ms at {3}.",
            figure(pulses.shortest_ms, 3),
            show(pulses.max_speed_kmh, "km/h", 1).join(" "),
            figure(pulses.longest_ms, 3),
            show(pulses.min_speed_kmh, "km/h", 1).join(" "),
          )}
        </Text>
      )}
      {detail.channels && (
        <Text fontSize="sm">
          {t(
            "{0} Good spacings: {1} {2}.",
            detail.channels.text,
            detail.channels.good_spacings_mm.map((item) => length(item)[0]).join(", "),
            length(1)[1],
          )}
        </Text>
      )}
      {detail.advice.map((text) => (
        <Text key={text} fontSize="sm" fontWeight="600">
          {text}
        </Text>
      ))}
    </Stack>
  );
});

/** One part of the signal: how much of it is left, and why. */
const Factor = memo(function Factor({ item }: { item: Schemas["PlacementDetail"]["factors"][number] }) {
  return (
    <Box>
      <Flex justify="space-between" gap={2} fontSize="sm">
        <span>{item.name}</span>
        <Text as="span" fontFamily="mono" whiteSpace="nowrap">
          {fixed(100 * item.value, 0)} %
        </Text>
      </Flex>
      <Box h="6px" bg="bg.muted" borderRadius="sm">
        <Box h="6px" bg="signal.solid" borderRadius="sm" style={{ width: `${Math.min(100 * item.value, 100)}%` }} />
      </Box>
      <Text fontSize="xs" color="fg.muted">
        {item.text}
      </Text>
    </Box>
  );
});

function Tolerance() {
  const { show } = useUnits();
  const length = (mm: number) => show(mm, "mm", 5);
  const { document, evaluated, set, catalogue } = useEditing();
  const asked = usePlacement(evaluated.document);
  const view = asked.data;
  if (!view) return <Pending asked={asked} text={t("Drawing …")} />;
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
          {view.map.double.length > 0
            ? t(
                "Filled, inside the line: the lowest signal of a turn is above the switching level; hatched: it would count twice. Click to move the sensor there.",
              )
            : t(
                "Filled, inside the line: the lowest signal of a turn is above the switching level. Click to move the sensor there.",
              )}
        </Text>
      </Stack>
      <Stack gap={3} data-testid="chances">
        <Text fontWeight="600">{t("Probability of a clean signal")}</Text>
        {view.chances.map((item) => (
          <Box key={item.code}>
            <Flex justify="space-between">
              <span>{item.label}</span>
              <Text as="span" fontFamily="mono" fontWeight="700">
                {fixed(item.chance_pct, 0)} %
              </Text>
            </Flex>
            <Text fontSize="xs" color="fg.muted">
              {t("between {0} and {1} %, by {2} trials", fixed(item.low_pct, 0), fixed(item.high_pct, 0), item.samples)}
            </Text>
          </Box>
        ))}
        {paired && (
          <Text fontWeight="600" color="bad.fg">
            {t(
              "✕ Do not rotate this sensor: its two elements must lie along the teeth. A quarter turn loses the signal.",
            )}
          </Text>
        )}
        <Text fontSize="sm" color="fg.muted">
          {t(
            "The position of the element in the body is not visible. Each trial puts it within {0} and {1}° of nominal, and moves the body by the fitting tolerance. “Mark sensing element” raises the probability.",
            show(view.facts.element_offset_mm, "mm").join(" "),
            view.facts.element_angle_tolerance_deg,
          )}
        </Text>
        {view.detail.enough && (
          <Text fontSize="sm">
            {t(
              "Signal above the switching level from {0} to +{1} of lateral movement.",
              length(view.reach_mm[0] ?? 0)[0],
              length(view.reach_mm[1] ?? 0).join(" "),
            )}
          </Text>
        )}
      </Stack>
    </Grid>
  );
}
