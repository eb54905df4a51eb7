import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { lazy, Suspense } from "react";
import type { Schemas } from "../../../api/client";
import { LevelsView } from "../../../drawings/LevelsView";
import { useUnits } from "../../../ui/units";
import { useEditing } from "../context";
import { useSignal } from "./queries";
import { LabelledValue, ms, ohm, TABLE } from "./results";

const Plot = lazy(() => import("../../../drawings/Plot").then((found) => ({ default: found.Plot })));

/** What arrives, where it switches, what the reader takes; a coil over speed. */
export function Levels() {
  const { evaluated } = useEditing();
  const { signal_detail: detail } = evaluated.result;
  const { arriving, comparator, coil } = detail;
  const reader = evaluated.document.readouts[0];
  return (
    <Stack gap={3}>
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        <LabelledValue name={`At the end of the lead: ${arriving.text}`} testId="levels">
          {arriving.levels
            ? `${arriving.levels.low_v.toFixed(2)} … ${arriving.levels.high_v.toFixed(2)} V`
            : "not known"}
        </LabelledValue>
        {arriving.rise_s !== null && <LabelledValue name="Rise time">{ms(1000 * arriving.rise_s)}</LabelledValue>}
        {arriving.largest_pull_up_ohm !== null && (
          <LabelledValue name="Max. pull-up">{ohm(arriving.largest_pull_up_ohm)}</LabelledValue>
        )}
        {comparator && (
          <LabelledValue name="Thresholds with these resistors" testId="thresholds">
            {comparator.falling_v.toFixed(2)} / {comparator.rising_v.toFixed(2)} V
          </LabelledValue>
        )}
      </Grid>
      <LevelsView
        arriving={arriving.levels}
        atReader={detail.at_reader}
        comparator={comparator}
        input={reader?.input ?? null}
        reader={reader?.name ?? ""}
      />
      {comparator && <Resistors result={comparator} />}
      {coil && <Coil coil={coil} />}
    </Stack>
  );
}

function Resistors({ result }: { result: NonNullable<Schemas["SignalDetail"]["comparator"]> }) {
  const rows: [string, number][] = [
    ["Supply to the reference", result.r1_ohm],
    ["Reference to ground", result.r2_ohm],
    ["Signal to the input", result.input_resistor_ohm],
    ["Output back to the input", result.r_feedback_ohm],
  ];
  return (
    <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap={3} data-testid="resistors">
      <Table.Root size="sm" variant="line" css={TABLE}>
        <Table.Body>
          {rows.map(([name, value]) => (
            <Table.Row key={name}>
              <Table.Cell>{name}</Table.Cell>
              <Table.Cell fontFamily="mono">{ohm(value)}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Text fontSize="sm">
        The reference goes to the inverting input. With the tolerance of the resistors it rises between{" "}
        {result.rising_low_v.toFixed(2)} and {result.rising_high_v.toFixed(2)} V, and falls between{" "}
        {result.falling_low_v.toFixed(2)} and {result.falling_high_v.toFixed(2)} V.
      </Text>
    </Grid>
  );
}

/** A coil over speed, and the two ways with it. */
function Coil({ coil }: { coil: NonNullable<Schemas["SignalDetail"]["coil"]> }) {
  const { evaluated } = useEditing();
  const { scale, speedUnit, show } = useUnits();
  const view = useSignal(evaluated.document).data;
  if (!view) return <Text>Drawing …</Text>;
  const flat = (value: number) => view.coil_line?.kmh.map(() => value) ?? [];
  return (
    <Stack gap={2}>
      {view.coil_line && (
        <Suspense fallback={<Box minH="200px" />}>
          <Plot
            x={view.coil_line.kmh.map((item) => item * scale)}
            xLabel={speedUnit}
            yLabel="V pp"
            height={200}
            describe={`Voltage of the coil over speed: usable from ${coil.min_speed_kmh.toFixed(1)} km/h, ${coil.at_top_vpp.toFixed(1)} V peak to peak at the top speed.`}
            lines={[
              { label: "coil", values: view.coil_line.vpp, look: "ours" },
              { label: "arming threshold", values: flat(2 * coil.arming_v), look: "true" },
              ...(coil.max_input_vpp === null
                ? []
                : [{ label: "max. input", values: flat(coil.max_input_vpp), look: "limit" as const }]),
            ]}
          />
          <Text fontSize="sm" color="fg.muted">
            Full: the coil; fine dashes: it works from there; long dashes: what the converter takes.
          </Text>
        </Suspense>
      )}
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap={3} data-testid="coil-ways">
        {view.coil_ways.map((way) => (
          <Box key={way.code} borderWidth="1px" borderColor={way.good ? "signal.fg" : "border"} borderRadius="md" p={3}>
            <Text fontWeight="700">
              {way.good ? "✓ " : "✕ "}
              {way.label}
            </Text>
            <Text fontFamily="mono">
              from {show(way.min_speed_kmh, "km/h", 2).join(" ")}; at the top {way.at_top}
            </Text>
            <Text fontSize="sm">{way.text}</Text>
          </Box>
        ))}
      </Grid>
    </Stack>
  );
}
