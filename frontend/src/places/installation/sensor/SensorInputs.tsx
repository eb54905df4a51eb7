import { Flex, Grid, Stack } from "@chakra-ui/react";
import { useDialog } from "../../../ui/address";
import { More } from "../../../ui/More";
import { Line, Small, without } from "../../../ui/Small";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { type InstallationEditing, useNow, useOf } from "../context";
import { Entries, Entry, EntryCards, ProofField } from "../fields";
import { GuideSheet, ShowSteps } from "../GuideSheet";
import { PartOf } from "../PartOf";
import { NeedsFields } from "./SensorData";

const sensorKind = ({ document }: InstallationEditing) => document.sensor.kind;
const makerRows = ({ document }: InstallationEditing) => document.sensor.maker_gap?.by_module?.length ?? 0;
const onRing = ({ document }: InstallationEditing) => Boolean(document.target.ring);
const hasMaker = ({ document }: InstallationEditing) => Boolean(document.sensor.maker_gap);
const hasSecond = ({ document }: InstallationEditing) => Boolean(document.placement?.second_channel);
/** The middle of the permitted gap, while none is entered. */
const middleGap = ({ evaluated }: InstallationEditing) => {
  const detail = evaluated.result.placement_detail;
  return detail.possible && !detail.gap_given ? String(Number(detail.air_gap_mm.toFixed(2))) : undefined;
};

/** The kind of sensor, and where exactly it sits. */
export function SensorInputs() {
  const now = useNow();
  const [dialog, open] = useDialog();
  const middle = useOf(middleGap);
  const kind = useOf(sensorKind);
  const second = useOf(hasSecond);
  const sensor = now().catalogue.sensors.find((item) => item.code === kind);
  return (
    <Stack gap={3}>
      <Entry path="sensor.kind" />
      <PartOf kind="sensor" />
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
        <Entry path="placement.air_gap_mm" usual={middle} />
        <Entry path="placement.lateral_offset_mm" usual={sensor?.usual_offset} />
        <Entry path="placement.clocking_angle_deg" usual={sensor?.usual_clocking} />
        <Entry path="placement.tilt_deg" />
      </Grid>
      <EntryCards path="placement.air_gap_basis" />
      <ShowSteps code="gap" open={open} />
      <GuideSheet code={dialog === "gap" ? "gap" : null} close={() => open(null)} />
      <MakerGap />
      <More label={t("Play, thermal growth and fitting tolerance")}>
        <Entries of="placement" names={["bearing_play_mm", "temperature_rise_k", "fitting_tolerance_mm"]} />
      </More>
      <More label={t("Reach copied from the original sensor")}>
        <Entries of="placement" names={["original_reach_mm", "reach_mm"]} />
      </More>
      <More label={t("Second channel")} open={second}>
        <Entries of="placement.second_channel" names={["spacing_mm"]}>
          {second && (
            <Small mt="24px" onClick={() => now().set("placement.second_channel", null)}>
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

/** What the sensor's maker permits: a range, or a table by module for teeth. */
function MakerGap() {
  const now = useNow();
  const [rows, ring, entered] = [useOf(makerRows), useOf(onRing), useOf(hasMaker)];
  const path = "sensor.maker_gap.by_module";
  const table = () => now().document.sensor.maker_gap?.by_module ?? [];
  return (
    <More label={t("Air gap that the maker permits")} open={entered}>
      <Entries of="sensor.maker_gap" names={["lowest_mm", "highest_mm"]} />
      {Array.from({ length: rows }, (_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
        <Line key={at} what={t("row {0}", at + 1)} remove={() => now().set(path, without(table(), at))}>
          <Entry path={`${path}.${at}.module_mm`} />
          <Entry path={`${path}.${at}.highest_mm`} />
        </Line>
      ))}
      <Flex gap={2} wrap="wrap">
        {ring && (
          <Small onClick={() => now().set(path, [...table(), { module_mm: "", highest_mm: "" }])}>
            {t("Add a row of the table by module")}
          </Small>
        )}
        {entered && (
          <Small variant="ghost" onClick={() => now().set("sensor.maker_gap", null)}>
            {t("Remove")}
          </Small>
        )}
      </Flex>
    </More>
  );
}
