import { Grid, Stack } from "@chakra-ui/react";
import { useState } from "react";
import { More } from "../../../ui/More";
import { Small } from "../../../ui/Small";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { Entries, Entry, EntryCards, ProofField } from "../fields";
import { GuideSheet } from "../GuideSheet";
import { NeedsFields } from "./SensorData";

/** The kind of sensor, and where exactly it sits. */
export function SensorInputs() {
  const { document, evaluated, catalogue, set } = useEditing();
  const [guide, open] = useState(false);
  const detail = evaluated.result.placement_detail;
  const middle = detail.possible && !detail.gap_given ? String(Number(detail.air_gap_mm.toFixed(2))) : undefined;
  const sensor = catalogue.sensors.find((item) => item.code === document.sensor.kind);
  const second = document.placement?.second_channel;
  return (
    <Stack gap={3}>
      <Entry path="sensor.kind" />
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
        <Entry path="placement.air_gap_mm" usual={middle} />
        <Entry path="placement.lateral_offset_mm" usual={sensor?.usual_offset} />
        <Entry path="placement.clocking_angle_deg" usual={sensor?.usual_clocking} />
        <Entry path="placement.tilt_deg" />
      </Grid>
      <EntryCards path="placement.air_gap_basis" />
      <Small alignSelf="flex-start" onClick={() => open(true)}>
        {t("Show steps")}
      </Small>
      <GuideSheet code={guide ? "gap" : null} close={() => open(false)} />
      <More label={t("Play, thermal growth and fitting tolerance")}>
        <Entries of="placement" names={["bearing_play_mm", "temperature_rise_k", "fitting_tolerance_mm"]} />
      </More>
      <More label={t("Reach copied from the original sensor")}>
        <Entries of="placement" names={["original_reach_mm", "reach_mm"]} />
      </More>
      <More label={t("Second channel")} open={Boolean(second)}>
        <Entries of="placement.second_channel" names={["spacing_mm"]}>
          {second && (
            <Small mt="24px" onClick={() => set("placement.second_channel", null)}>
              {t("Remove")}
            </Small>
          )}
        </Entries>
      </More>
      <More label={t("Requirements")}>
        <NeedsFields />
      </More>
      <Cautions tasks={["fit_sensor"]} />
      <ProofField path="sensor.verification" stage="sensor" />
    </Stack>
  );
}
