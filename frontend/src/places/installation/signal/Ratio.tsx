import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { digits, signed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { Small } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { useSignal } from "./queries";
import { hz, LabelledValue, Missing, ms, TABLE } from "./results";

const fraction = (stages: Schemas["RatioChoice"][]) =>
  stages.map((item) => `${item.numerator}/${item.denominator}`).join(" · ");

/** The ratio converter's setting, its error and delay, and other ways to the ratio. */
export function Ratio() {
  const { evaluated, set } = useEditing();
  const { show, scale, speedUnit } = useUnits();
  const conversion = evaluated.result.signal_detail.conversion;
  const asked = useSignal(evaluated.document);
  const view = asked.data;
  const ways = view?.ways ?? [];
  if (!conversion)
    return (
      <Missing>
        <Text fontWeight="600">{t("No pulse-ratio converter.")}</Text>
        <Text>
          {t(
            "If a gauge needs other pulses per km than the sensor gives, enter them under “A ratio converter, to a gauge”: from its papers, from its face, or by a bench test.",
          )}
        </Text>
      </Missing>
    );
  const at = show(evaluated.result.shown.true_kmh, "km/h", 0.1).join(" ");
  return (
    <Stack gap={3}>
      <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 5fr) minmax(0, 6fr)" }} gap={4}>
        <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
          <Text color="chalk.dim">{conversion.typed ? t("Current setting") : t("Set the converter to")}</Text>
          <Text fontFamily="mono" fontWeight="700" fontSize="4xl" lineHeight="1.1" data-testid="ratio">
            {fraction(conversion.stages)}
          </Text>
          <Text color="chalk.dim">{t("pulses out for pulses in")}</Text>
          <Text fontSize="sm" mt={2}>
            {t(
              "Error of the ratio {0} %, so {1} {2} at {3}",
              signed(conversion.error_ppm / 1e4, 3),
              signed(conversion.error_kmh * scale, 3),
              speedUnit,
              at,
            )}
          </Text>
        </Box>
        <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} alignContent="start">
          <LabelledValue name={t("In, at {0}", at)}>{t("{0} Hz", hz(conversion.in_hz))}</LabelledValue>
          <LabelledValue name={t("Out")} testId="out-hz">
            {t("{0} Hz", hz(conversion.out_hz))}
          </LabelledValue>
          <LabelledValue name={t("Delay")}>{ms(conversion.latency_ms)}</LabelledValue>
          <LabelledValue name={t("Delay at the lowest speed")}>{ms(conversion.latency_lowest_ms)}</LabelledValue>
          {conversion.cap_hz !== null && (
            <LabelledValue name={t("Output stays at")}>{t("{0} Hz", hz(conversion.cap_hz))}</LabelledValue>
          )}
        </Grid>
      </Grid>
      <TableRoot variant="line" css={TABLE} data-testid="ratio-ways">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("Options")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("setting")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("error")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("at {0}", at)}</Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {ways.map((way) => (
            <Table.Row key={way.label}>
              <Table.Cell fontFamily="body">{way.label}</Table.Cell>
              <Table.Cell>{fraction(way.stages)}</Table.Cell>
              <Table.Cell>
                {Math.abs(way.error_ppm) < 1000
                  ? t("{0} ppm", signed(way.error_ppm, 1))
                  : `${signed(way.error_ppm / 1e4, 2)} %`}
              </Table.Cell>
              <Table.Cell>{`${signed(way.error_kmh * scale, 3)} ${speedUnit}`}</Table.Cell>
              <Table.Cell>
                <Small
                  fontFamily="body"
                  aria-label={t("Apply {0}", fraction(way.stages))}
                  onClick={() =>
                    set(
                      "signal.converter.setting",
                      way.stages.map(({ numerator, denominator }) => ({ numerator, denominator })),
                    )
                  }
                >
                  {t("Apply")}
                </Small>
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
      {view ? <OverRange rows={view.over_range} /> : <Pending asked={asked} text={t("Computing …")} />}
      <Text fontSize="sm" color="fg.muted">
        {t(
          "Exact: {0} pulses out for each one in. Prove it with the test card on the bench.",
          digits(conversion.wanted_ratio, 7),
        )}
      </Text>
    </Stack>
  );
}

/** Error and delay from the lowest to the top speed. */
function OverRange({ rows }: { rows: Schemas["RatioAt"][] }) {
  const { show, scale, speedUnit } = useUnits();
  return (
    <TableRoot variant="line" css={TABLE} data-testid="over-range">
      <Table.Header>
        <Table.Row>
          {[t("True speed"), "in", "out", "gauge off by", "late by"].map((head) => (
            <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body fontFamily="mono">
        {rows.map((row) => (
          <Table.Row key={row.kmh}>
            <Table.Cell>{show(row.kmh, "km/h", 0.5).join(" ")}</Table.Cell>
            <Table.Cell>{t("{0} Hz", hz(row.in_hz))}</Table.Cell>
            <Table.Cell>{row.capped ? t("{0} Hz, capped", hz(row.out_hz)) : t("{0} Hz", hz(row.out_hz))}</Table.Cell>
            <Table.Cell>{`${signed(row.error_kmh * scale, 3)} ${speedUnit}`}</Table.Cell>
            <Table.Cell>{ms(row.latency_ms)}</Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </TableRoot>
  );
}
