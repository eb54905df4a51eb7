import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { LacedWheel } from "../../../drawings/LacedWheel";
import { useDialog } from "../../../ui/address";
import { fixed, signed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { Small } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { GuideSheet, ShowSteps } from "../GuideSheet";
import { usePlacement, useSpokes } from "../sensing";

/** Every set of spokes for the magnets, the best first, and how to count it at the wheel. */
export function SpokePlanner() {
  const { show } = useUnits();
  const { evaluated, set } = useEditing();
  const asked = useSpokes(evaluated.document);
  const plan = asked.data;
  const placed = usePlacement(evaluated.document).data;
  const [looked, look] = useState(-1);
  const [dialog, open] = useDialog();
  if (!plan) return <Pending asked={asked} text={t("Planning …")} />;
  const { spokes } = evaluated.document.target;
  const inUse = plan.sets.findIndex((item) => item.in_use);
  const place = Math.min(looked >= 0 ? looked : Math.max(inUse, 0), plan.sets.length - 1);
  const shown = plan.sets[place];
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 370px) minmax(0, 1fr)" }} gap={4} data-testid="spoke-planner">
      <LacedWheel plan={plan} set={shown} />
      <Stack gap={3} minW={0}>
        {shown && (
          <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={2}>
            <Text fontWeight="600">{t("Spokes {0}: {1}", shown.spokes.join(", "), shown.text)}</Text>
            <Text fontSize="sm">{t("Numbers: {0}.", plan.numbering)}</Text>
            <Text fontSize="sm">{plan.rule}</Text>
          </Box>
        )}
        <Box overflowX="auto">
          <TableRoot>
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader>{t("spokes")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("spacing error")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("plane")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("speed ripple")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body fontFamily="mono">
              {plan.sets.slice(0, 7).map((item, at) => (
                <Table.Row key={item.spokes.join()} fontWeight={at === place ? "700" : undefined}>
                  <Table.Cell>
                    <button
                      type="button"
                      onClick={() => look(at)}
                      aria-pressed={at === place}
                      style={{ textDecoration: "underline", minHeight: 32, textAlign: "left", whiteSpace: "nowrap" }}
                    >
                      {item.spokes.join(", ")}
                    </button>
                    {item.in_use && <Text fontSize="xs">{t("in use")}</Text>}
                  </Table.Cell>
                  <Table.Cell>{fixed(item.error_deg, 1)}°</Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {item.same_plane ? t("same") : show(item.plane_offset_mm, "mm", 1).join(" ")}
                  </Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {signed(item.ripple_low_pct, 1)} … {signed(item.ripple_high_pct, 1)} %
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </TableRoot>
        </Box>
        {placed?.detail.possible && (
          <Text fontSize="sm">
            {t(
              "With the sensor as it is placed, a magnet passes it from {0} to {1} from the axle.",
              fixed(plan.radius_mm + (placed.reach_mm[0] ?? 0), 0),
              show(plan.radius_mm + (placed.reach_mm[1] ?? 0), "mm", 0.5).join(" "),
            )}
          </Text>
        )}
        <Text fontSize="sm" color="fg.muted">
          {t(
            "Free for a magnet, from the axle: {0}. Between them spokes cross. Nearer the hub it passes slower and steadier; moved 10 mm towards the rim a magnet comes {1} mm further in.",
            plan.windows
              .map((item) => t("{0} to {1}", show(item.low_mm, "mm", 0.5)[0], show(item.high_mm, "mm", 0.5).join(" ")))
              .join(", ") || t("nowhere on this side"),
            fixed(10 * plan.slope_mm_per_mm, 1),
          )}
        </Text>
        <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={2}>
          <Small
            onClick={() => set("target.spokes", { ...spokes, chosen: shown?.spokes ?? [] })}
            disabled={!shown || shown.in_use}
          >
            {shown?.in_use ? t("In use") : t("Use these spokes")}
          </Small>
          <ShowSteps code="spokes" open={open} />
        </Grid>
        <GuideSheet code={dialog === "spokes" ? "spokes" : null} close={() => open(null)} />
      </Stack>
    </Grid>
  );
}
