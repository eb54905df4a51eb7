import { Box, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { Suspense } from "react";
import type { ReadoutResult as Result } from "../../../api/client";
import { Plot } from "../../../drawings/LaterPlot";
import { useView } from "../../../ui/address";
import { Exact } from "../../../ui/Exact";
import { figure, fixed, signed } from "../../../ui/format";
import { lazily } from "../../../ui/lazily";
import { Pending } from "../../../ui/Pending";
import { Small } from "../../../ui/Small";
import { isOtherwise, type ShownNow, useShownNow } from "../../../ui/shownNow";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { Views } from "../../../ui/Views";
import { t } from "../../../ui/words";
import { useOverSpeed } from "../bench/queries";
import { useEditing, useEvaluated } from "../context";
import { LikelyCauses } from "../LikelyCauses";
import { Observed } from "./Observed";
import { RideTimer } from "./RideTimer";

const DriveCheck = lazily(() => import("./DriveCheck").then((found) => ({ default: found.DriveCheck })));
const READS = { over: t("over-reads"), under: t("under-reads"), true: t("true") };
const ROUNDED = {
  up: t("rounded up, towards over-reading"),
  down: t("rounded down, towards over-reading"),
  nearest: t("rounded to the nearest"),
};

/** The setting to enter, what the number in it means, the reading over speed, and what the reader makes of pulses. */
export function ReadoutResult({ readout: chosen }: { readout: number }) {
  const evaluated = useEvaluated();
  const [view, choose] = useView("number");
  const readout = evaluated.result.readouts[chosen];
  if (!readout) return null;
  return (
    <Stack gap={3}>
      <Otherwise now={evaluated.shown_now[chosen]} />
      <Views
        label={t("The readout")}
        chosen={view}
        choose={choose}
        views={[
          { code: "number", label: t("Setting to enter"), content: <Number_ readout={readout} chosen={chosen} /> },
          { code: "speed", label: t("Over speed and legal limits"), content: <OverSpeed chosen={chosen} /> },
          {
            code: "drive",
            label: t("Check with a recorded drive"),
            content: (
              <Suspense fallback={<Text>{t("Opening …")}</Text>}>
                <DriveCheck chosen={chosen} />
              </Suspense>
            ),
          },
          { code: "speeds", label: t("Known from speeds"), content: <Observed chosen={chosen} /> },
          { code: "reader", label: t("Lowest speed, resolution"), content: <Reader readout={readout} /> },
        ]}
      />
    </Stack>
  );
}

/** Where something is blocked: what the display shows now, before the figures that hold once that is put right. */
function Otherwise({ now }: { now?: ShownNow }) {
  const really = useShownNow();
  if (!isOtherwise(now)) return null;
  return (
    <Box bg="bad.subtle" px={3} py={2} borderRadius="md" data-testid="otherwise">
      <Text fontWeight="700" color="bad.fg">
        {t("✕ At the check speed it now shows: {0}", really(now).join(" ").trim())}
      </Text>
      <Text>{now.cause}</Text>
      <Text fontSize="sm">
        {t("The figures below hold once this is put right.")} {now.remedy}
      </Text>
    </Box>
  );
}

/** A unit that compares counts: nothing to enter, and what arrives beside what it takes. */
function Counts({ readout }: { readout: Result }) {
  const { evaluated } = useEditing();
  return (
    <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4} data-testid="counts">
      <Text color="chalk.dim">{t("Nothing to enter in {0}", readout.name)}</Text>
      <Flex align="baseline" gap={2} wrap="wrap">
        <Text fontFamily="mono" fontWeight="700" fontSize={{ base: "5xl", md: "6xl" }} lineHeight="1.1">
          {figure(evaluated.result.pulses_per_turn_of_wheel)}
        </Text>
        <Text color="chalk.dim">{t("pulses per turn of the wheel")}</Text>
      </Flex>
      <Text>{readout.action}.</Text>
    </Box>
  );
}

