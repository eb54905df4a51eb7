import { Box, Grid, Stack, Text } from "@chakra-ui/react";
import { Small } from "../../../ui/Small";
import { Tick } from "../../../ui/Tick";
import { useEditing } from "../context";
import { PickField, QuantityField } from "../fields";
import { PartFiles } from "../PartFiles";

const CAUTION =
  "Stands on firm ground, never under a vehicle on a jack alone; wheels chocked; hands, sleeves and leads clear of what " +
  "turns. Nothing on calipers or brake lines without a competent person. Do not cinch before the spin test.";

/** What it has to be clear of, and a bracket to make. */
export function Mounting() {
  const { document, catalogue, set } = useEditing();
  const clearances_checked: string[] = document.placement?.clearances_checked ?? [];
  const bracket = document.placement?.bracket;
  const able = catalogue.clearances.filter((item) => item.vehicle_kinds.includes(document.vehicle_kind));
  const toggle = (code: string) =>
    set(
      "placement.clearances_checked",
      clearances_checked.includes(code)
        ? clearances_checked.filter((item) => item !== code)
        : [...clearances_checked, code],
    );
  return (
    <Grid templateColumns={{ base: "1fr", xl: "1fr 1.4fr" }} gap={5} data-testid="mounting">
      <Stack gap={1}>
        <Text fontWeight="600">
          Clearances: {clearances_checked.length} of {able.length} checked
        </Text>
        {able.map((item) => (
          <Tick key={item.code} checked={clearances_checked.includes(item.code)} toggle={() => toggle(item.code)}>
            {item.label}
          </Tick>
        ))}
        <Box borderLeftWidth="4px" borderColor="signal.fg" bg="signal.subtle" px={3} py={2}>
          <Text fontSize="sm" fontWeight="600">
            ! {CAUTION}
          </Text>
        </Box>
      </Stack>
      <Stack gap={3}>
        <Text fontWeight="600">A flat bracket from plate</Text>
        {bracket ? (
          <>
            <Grid templateColumns={{ base: "repeat(2, minmax(0, 1fr))", xl: "repeat(3, minmax(0, 1fr))" }} gap={3}>
              <PickField
                path="placement.bracket.bolts"
                label="Number of bolts"
                number
                options={["1", "2", "3"].map((code) => ({ code, label: code }))}
              />
              <QuantityField path="placement.bracket.bolt_spacing_mm" label="Bolt spacing" unit="mm" usual="25" />
              <QuantityField
                path="placement.bracket.bolt_hole_mm"
                label="Bolt hole diameter"
                unit="mm"
                nudge={0.1}
                usual="6.5"
              />
              <QuantityField
                path="placement.bracket.reach_mm"
                label="Reach"
                unit="mm"
                usual="60"
                hint="bolts to sensor"
              />
              <QuantityField path="placement.bracket.slot_travel_mm" label="Slot travel" unit="mm" usual="6" />
              <QuantityField
                path="placement.bracket.sensor_hole_mm"
                label="Sensor hole diameter"
                unit="mm"
                nudge={0.1}
                usual="12.2"
              />
              <QuantityField
                path="placement.bracket.thickness_mm"
                label="Plate thickness"
                unit="mm"
                nudge={0.5}
                usual="3"
              />
              <QuantityField
                path="placement.bracket.bend_mm"
                label="Bend position"
                unit="mm"
                usual="0"
                hint="0 for none"
              />
              <QuantityField path="placement.bracket.kerf_mm" label="Kerf" unit="mm" nudge={0.05} usual="0" />
            </Grid>
            <PartFiles part="bracket" text={`reach ${bracket.reach_mm ?? 60} mm`} />
            <Text fontSize="sm" color="fg.muted">
              Print the PDF at 100 %, check its ruler, cut it from cardboard and try it on the vehicle before any metal
              is cut.
            </Text>
            <Small alignSelf="flex-start" onClick={() => set("placement.bracket", null)}>
              Remove the bracket
            </Small>
          </>
        ) : (
          <>
            <Text color="fg.muted">
              Bolt holes, reach and a slot to set the gap. Print a cardboard template first, then cut.
            </Text>
            <Small
              alignSelf="flex-start"
              onClick={() => set("placement", { ...document.placement, bracket: { bolts: 2 } })}
            >
              Plan a bracket
            </Small>
          </>
        )}
      </Stack>
    </Grid>
  );
}
