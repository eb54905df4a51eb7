import { Grid, Stack, Table, Text } from "@chakra-ui/react";
import { useUnits } from "../../../ui/units";
import { useEditing } from "../context";
import { useSignal } from "./queries";
import { LabelledValue, Missing, ms, TABLE } from "./results";

/** Frequency to voltage: ripple, settling, load, and the values that would do better. */
export function Volts() {
  const { evaluated } = useEditing();
  const { show } = useUnits();
  const result = useSignal(evaluated.document).data?.analogue;
  if (!result)
    return (
      <Missing>
        <Text fontWeight="600">No frequency-to-voltage conversion entered.</Text>
        <Text>
          For a gauge with a voltage input, enter the pulse width and its smoothing under “Frequency to voltage”.
        </Text>
      </Missing>
    );
  const { smoothed, advised } = result;
  return (
    <Stack gap={3} data-testid="smoothing">
      <Text fontWeight="600">{result.text}.</Text>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3}>
        <LabelledValue name="Cut-off">{smoothed.cutoff_hz.toPrecision(3)} Hz</LabelledValue>
        <LabelledValue name="Ripple at half scale">{(1000 * smoothed.ripple_vpp).toPrecision(3)} mV pp</LabelledValue>
        <LabelledValue name="Settling time, to 1 %">{ms(1000 * smoothed.settling_s)}</LabelledValue>
        <LabelledValue name="Error from the load">{Math.abs(smoothed.loading_pct).toPrecision(2)} %</LabelledValue>
      </Grid>
      <Text>
        With {result.advised_nf >= 1000 ? `${result.advised_nf / 1000} µF` : `${result.advised_nf} nF`} each:{" "}
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
          {result.outputs.map((row) => (
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