function Number_({ readout, chosen }: { readout: Result; chosen: number }) {
  const unit = readout.unit;
  if (readout.entry === "learned")
    return (
      <Stack gap={3}>
        <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
          <Text fontSize="lg">{t("Nothing to enter in {0}: it learns its setting on a ride.", readout.name)}</Text>
          <Text color="chalk.dim">
            {t("Enter the ride as given in the manual, then compare the display with a true speed.")}
          </Text>
        </Box>
        <RideTimer readout={chosen} />
      </Stack>
    );
  if (readout.entry === "counts") return <Counts readout={readout} />;
  const differs = readout.current_setting !== null && readout.in_use.text !== readout.to_type.text;
  return (
    <Stack gap={3}>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", xl: "minmax(0, 5fr) minmax(0, 6fr)" }} gap={4}>
        <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
          <Text color="chalk.dim">
            {readout.entry === "typed"
              ? t("Enter in {0}", readout.name)
              : t("{0} cannot be set; it should be made for", readout.name)}
          </Text>
          {readout.set_pulses_per_turn !== null && readout.set_pulses_per_turn > 1 && (
            <Text fontFamily="mono" fontSize="lg">
              {readout.set_gear_ratio === null
                ? t("{0} pulses per turn, and", readout.set_pulses_per_turn)
                : readout.set_gear_ratio === 1
                  ? t("{0} teeth, and", readout.set_pulses_per_turn)
                  : t("{0} teeth, ratio {1}, and", readout.set_pulses_per_turn, readout.set_gear_ratio)}
            </Text>
          )}
          <Flex align="baseline" gap={2} wrap="wrap">
            <Text
              fontFamily="mono"
              fontWeight="700"
              fontSize={{ base: "5xl", md: "6xl" }}
              lineHeight="1.1"
              data-testid="to-type"
            >
              {readout.to_type.text}
            </Text>
            <Text color="chalk.dim">{unit}</Text>
          </Flex>
          {readout.also && (
            <Text fontFamily="mono" data-testid="also">
              = {readout.also}
            </Text>
          )}
          <Text fontSize="sm" color="chalk.dim">
            {t("exact")}{" "}
            <Exact value={readout.exact} unit={readout.unit}>
              {figure(readout.exact)}
            </Exact>
            ; {ROUNDED[readout.rounding]}
          </Text>
          {differs && (
            <Text mt={2} color="signal.onRoad" fontWeight="600">
              {t("Current setting {0}: shows {1} %", readout.in_use.text, signed(readout.in_use.error_pct))}
            </Text>
          )}
        </Box>
        {readout.table.length > 0 ? <Frequencies readout={readout} /> : <Neighbours readout={readout} unit={unit} />}
      </Grid>
      <Fixed chosen={chosen} />
      {readout.entry === "typed" && <ImpliedSetting chosen={chosen} readout={readout} />}
      {readout.residuals.length > 1 && <Residuals readout={readout} />}
    </Stack>
  );
}

/** A reader that cannot be set: what it shows, and what would make it right. */
function Fixed({ chosen }: { chosen: number }) {
  const evaluated = useEvaluated();
  const fixed = evaluated.result.fixed_readers.find((item) => item.readout === chosen);
  if (!fixed) return null;
  return (
    <Box bg="bg.subtle" px={3} py={2} data-testid="fixed">
      <Text fontWeight="600">{fixed.text}</Text>
      {fixed.ways.length > 0 && <Text fontSize="sm">{t("What would make it right:")}</Text>}
      {fixed.ways.map((way) => (
        <Text key={way.code} fontSize="sm">
          {way.text}: <span>{signed(way.error_pct)} %</span>
        </Text>
      ))}
    </Box>
  );
}

/** What the display implies with the number in it, how wrong that is, and what most likely happened. */
function ImpliedSetting({ chosen, readout }: { chosen: number; readout: Result }) {
  const { evaluated, set } = useEditing();
  const implied = evaluated.implied_settings.find((item) => item.readout === chosen);
  if (!implied) return null;
  const wrong = implied.verdict === "wrong";
  return (
    <Box bg="bg.subtle" px={3} py={2} data-testid="implied">
      <Text fontWeight="600">
        {t("Current setting: {0}.", implied.sentence)}{" "}
        <Text as="span" fontWeight="400">
          {implied.text}
        </Text>
      </Text>
      {wrong && <LikelyCauses causes={implied.causes} />}
      {wrong && implied.causes.length === 0 && (
        <Text fontSize="sm">
          {t("No known mistake explains this ratio. Measure again, then enter the setting above.")}
        </Text>
      )}
      {wrong && readout.encoding !== "chart_code" && readout.encoding !== "frequency_table" && (
        <Small mt={2} onClick={() => set(`readouts.${chosen}.current_setting`, readout.to_type.value)}>
          {t("Entered {0} and read back", readout.to_type.text)}
        </Small>
      )}
    </Box>
  );
}

