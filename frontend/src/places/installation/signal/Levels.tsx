import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { Suspense } from "react";
import type { Schemas } from "../../../api/client";
import { Plot } from "../../../drawings/LaterPlot";
import { LevelsView } from "../../../drawings/LevelsView";
import { fixed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEvaluated } from "../context";
import { useSignal } from "./queries";
import { LabelledValue, ms, ohm, TABLE } from "./results";

/** What arrives, where it switches, what the reader takes; a coil over speed. */
export function Levels() {
  const evaluated = useEvaluated();
  const { signal_detail: detail } = evaluated.result;
  const { arriving, comparator, coil } = detail;
  const reader = evaluated.document.readouts[0];
  return (
    <Stack gap={3}>
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        <LabelledValue name={t("At the end of the lead: {0}", arriving.text)} testId="levels">
          {arriving.levels
            ? `${fixed(arriving.levels.low_v, 2)} … ${fixed(arriving.levels.high_v, 2)} V`
            : t("not known")}
        </LabelledValue>
        {arriving.rise_s !== null && <LabelledValue name={t("Rise time")}>{ms(1000 * arriving.rise_s)}</LabelledValue>}
        {arriving.pull_up_to_fit && <LabelledValue name={t("Pull-up to fit")}>{arriving.pull_up_to_fit}</LabelledValue>}
        {comparator && (
          <LabelledValue name={t("Thresholds with these resistors")} testId="thresholds">
            {fixed(comparator.falling_v, 2)} / {fixed(comparator.rising_v, 2)} V
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
    [t("Supply to the reference"), result.r1_ohm],
    [t("Reference to ground"), result.r2_ohm],
    [t("Signal to the input"), result.input_resistor_ohm],
    [t("Output back to the input"), result.r_feedback_ohm],
  ];
  return (
    <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap={3} data-testid="resistors">
      <TableRoot variant="line" css={TABLE}>
        <Table.Body>
          {rows.map(([name, value]) => (
            <Table.Row key={name}>
              <Table.Cell>{name}</Table.Cell>
              <Table.Cell fontFamily="mono">{ohm(value)}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
      <Text fontSize="sm">
        {t(
          "The reference goes to the inverting input. With the tolerance of the resistors it rises between {0} and {1} V, and falls between {2} and {3} V.",
          fixed(result.rising_low_v, 2),
          fixed(result.rising_high_v, 2),
          fixed(result.falling_low_v, 2),
          fixed(result.falling_high_v, 2),
        )}
      </Text>
    </Grid>
  );
}

/** A coil over speed, and the two ways with it. */
function Coil({ coil }: { coil: NonNullable<Schemas["SignalDetail"]["coil"]> }) {
  const evaluated = useEvaluated();
  const { scale, speedUnit, show } = useUnits();
  const asked = useSignal(evaluated.document);
  const view = asked.data;
  if (!view) return <Pending asked={asked} text={t("Drawing …")} />;
  const flat = (value: number) => view.coil_line?.kmh.map(() => value) ?? [];
  return (
    <Stack gap={2}>
      {view.coil_line && (
        <Suspense fallback={<Box minH="200px" />}>
          <Plot
            x={view.coil_line.kmh.map((item) => item * scale)}
            xLabel={speedUnit}
            yLabel={t("V pp")}
            height={200}
            describe={t(
              "Voltage of the coil over speed: usable from {0} km/h, {1} V peak to peak at the top speed.",
              fixed(coil.min_speed_kmh, 1),
              fixed(coil.at_top_vpp, 1),
            )}
            lines={[
              { label: t("coil"), values: view.coil_line.vpp, look: "ours" },
              { label: t("arming threshold"), values: flat(2 * coil.arming_v), look: "true" },
              ...(coil.max_input_vpp === null
                ? []
                : [{ label: t("max. input"), values: flat(coil.max_input_vpp), look: "limit" as const }]),
            ]}
          />
          <Text fontSize="sm" color="fg.muted">
            {t("Full: the coil; fine dashes: it works from there; long dashes: what the converter takes.")}
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
              {t("from {0}; at the top {1}", show(way.min_speed_kmh, "km/h", 2).join(" "), way.at_top)}
            </Text>
            <Text fontSize="sm">{way.text}</Text>
          </Box>
        ))}
      </Grid>
    </Stack>
  );
}
