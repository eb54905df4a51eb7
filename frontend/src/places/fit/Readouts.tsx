import { Box, Button, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import type { ReadoutResult } from "../../api/client";
import { figure, signed } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { useEditing } from "./context";
import { PickField, ProofField, QuantityField, WordsField } from "./fields";
import { AddReadout } from "./links";

export function ReadoutInputs({ chosen, choose }: { chosen: number; choose: (place: number) => void }) {
  const { document, catalogue, set } = useEditing();
  const readout = document.readouts[chosen];
  if (!readout) return null;
  const path = `readouts.${chosen}`;
  const encoding = catalogue.encodings.find((one) => one.code === readout.encoding);
  const unit = encoding?.unit ?? "";
  return (
    <Stack gap={3}>
      <Flex gap={2} wrap="wrap">
        {document.readouts.map((one, place) => (
          <Button
            // biome-ignore lint/suspicious/noArrayIndexKey: readouts have no identity but their place
            key={place}
            size="sm"
            minH={{ base: "44px", md: "36px" }}
            variant={place === chosen ? "solid" : "outline"}
            colorPalette={place === chosen ? "signal" : undefined}
            aria-pressed={place === chosen}
            onClick={() => choose(place)}
          >
            {one.name || "…"}
          </Button>
        ))}
        <AddReadout />
      </Flex>
      <Grid templateColumns="1fr 1fr" gap={3}>
        <WordsField path={`${path}.name`} label="Name" />
        <PickField path={`${path}.encoding`} label="What it wants typed in" options={catalogue.encodings} />
        {encoding?.per_turn && (
          <QuantityField
            path={`${path}.told_pulses_per_turn`}
            label={readout.encoding === "teeth_and_diameter" ? "Teeth it is told" : "Pulses per turn it is told"}
            unit=""
            hint="1 where it has no such setting"
          />
        )}
        <QuantityField
          path={`${path}.typed`}
          label="In the display now"
          unit={unit}
          optional
          nudge={readout.step ?? encoding?.step ?? 1}
          hint="Leave empty until read back."
        />
        <QuantityField path={`${path}.display_step_kmh`} label="Display steps by" unit="km/h" nudge={0.1} />
        <QuantityField path="check_speed_kmh" label="Check at true" unit="km/h" nudge={5} />
      </Grid>
      <details>
        <summary style={{ cursor: "pointer", minHeight: 32 }}>Range and step of this reader</summary>
        <Grid templateColumns="1fr 1fr 1fr" gap={3} pt={2}>
          <QuantityField path={`${path}.minimum`} label={`Least (${encoding?.minimum})`} unit="" optional />
          <QuantityField path={`${path}.maximum`} label={`Most (${encoding?.maximum})`} unit="" optional />
          <QuantityField path={`${path}.step`} label={`Step (${encoding?.step})`} unit="" optional nudge={0.1} />
        </Grid>
      </details>
      {document.readouts.length > 1 && (
        <Button
          size="sm"
          variant="outline"
          alignSelf="flex-start"
          onClick={() => {
            set(
              "readouts",
              document.readouts.filter((_, place) => place !== chosen),
            );
            choose(0);
          }}
        >
          Remove {readout.name}
        </Button>
      )}
      <ProofField path={`${path}.proof`} link="readout" />
    </Stack>
  );
}

const READS = { over: "reads high", under: "reads low", true: "true" } as const;
const ROUNDED = {
  up: "rounded up, towards over-reading",
  down: "rounded down, towards over-reading",
  nearest: "rounded to the nearest",
};

export function ReadoutFace({ chosen }: { chosen: number }) {
  const { evaluated } = useEditing();
  const readout = evaluated.result.readouts[chosen];
  if (!readout) return null;
  const unit = readout.unit;
  const differs = readout.typed !== null && readout.typed !== readout.to_type.value;
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", xl: "minmax(0, 5fr) minmax(0, 6fr)" }} gap={4}>
      <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
        <Text color="chalk.dim">Type into {readout.name}</Text>
        {readout.told_pulses_per_turn !== null && readout.told_pulses_per_turn > 1 && (
          <Text fontFamily="mono" fontSize="lg">
            {readout.told_pulses_per_turn} {readout.encoding === "teeth_and_diameter" ? "teeth" : "pulses per turn"},
            and
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
            {readout.to_type.value}
          </Text>
          <Text color="chalk.dim">{unit}</Text>
        </Flex>
        <Text fontSize="sm" color="chalk.dim" title={String(readout.exact)}>
          exact {figure(readout.exact)}; {ROUNDED[readout.rounding]}
        </Text>
        {differs && (
          <Text mt={2} color="signal.onRoad" fontWeight="600">
            In it now: {readout.typed} → shows {signed(readout.in_use.error_pct)} %
          </Text>
        )}
      </Box>
      <Neighbours readout={readout} unit={unit} />
    </Grid>
  );
}

function Neighbours({ readout, unit }: { readout: ReadoutResult; unit: string }) {
  const { evaluated } = useEditing();
  const { show, speedUnit } = useUnits();
  const rows = [readout.below, readout.above, readout.to_type, ...(readout.typed === null ? [] : [readout.in_use])];
  const once = [...new Map(rows.map((row) => [row.value, row])).values()].sort((a, b) => a.value - b.value);
  return (
    <Table.Root
      size="sm"
      variant="line"
      css={{ "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1 } }}
    >
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>{unit || "number"}</Table.ColumnHeader>
          <Table.ColumnHeader whiteSpace="nowrap">
            {speedUnit} at {show(evaluated.result.shown.true_kmh, "km/h")[0]}
          </Table.ColumnHeader>
          <Table.ColumnHeader>error</Table.ColumnHeader>
          <Table.ColumnHeader />
        </Table.Row>
      </Table.Header>
      <Table.Body fontFamily="mono">
        {once.map((row) => (
          <Table.Row key={row.value} fontWeight={row.value === readout.to_type.value ? "700" : undefined}>
            <Table.Cell>{row.value}</Table.Cell>
            <Table.Cell>{show(row.shown_kmh, "km/h", 0.05)[0]}</Table.Cell>
            <Table.Cell whiteSpace={{ md: "nowrap" }}>
              {signed(row.error_pct, 3)} % {READS[row.reads]}
            </Table.Cell>
            <Table.Cell color="fg.muted">
              {[
                row.value === readout.to_type.value && "type this",
                row.value === readout.nearest.value && "nearest",
                row.value === readout.typed && "in it now",
              ]
                .filter(Boolean)
                .join(", ")}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
