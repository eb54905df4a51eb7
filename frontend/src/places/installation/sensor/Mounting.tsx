import { Grid, Stack, Text } from "@chakra-ui/react";
import { Small } from "../../../ui/Small";
import { Tick } from "../../../ui/Tick";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { Entries } from "../fields";
import { PartFiles } from "../PartFiles";
import { begun, fieldAt } from "../schema";

const BRACKET = [
  "bolts",
  "bolt_spacing_mm",
  "bolt_hole_mm",
  "reach_mm",
  "slot_travel_mm",
  "sensor_hole_mm",
  "thickness_mm",
  "bend_mm",
  "kerf_mm",
];

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
        <Text fontWeight="600">{t("Clearances: {0} of {1} checked", clearances_checked.length, able.length)}</Text>
        {able.map((item) => (
          <Tick key={item.code} checked={clearances_checked.includes(item.code)} toggle={() => toggle(item.code)}>
            {item.label}
          </Tick>
        ))}
        <Cautions tasks={["lift", "fit_sensor"]} />
        <Text fontSize="sm">{t("Tighten only after the spin test.")}</Text>
      </Stack>
      <Stack gap={3}>
        <Text fontWeight="600">{t("A flat bracket from plate")}</Text>
        {bracket ? (
          <>
            <Entries of="placement.bracket" names={BRACKET} wide />
            <PartFiles
              part="bracket"
              text={t("reach {0} mm", bracket.reach_mm ?? fieldAt(catalogue, "placement.bracket.reach_mm")?.usual)}
            />
            <Text fontSize="sm" color="fg.muted">
              {t(
                "Print the PDF at 100 %, check its ruler, cut it from cardboard and try it on the vehicle before any metal is cut.",
              )}
            </Text>
            <Small alignSelf="flex-start" onClick={() => set("placement.bracket", null)}>
              {t("Remove the bracket")}
            </Small>
          </>
        ) : (
          <>
            <Text color="fg.muted">
              {t("Bolt holes, reach and a slot to set the gap. Print a cardboard template first, then cut.")}
            </Text>
            <Small
              alignSelf="flex-start"
              onClick={() => set("placement.bracket", begun(catalogue, "placement.bracket"))}
            >
              {t("Plan a bracket")}
            </Small>
          </>
        )}
      </Stack>
    </Grid>
  );
}
