import { Box, Grid, Stack, Text } from "@chakra-ui/react";
import { Suspense } from "react";
import { Ring } from "../../../drawings/Ring";
import { useView } from "../../../ui/address";
import { lazily } from "../../../ui/lazily";
import { useUnits } from "../../../ui/units";
import { Views } from "../../../ui/Views";
import { t } from "../../../ui/words";
import { useEditing, useEvaluated } from "../context";
import { Entries } from "../fields";
import { PartFiles } from "../PartFiles";
import { choicesAt } from "../schema";
import { Figures } from "../stages";
import { SpokePlanner } from "./SpokePlanner";

const CapturedRing = lazily(() => import("./CapturedRing").then((found) => ({ default: found.CapturedRing })));

/** The target to scale; which spokes carry its magnets; a ring to make. */
export function TargetResult() {
  const { show } = useUnits();
  const { evaluated, catalogue } = useEditing();
  const [view, choose] = useView("");
  const { kind = "toothed_ring", count, magnets } = evaluated.document.target;
  const text = choicesAt(catalogue, "target.kind").find((item) => item.code === kind)?.label ?? kind;
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
            {t(
              "Tooth {0}, gap {1}; nearest module of a gear, ISO 54: {2}.",
              show(ring.tooth_mm, "mm", 1).join(" "),
              show(ring.air_gap_mm, "mm", 1).join(" "),
              ring.nearest_module_mm,
            )}
          </Text>
        )}
        {!ring && catalogue.ring_targets.includes(kind) && (
          <Text color="fg.muted">{t("Enter the diameter or the module to draw the teeth to scale.")}</Text>
        )}
      </Stack>
    </Grid>
  );
  const views = [{ code: "target", label: t("The target"), content: drawing }];
  if (kind === "magnets" && (magnets?.mounted ?? "spokes") === "spokes")
    views.push({ code: "spokes", label: t("Spoke planner"), content: <SpokePlanner /> });
  if (catalogue.ring_targets.includes(kind) && kind !== "multipole_ring")
    views.push({ code: "cut", label: t("Make your own ring"), content: <RingToCut /> });
  views.push({
    code: "capture",
    label: t("Captured pulses"),
    content: (
      <Suspense fallback={<Text>{t("Opening …")}</Text>}>
        <CapturedRing />
      </Suspense>
    ),
  });
  return <Views label={t("The target")} chosen={view} choose={choose} views={views} />;
}

function RingToCut() {
  const { show } = useUnits();
  const evaluated = useEvaluated();
  const ring = evaluated.result.ring;
  if (!ring) return <Text color="fg.muted">{t("Enter the diameter of the ring first.")}</Text>;
  return (
    <Stack gap={3} data-testid="ring-to-cut">
      <Text>
        {t(
          "{0} teeth, {1} across, {2} pitch. Teeth are cut to suit the sensor, half a pitch deep unless a depth is entered.",
          evaluated.document.target.count,
          show(ring.diameter_mm, "mm", 0.05).join(" "),
          show(ring.pitch_mm, "mm", 0.5).join(" "),
        )}
      </Text>
      <Entries
        of="target.cut"
        names={["form", "thickness_mm", "bore_mm", "bolts", "bolt_circle_mm", "bolt_hole_mm", "kerf_mm"]}
        wide
      />
      <PartFiles
        part="ring"
        text={t("{0} teeth, {1} across", evaluated.document.target.count, show(ring.diameter_mm, "mm", 0.05).join(" "))}
      />
      <Text fontSize="sm" color="fg.muted">
        {t(
          "DXF and SVG allow for the kerf; the PDF is the finished part at full size, with a ruler to check the print. Cut steel that a magnet sticks to.",
        )}
      </Text>
      <Text fontSize="sm" fontWeight="600">
        {t(
          "! A loose ring destroys what is near it: bolts to the vehicle's torque with threadlocker, and nothing on brake parts without a competent person.",
        )}
      </Text>
    </Stack>
  );
}
