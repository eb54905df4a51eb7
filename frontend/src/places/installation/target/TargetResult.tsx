import { Box, Grid, Stack, Text } from "@chakra-ui/react";
import { Ring } from "../../../drawings/Ring";
import { useView } from "../../../ui/address";
import { Views } from "../../../ui/Views";
import { useEditing } from "../context";
import { PickField, QuantityField } from "../fields";
import { PartFiles } from "../PartFiles";
import { Figures } from "../stages";
import { SpokePlanner } from "./SpokePlanner";

/** The target to scale; which spokes carry its magnets; a ring to make. */
export function TargetResult() {
  const { evaluated, catalogue } = useEditing();
  const [view, choose] = useView("");
  const { kind = "toothed_ring", count, magnets } = evaluated.document.target;
  const text = catalogue.target_kinds.find((item) => item.code === kind)?.label ?? kind;
  const ring = evaluated.result.ring;
  const drawing = (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 400px) minmax(0, 1fr)" }} gap={4}>
      <Box maxW="400px" w="100%" mx="auto">
        <Ring kind={kind} count={count} text={text} shape={ring} missing={ring ? ring.places - count : 0} />
      </Box>
      <Stack gap={3}>
        <Figures stage="target" />
        {ring && (
          <Text fontSize="sm" color="fg.muted">
            Tooth {ring.tooth_mm.toFixed(2)} mm, gap {ring.air_gap_mm.toFixed(2)} mm; nearest module of a gear, ISO 54:{" "}
            {ring.nearest_module_mm}.
          </Text>
        )}
        {!ring && catalogue.ring_targets.includes(kind) && (
          <Text color="fg.muted">Enter the diameter or the module to draw the teeth to scale.</Text>
        )}
      </Stack>
    </Grid>
  );
  const views = [{ code: "target", label: "The target", content: drawing }];
  if (kind === "magnets" && (magnets?.mounted ?? "spokes") === "spokes")
    views.push({ code: "spokes", label: "Spoke planner", content: <SpokePlanner /> });
  if (catalogue.ring_targets.includes(kind) && kind !== "multipole_ring")
    views.push({ code: "cut", label: "Make your own ring", content: <RingToCut /> });
  return <Views label="The target" chosen={view} choose={choose} views={views} />;
}

function RingToCut() {
  const { evaluated, catalogue } = useEditing();
  const ring = evaluated.result.ring;
  if (!ring) return <Text color="fg.muted">Enter the diameter of the ring first.</Text>;
  return (
    <Stack gap={3} data-testid="ring-to-cut">
      <Text>
        {evaluated.document.target.count} teeth, {ring.diameter_mm.toFixed(1)} mm across, {ring.pitch_mm.toFixed(2)} mm
        pitch. Teeth are cut to suit the sensor, half a pitch deep unless a depth is entered.
      </Text>
      <Grid templateColumns={{ base: "repeat(2, minmax(0, 1fr))", xl: "repeat(4, minmax(0, 1fr))" }} gap={3}>
        <PickField path="target.cut.form" label="Form" options={catalogue.cut_forms} />
        <QuantityField path="target.cut.thickness_mm" label="Plate thickness" unit="mm" nudge={0.5} usual="3" />
        <QuantityField path="target.cut.bore_mm" label="Bore" unit="mm" usual="30" />
        <QuantityField path="target.cut.bolts" label="Number of bolts" unit="" usual="6" />
        <QuantityField path="target.cut.bolt_circle_mm" label="Bolt circle" unit="mm" usual="44" />
        <QuantityField path="target.cut.bolt_hole_mm" label="Bolt hole" unit="mm" nudge={0.1} usual="5.2" />
        <QuantityField
          path="target.cut.kerf_mm"
          label="Kerf"
          unit="mm"
          nudge={0.05}
          usual="0.2"
          hint="width of the cut"
        />
      </Grid>
      <PartFiles
        part="ring"
        text={`${evaluated.document.target.count} teeth, ${ring.diameter_mm.toFixed(1)} mm across`}
      />
      <Text fontSize="sm" color="fg.muted">
        DXF and SVG allow for the kerf; the PDF is the finished part at full size, with a ruler to check the print. Cut
        steel that a magnet sticks to.
      </Text>
      <Text fontSize="sm" fontWeight="600">
        ! A loose ring destroys what is near it: bolts to the vehicle's torque with threadlocker, and nothing on brake
        parts without a competent person.
      </Text>
    </Stack>
  );
}
