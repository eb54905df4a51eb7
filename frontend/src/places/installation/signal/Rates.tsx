import { Stack, Table, Text } from "@chakra-ui/react";
import { RatesView } from "../../../drawings/RatesView";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEvaluated } from "../context";
import { Figures } from "../stages";
import { hz, ms, TABLE } from "./results";

/** Every stage at the lowest and the top speed, against what it follows. */
export function Rates() {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const { signal_detail, pulse_times } = evaluated.result;
  const slow = show(pulse_times.min_speed_kmh, "km/h", 1).join(" ");
  const fast = show(pulse_times.max_speed_kmh, "km/h", 1).join(" ");
  return (
    <Stack gap={3}>
      <Figures stage="signal" />
      <TableRoot variant="line" css={TABLE} data-testid="rates">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("Stage")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Hz at {0} … {1}", slow, fast)}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("max. frequency, Hz")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("pulse width")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("min. speed")}</Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {signal_detail.rates.map((row, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: names may be the same, places are not
            <Table.Row key={place}>
              <Table.Cell fontFamily="body">{row.label}</Table.Cell>
              <Table.Cell>
                {hz(row.lowest_hz)} … {hz(row.top_hz)}
              </Table.Cell>
              <Table.Cell>{row.max_frequency_hz === null ? t("not known") : hz(row.max_frequency_hz)}</Table.Cell>
              <Table.Cell>
                {ms(row.longest_ms)} … {ms(row.shortest_ms)}
              </Table.Cell>
              <Table.Cell>{row.least_ms === null ? t("not known") : ms(row.least_ms)}</Table.Cell>
              <Table.Cell
                color={!(row.kept_up && row.pulse_seen) ? "bad.fg" : row.max_frequency_hz ? "good.fg" : "fg.muted"}
                fontWeight="700"
              >
                {!row.kept_up
                  ? t("✕ too fast")
                  : !row.pulse_seen
                    ? t("✕ too short")
                    : row.max_frequency_hz
                      ? "✓"
                      : t("not checked")}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
      <RatesView rates={signal_detail.rates} />
      <Text fontSize="sm" color="fg.muted">
        {t("Bars from {0} to {1}, log scale. A line across a bar is its limit; dashed: beyond the limit.", slow, fast)}
      </Text>
    </Stack>
  );
}