function Neighbours({ readout, unit }: { readout: Result; unit: string }) {
  const evaluated = useEvaluated();
  const { show, speedUnit } = useUnits();
  const rows = [
    readout.below,
    readout.above,
    readout.to_type,
    ...(readout.current_setting === null ? [] : [readout.in_use]),
  ];
  const once = [...new Map(rows.map((row) => [row.value, row])).values()].sort((a, b) => a.value - b.value);
  return (
    <TableRoot variant="line" alignSelf="start">
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>{unit || t("number")}</Table.ColumnHeader>
          <Table.ColumnHeader whiteSpace="nowrap">
            {t("{0} at {1}", speedUnit, show(evaluated.result.shown.true_kmh, "km/h")[0])}
          </Table.ColumnHeader>
          <Table.ColumnHeader>{t("error")}</Table.ColumnHeader>
          <Table.ColumnHeader />
        </Table.Row>
      </Table.Header>
      <Table.Body fontFamily="mono">
        {once.map((row) => (
          <Table.Row key={row.value} fontWeight={row.value === readout.to_type.value ? "700" : undefined}>
            <Table.Cell>{row.text}</Table.Cell>
            <Table.Cell>{show(row.shown_kmh, "km/h", 0.05)[0]}</Table.Cell>
            <Table.Cell whiteSpace={{ md: "nowrap" }}>
              {signed(row.error_pct, 3)} % {READS[row.reads]}
            </Table.Cell>
            <Table.Cell color="fg.muted">
              {[
                readout.entry === "typed" && row.value === readout.to_type.value && t("enter this"),
                row.value === readout.nearest.value && t("nearest"),
                row.value === readout.current_setting && t("current setting"),
              ]
                .filter(Boolean)
                .join(", ")}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </TableRoot>
  );
}

function Frequencies({ readout }: { readout: Result }) {
  const { show, speedUnit } = useUnits();
  return (
    <TableRoot>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>{speedUnit}</Table.ColumnHeader>
          <Table.ColumnHeader>{t("enter, Hz")}</Table.ColumnHeader>
          <Table.ColumnHeader>{t("exact")}</Table.ColumnHeader>
          <Table.ColumnHeader>{t("current setting")}</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body fontFamily="mono">
        {readout.table.map((row) => (
          <Table.Row key={row.speed_kmh}>
            <Table.Cell>{show(row.speed_kmh, "km/h")[0]}</Table.Cell>
            <Table.Cell fontWeight="700">{row.to_type_hz}</Table.Cell>
            <Table.Cell>{figure(row.exact_hz)}</Table.Cell>
            <Table.Cell>{row.set_frequency_hz ?? ""}</Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </TableRoot>
  );
}

function Residuals({ readout }: { readout: Result }) {
  const { show } = useUnits();
  return (
    <TableRoot data-testid="residuals">
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>{t("true")}</Table.ColumnHeader>
          <Table.ColumnHeader>{t("shown, number in use")}</Table.ColumnHeader>
          <Table.ColumnHeader>{t("error")}</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body fontFamily="mono">
        {readout.residuals.map((row, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same speed may be asked for twice
          <Table.Row key={place}>
            <Table.Cell>{show(row.true_kmh, "km/h", 0.1).join(" ")}</Table.Cell>
            <Table.Cell>{show(row.shown_kmh, "km/h", 0.1).join(" ")}</Table.Cell>
            <Table.Cell>{signed(row.error_pct)} %</Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </TableRoot>
  );
}

/** True line, permitted range and this installation with its ±, over speed. */
function OverSpeed({ chosen }: { chosen: number }) {
  const evaluated = useEvaluated();
  const { scale, speedUnit } = useUnits();
  const document = evaluated.document;
  const asked = useOverSpeed(document, chosen);
  const result = asked.data;
  if (!result) return <Pending asked={asked} text={t("Drawing …")} />;
  const over = (values: number[]) => values.map((value, place) => (value - (result.true_kmh[place] ?? 0)) * scale);
  const point = result.band?.at_kmh != null;
  const full = !point && result.band_true_kmh.length > 0;
  const lines = [
    { label: t("true"), look: "true" as const, values: result.true_kmh.map(() => 0) },
    { label: t("lowest with ±"), look: "edge" as const, values: over(result.low_kmh) },
    { label: t("highest with ±"), look: "edge" as const, values: over(result.high_kmh) },
    { label: t("shown"), look: "ours" as const, values: over(result.shown_kmh) },
    ...(full
      ? [
          { label: t("lowest permitted"), look: "limit" as const, values: over(result.band_low_kmh) },
          { label: t("highest permitted"), look: "limit" as const, values: over(result.band_high_kmh) },
        ]
      : []),
  ];
  return (
    <Stack gap={2} data-testid="over-speed">
      <Suspense fallback={<Text>{t("Drawing …")}</Text>}>
        <Plot
          x={result.true_kmh.map((value) => value * scale)}
          xLabel={t("true, {0}", speedUnit)}
          yLabel={t("shown − true, {0}", speedUnit)}
          lines={lines}
          bands={[[3, 2]]}
          describe={t("Shown minus true over speed for {0}. {1}", result.readout, result.text)}
        />
      </Suspense>
      <Flex gap={4} wrap="wrap" fontSize="sm" color="fg.muted">
        <span>{t("━ shown, with its ± as a band")}</span>
        {full && <span>{t("╌ permitted range")}</span>}
        <span>{t("┈ true")}</span>
      </Flex>
      <Text fontWeight="600" data-testid="law">
        {result.text}
      </Text>
      {point && result.band && (
        <Text fontSize="sm">
          {t(
            "Allowed at {0} {1}: {2} to {3} {4}.",
            fixed(Number(result.band.at_kmh) * scale, 0),
            speedUnit,
            fixed((result.band_low_kmh[0] ?? 0) * scale, 0),
            fixed((result.band_high_kmh[0] ?? 0) * scale, 0),
            speedUnit,
          )}
        </Text>
      )}
      {result.band && (
        <Text fontSize="sm" color="fg.muted">
          {t("{0}. The rule is chosen in the details of the installation.", result.band.source)}
        </Text>
      )}
    </Stack>
  );
}

function Reader({ readout }: { readout: Result }) {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const result = readout.timing;
  const speed = (kmh: number, relativePct: number) => show(kmh, "km/h", relativePct).join(" ");
  const seconds = (value: number) => (value >= 1 ? `${fixed(value, 1)} s` : `${figure(1000 * value, 2)} ms`);
  const figures: [string, string][] = [
    [t("Lowest speed shown"), result.min_speed_kmh > 0 ? speed(result.min_speed_kmh, 2) : t("no limit")],
    [t("set by"), result.lowest_by],
    [t("Smallest change seen at {0}", speed(evaluated.result.shown.true_kmh, 0.1)), speed(result.resolution_kmh, 10)],
    [t("Update interval"), seconds(result.update_s)],
    [t("Delay"), seconds(result.lag_s)],
  ];
  return (
    <Stack gap={3} data-testid="timing">
      <Grid templateColumns="repeat(auto-fit, minmax(220px, 1fr))" gap={3}>
        {figures.map(([name, text]) => (
          <Box key={name}>
            <Text fontSize="sm" color="fg.muted">
              {name}
            </Text>
            <Text fontFamily="mono" fontSize="lg">
              {text}
            </Text>
          </Box>
        ))}
      </Grid>
      <Text fontSize="sm" color="fg.muted">
        {t("{0} {1}. Set this under “Pulse timing”.", readout.name, result.text)}
      </Text>
    </Stack>
  );
}
