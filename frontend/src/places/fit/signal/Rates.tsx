import { Box, Stack, Table, Text } from "@chakra-ui/react";
import { lazy, Suspense } from "react";
import type { Schemas } from "../../../api/client";
import { useUnits } from "../../../ui/units";
import { useEditing } from "../context";
import { Figures } from "../links";
import { useSignal } from "./queries";
import { hz, ms, TABLE } from "./told";

const Plot = lazy(() => import("../../../drawings/Plot").then((found) => ({ default: found.Plot })));

/** Every stage at the lowest and the top speed, against what it follows. */
export function Rates() {
  const { evaluated } = useEditing();
  const { show } = useUnits();
  const lines = useSignal(evaluated.document).data?.lines;
  const { signal_detail, pulse_times } = evaluated.result;
  const slow = show(pulse_times.lowest_kmh, "km/h", 1).join(" ");
  const fast = show(pulse_times.top_kmh, "km/h", 1).join(" ");
  return (
    <Stack gap={3}>
      <Figures link="signal" />
      <Box overflowX="auto">
        <Table.Root size="sm" variant="line" css={TABLE} data-testid="rates">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>Stage</Table.ColumnHeader>
              <Table.ColumnHeader>Hz at {slow}</Table.ColumnHeader>
              <Table.ColumnHeader>Hz at {fast}</Table.ColumnHeader>
              <Table.ColumnHeader>follows up to</Table.ColumnHeader>
              <Table.ColumnHeader>pulse at {fast}</Table.ColumnHeader>
              <Table.ColumnHeader>sees from</Table.ColumnHeader>
              <Table.ColumnHeader />
            </Table.Row>
          </Table.Header>
          <Table.Body fontFamily="mono">
            {signal_detail.rates.map((row, place) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: names may be the same, places are not
              <Table.Row key={place}>
                <Table.Cell fontFamily="body">{row.label}</Table.Cell>
                <Table.Cell>{hz(row.lowest_hz)}</Table.Cell>
                <Table.Cell>{hz(row.top_hz)}</Table.Cell>
                <Table.Cell>{row.most_hz === null ? "not known" : hz(row.most_hz)}</Table.Cell>
                <Table.Cell>{ms(row.shortest_ms)}</Table.Cell>
                <Table.Cell>{row.least_ms === null ? "not known" : ms(row.least_ms)}</Table.Cell>
                <Table.Cell
                  color={row.kept_up && row.pulse_seen ? "good.fg" : "bad.fg"}
                  fontWeight="700"
                  whiteSpace="nowrap"
                >
                  {!row.kept_up ? "✕ too fast" : !row.pulse_seen ? "✕ too short" : "✓"}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      {lines && <RatePlot lines={lines} />}
    </Stack>
  );
}

/** Every stage's frequency over speed; limits that are near enough to be seen as dashes. */
function RatePlot({ lines }: { lines: Schemas["SignalLines"] }) {
  const { scale, speedUnit } = useUnits();
  const most = Math.max(...lines.hz.flat());
  const limits = [...new Set(lines.most_hz.filter((one): one is number => one !== null && one < 4 * most))];
  const distinct = lines.hz.filter((line, place) => lines.hz.findIndex((one) => one.at(-1) === line.at(-1)) === place);
  return (
    <Suspense fallback={<Box minH="220px" />}>
      <Plot
        x={lines.kmh.map((one) => one * scale)}
        xLabel={speedUnit}
        yLabel="Hz"
        height={220}
        describe={`Frequency over speed: ${lines.labels.map((label, place) => `${label} ${hz(lines.hz[place]?.at(-1) ?? 0)} Hz at the end`).join(", ")}. Limits: ${limits.map(hz).join(", ") || "none near"}.`}
        lines={[
          ...distinct.map((values, place) => ({
            label: lines.labels[place] ?? "",
            values,
            look: place === 0 ? ("ours" as const) : ("true" as const),
          })),
          ...limits.map((limit) => ({ label: "limit", values: lines.kmh.map(() => limit), look: "limit" as const })),
        ]}
      />
      <Text fontSize="sm" color="fg.muted">
        Full: the sensor's pulses{distinct.length > 1 && "; fine dashes: behind the converter"}; long dashes: what a
        stage follows.
      </Text>
    </Suspense>
  );
}
