import { Box, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { lazy, type ReactNode, Suspense, useState } from "react";
import type { Schemas } from "../../../api/client";
import { LevelsView } from "../../../drawings/LevelsView";
import { offer } from "../../../ui/files";
import { figure, signed } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { Views } from "../../../ui/Views";
import { useEditing } from "../context";
import { Figures } from "../links";
import { fetchWiringPdf, useSignal, useWiring } from "./queries";

const Plot = lazy(() => import("../../../drawings/Plot").then((found) => ({ default: found.Plot })));
const TABLE = { "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1 } };

/** Rates of every stage, levels and what makes them square, ratio and voltage for gauges, and the wires. */
export function SignalResult() {
  const [view, choose] = useState("rates");
  return (
    <Views
      label="The signal"
      chosen={view}
      choose={choose}
      views={[
        { code: "rates", label: "Rates", content: <Rates /> },
        { code: "levels", label: "Levels", content: <Levels /> },
        { code: "ratio", label: "Ratio for a gauge", content: <Ratio /> },
        { code: "volts", label: "To a voltage", content: <Volts /> },
        { code: "wiring", label: "Wires and order sheet", content: <Wiring /> },
      ]}
    />
  );
}

/** A number with its name above it. */
export function Told({ name, children, testId }: { name: string; children: ReactNode; testId?: string }) {
  return (
    <Box>
      <Text fontSize="sm" color="fg.muted">
        {name}
      </Text>
      <Text fontFamily="mono" fontSize="xl" data-testid={testId}>
        {children}
      </Text>
    </Box>
  );
}

const Missing = ({ children }: { children: ReactNode }) => (
  <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={2}>
    {children}
  </Box>
);

const hz = (value: number) => (value >= 100 ? value.toFixed(0) : value.toPrecision(3));
const ms = (value: number) => (value >= 1 ? `${value.toPrecision(3)} ms` : `${(1000 * value).toPrecision(3)} µs`);

function Rates() {
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

function Levels() {
  const { evaluated } = useEditing();
  const { signal_detail: detail } = evaluated.result;
  const { arriving, comparator, coil } = detail;
  const reader = evaluated.document.readouts[0];
  return (
    <Stack gap={3}>
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        <Told name={`At the end of the lead: ${arriving.words}`} testId="levels">
          {arriving.levels
            ? `${arriving.levels.low_v.toFixed(2)} … ${arriving.levels.high_v.toFixed(2)} V`
            : "not known"}
        </Told>
        {arriving.rise_s !== null && <Told name="It rises in">{ms(1000 * arriving.rise_s)}</Told>}
        {arriving.largest_pull_up_ohm !== null && (
          <Told name="Pull-up, at most">{ohm(arriving.largest_pull_up_ohm)}</Told>
        )}
        {comparator && (
          <Told name="Thresholds, with these resistors" testId="thresholds">
            {comparator.falling_v.toFixed(2)} / {comparator.rising_v.toFixed(2)} V
          </Told>
        )}
      </Grid>
      <LevelsView
        arriving={arriving.levels}
        atReader={detail.at_reader}
        comparator={comparator}
        input={reader?.input ?? null}
        reader={reader?.name ?? ""}
      />
      {comparator && <Resistors told={comparator} />}
      {coil && <Coil coil={coil} />}
    </Stack>
  );
}

export const ohm = (value: number) =>
  value >= 1e6 ? `${figure(value / 1e6)} MΩ` : value >= 1000 ? `${figure(value / 1000)} kΩ` : `${figure(value)} Ω`;

function Resistors({ told }: { told: NonNullable<Schemas["SignalDetail"]["comparator"]> }) {
  const rows: [string, number][] = [
    ["Supply to the reference", told.r1_ohm],
    ["Reference to ground", told.r2_ohm],
    ["Signal to the input", told.r_in_ohm],
    ["Output back to the input", told.r_feedback_ohm],
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
        {told.rising_low_v.toFixed(2)} and {told.rising_high_v.toFixed(2)} V, and falls between{" "}
        {told.falling_low_v.toFixed(2)} and {told.falling_high_v.toFixed(2)} V.
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
  const flat = (value: number) => view.lines.kmh.map(() => value);
  return (
    <Stack gap={2}>
      {view.lines.coil_vpp.length > 0 && (
        <Suspense fallback={<Box minH="200px" />}>
          <Plot
            x={view.lines.kmh.map((one) => one * scale)}
            xLabel={speedUnit}
            yLabel="V pp"
            height={200}
            describe={`Voltage of the coil over speed: usable from ${coil.lowest_kmh.toFixed(1)} km/h, ${coil.at_top_vpp.toFixed(1)} V peak to peak at the top speed.`}
            lines={[
              { label: "coil", values: view.lines.coil_vpp, look: "ours" },
              { label: "works from", values: flat(2 * coil.arming_v), look: "true" },
              ...(coil.most_vpp === null
                ? []
                : [{ label: "takes at most", values: flat(coil.most_vpp), look: "limit" as const }]),
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
              from {show(way.lowest_kmh, "km/h", 2).join(" ")}; at the top {way.at_top}
            </Text>
            <Text fontSize="sm">{way.words}</Text>
          </Box>
        ))}
      </Grid>
    </Stack>
  );
}

const fraction = (stages: Schemas["RatioChoice"][]) =>
  stages.map((one) => `${one.numerator}/${one.denominator}`).join(" · ");

function Ratio() {
  const { evaluated, set } = useEditing();
  const { show } = useUnits();
  const conversion = evaluated.result.signal_detail.conversion;
  const ways = useSignal(evaluated.document).data?.ways ?? [];
  if (!conversion)
    return (
      <Missing>
        <Text fontWeight="600">There is no ratio converter.</Text>
        <Text>
          Where a gauge wants other pulses than the sensor gives, enter what it wants under “A ratio converter, to a
          gauge”: from its papers, from its face, or by a bench test.
        </Text>
      </Missing>
    );
  const at = show(evaluated.result.shown.true_kmh, "km/h", 0.1).join(" ");
  return (
    <Stack gap={3}>
      <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 5fr) minmax(0, 6fr)" }} gap={4}>
        <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
          <Text color="chalk.dim">{conversion.typed ? "It is set to" : "Set the converter to"}</Text>
          <Text fontFamily="mono" fontWeight="700" fontSize="4xl" lineHeight="1.1" data-testid="ratio">
            {fraction(conversion.stages)}
          </Text>
          <Text color="chalk.dim">pulses out for pulses in</Text>
          <Text fontSize="sm" mt={2}>
            {signed(conversion.error_ppm / 1e4, 3)} %, {signed(conversion.error_kmh, 3)} km/h at {at}
          </Text>
        </Box>
        <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} alignContent="start">
          <Told name={`In, at ${at}`}>{hz(conversion.in_hz)} Hz</Told>
          <Told name="Out" testId="out-hz">
            {hz(conversion.out_hz)} Hz
          </Told>
          <Told name="Late by">{ms(conversion.latency_ms)}</Told>
          <Told name="Late at the lowest speed">{ms(conversion.latency_lowest_ms)}</Told>
          {conversion.cap_hz !== null && <Told name="Output stays at">{hz(conversion.cap_hz)} Hz</Told>}
        </Grid>
      </Grid>
      <Table.Root size="sm" variant="line" css={TABLE} data-testid="ratio-ways">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Ways to it</Table.ColumnHeader>
            <Table.ColumnHeader>setting</Table.ColumnHeader>
            <Table.ColumnHeader>error</Table.ColumnHeader>
            <Table.ColumnHeader>at {at}</Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {ways.map((way) => (
            <Table.Row key={way.label}>
              <Table.Cell fontFamily="body">{way.label}</Table.Cell>
              <Table.Cell>{fraction(way.stages)}</Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                {Math.abs(way.error_ppm) < 1000
                  ? `${signed(way.error_ppm, 1)} ppm`
                  : `${signed(way.error_ppm / 1e4, 2)} %`}
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap">{signed(way.error_kmh, 3)} km/h</Table.Cell>
              <Table.Cell>
                <Small
                  fontFamily="body"
                  aria-label={`Set it to ${fraction(way.stages)}`}
                  onClick={() =>
                    set(
                      "signal.converter.set_to",
                      way.stages.map(({ numerator, denominator }) => ({ numerator, denominator })),
                    )
                  }
                >
                  Set it so
                </Small>
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Text fontSize="sm" color="fg.muted">
        Exact: {conversion.wanted_ratio.toPrecision(7)} pulses out for each one in. Prove it with the test card on the
        bench.
      </Text>
    </Stack>
  );
}

function Volts() {
  const { evaluated } = useEditing();
  const { show } = useUnits();
  const told = useSignal(evaluated.document).data?.analogue;
  if (!told)
    return (
      <Missing>
        <Text fontWeight="600">No voltage is made of the frequency yet.</Text>
        <Text>
          For a gauge that takes a voltage, enter the pulse width and its smoothing under “Frequency to voltage”.
        </Text>
      </Missing>
    );
  const { smoothed, advised } = told;
  return (
    <Stack gap={3} data-testid="smoothing">
      <Text fontWeight="600">{told.words}.</Text>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3}>
        <Told name="Cut-off">{smoothed.cutoff_hz.toPrecision(3)} Hz</Told>
        <Told name="Ripple at half scale">{(1000 * smoothed.ripple_vpp).toPrecision(3)} mV pp</Told>
        <Told name="Settles to 1 % in">{ms(1000 * smoothed.settling_s)}</Told>
        <Told name="Its load takes">{Math.abs(smoothed.loading_pct).toPrecision(2)} %</Told>
      </Grid>
      <Text>
        With {told.advised_nf >= 1000 ? `${told.advised_nf / 1000} µF` : `${told.advised_nf} nF`} each:{" "}
        {(1000 * advised.ripple_vpp).toPrecision(2)} mV of ripple, settled in {ms(1000 * advised.settling_s)}.
      </Text>
      <Table.Root size="sm" variant="line" css={TABLE}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>True speed</Table.ColumnHeader>
            <Table.ColumnHeader>on for</Table.ColumnHeader>
            <Table.ColumnHeader>gives</Table.ColumnHeader>
            <Table.ColumnHeader>reads as</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {told.outputs.map((row) => (
            <Table.Row key={row.kmh}>
              <Table.Cell>{show(row.kmh, "km/h", 0.5).join(" ")}</Table.Cell>
              <Table.Cell>{row.duty_pct.toFixed(0)} %</Table.Cell>
              <Table.Cell>{row.volts.toFixed(2)} V</Table.Cell>
              <Table.Cell>{show(row.shown_kmh, "km/h", 0.5).join(" ")}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Stack>
  );
}

function Wiring() {
  const { evaluated } = useEditing();
  const sheet = useWiring(evaluated.document).data;
  if (!sheet) return <Text>Writing …</Text>;
  return (
    <Stack gap={3} data-testid="wiring">
      {sheet.cautions.map((words) => (
        <Box key={words} borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={3} py={1}>
          <Text fontWeight="600">! {words}</Text>
        </Box>
      ))}
      {sheet.wires.length > 0 && (
        <Box overflowX="auto">
          <Table.Root size="sm" variant="line" css={TABLE}>
            <Table.Header>
              <Table.Row>
                {["Pin", "Colour", "It is", "Goes to", "With it"].map((head) => (
                  <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {sheet.wires.map((row) => (
                <Table.Row key={row.pin}>
                  <Table.Cell fontFamily="mono">{row.pin}</Table.Cell>
                  <Table.Cell>{row.colour}</Table.Cell>
                  <Table.Cell>{row.role}</Table.Cell>
                  <Table.Cell>{row.goes_to}</Table.Cell>
                  <Table.Cell>{row.with_it}</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap={4}>
        <Box>
          <ul style={{ paddingLeft: 18, listStyle: "disc" }}>
            {sheet.notes.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          <Flex mt={3}>
            <Small onClick={() => fetchWiringPdf(evaluated.document).then((file) => offer(file, "wiring.pdf"))}>
              Both sheets as PDF
            </Small>
          </Flex>
        </Box>
        <Table.Root size="sm" variant="line" css={TABLE} alignSelf="start">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>A supplier asks</Table.ColumnHeader>
              <Table.ColumnHeader>this fit</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {sheet.order.map((row) => (
              <Table.Row key={row.asked}>
                <Table.Cell>{row.asked}</Table.Cell>
                <Table.Cell color={row.known ? "fg" : "signal.fg"}>{row.answer}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Grid>
    </Stack>
  );
}
