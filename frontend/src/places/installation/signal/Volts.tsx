import { Grid, Stack, Table, Text } from "@chakra-ui/react";
import { digits, fixed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEvaluated } from "../context";
import { useSignal } from "./queries";
import { LabelledValue, Missing, ms, TABLE } from "./results";

/** Frequency to voltage: ripple, settling, load, and the values that would do better. */
export function Volts() {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const asked = useSignal(evaluated.document);
  const result = asked.data?.analogue;
  if (!asked.data) return <Pending asked={asked} text={t("Computing …")} />;
  if (!result)
    return (
      <Missing>
        <Text fontWeight="600">{t("No frequency-to-voltage conversion entered.")}</Text>
        <Text>
          {t("For a gauge with a voltage input, enter the pulse width and its smoothing under “Frequency to voltage”.")}
        </Text>
      </Missing>
    );
  const { smoothed, advised } = result;
  return (
    <Stack gap={3} data-testid="smoothing">
      <Text fontWeight="600">{result.text}.</Text>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3}>
        <LabelledValue name={t("Cut-off")}>{t("{0} Hz", digits(smoothed.cutoff_hz, 3))}</LabelledValue>
        <LabelledValue name={t("Ripple at half scale")}>
          {t("{0} mV pp", digits(1000 * smoothed.ripple_vpp, 3))}
        </LabelledValue>
        <LabelledValue name={t("Settling time, to 1 %")}>{ms(1000 * smoothed.settling_s)}</LabelledValue>
        <LabelledValue name={t("Error from the load")}>{digits(Math.abs(smoothed.loading_pct), 2)} %</LabelledValue>
      </Grid>
      <Text>
        {t(
          "With {0} each: {1} mV of ripple, settled in {2}.",
          result.advised_nf >= 1000 ? `${result.advised_nf / 1000} µF` : t("{0} nF", result.advised_nf),
          digits(1000 * advised.ripple_vpp, 2),
          ms(1000 * advised.settling_s),
        )}
      </Text>
      <TableRoot variant="line" css={TABLE}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("True speed")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("on for")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("gives")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("reads as")}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {result.outputs.map((row) => (
            <Table.Row key={row.kmh}>
              <Table.Cell>{show(row.kmh, "km/h", 0.5).join(" ")}</Table.Cell>
              <Table.Cell>{fixed(row.duty_pct, 0)} %</Table.Cell>
              <Table.Cell>{fixed(row.volts, 2)} V</Table.Cell>
              <Table.Cell>{show(row.shown_kmh, "km/h", 0.5).join(" ")}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
    </Stack>
  );
}
