import { Grid, Stack, Text } from "@chakra-ui/react";
import { useDialog } from "../../../ui/address";
import { ChoiceField } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { t } from "../../../ui/words";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { Entries, Entry, EntryCards, ProofField } from "../fields";
import { GuideSheet, ShowSteps } from "../GuideSheet";
import { PartOf } from "../PartOf";
import { begun, choicesAt } from "../schema";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;

/** What passes the sensor: its kind, its count, and its size as far as it is known. */
export function TargetInputs() {
  const { document, catalogue } = useEditing();
  const [dialog, open] = useDialog();
  const kind = document.target.kind ?? "toothed_ring";
  if (catalogue.sensors.find((item) => item.code === document.sensor.kind)?.sees.length === 0)
    return (
      <Stack gap={3}>
        <Text>{t("This sensor needs no target: nothing is counted here.")}</Text>
        <Entry path="target.count" label={t("Pulses per turn of the wheel that it sends")} hint="" />
        <ProofField path="target.verification" stage="target" />
      </Stack>
    );
  return (
    <Stack gap={3}>
      <Entry path="target.kind" />
      <Grid {...pair} alignItems="end">
        <Entry path="target.count" />
        <ShowSteps code="count" open={open} mb="22px" />
      </Grid>
      <PartOf kind="target" />
      <EntryCards path="target.basis" />
      {catalogue.ring_targets.includes(kind) && <RingFields kind={kind} />}
      {kind === "magnets" && <MagnetFields />}
      <EntryCards path="target.edges" />
      <Cautions tasks={["fit_magnets"]} />
      <GuideSheet code={dialog === "count" ? "count" : null} close={() => open(null)} />
      <ProofField path="target.verification" stage="target" />
    </Stack>
  );
}

function RingFields({ kind }: { kind: string }) {
  const { document, catalogue, set } = useEditing();
  const poles = kind === "multipole_ring";
  const ring = document.target.ring;
  const sizeBy = (form: string) => set("target.ring", { ...begun(catalogue, "target.ring"), ...ring, form });
  return (
    <>
      <Grid {...pair}>
        {!poles && (
          <ChoiceField
            label={t("Size known by")}
            value={ring?.form ?? "diameter"}
            options={choicesAt(catalogue, "target.ring.form")}
            change={sizeBy}
            testId="target.ring.form"
          />
        )}
        <Entry path="target.ring.module_mm" />
        <Entry path="target.ring.diameter_mm" />
        <Entry path="target.ring.face_width_mm" />
        {!poles && <Entry path="target.ring.material" />}
      </Grid>
      <More label={t("Tooth, depth, runout, missing teeth")}>
        <Entries
          of="target.ring"
          names={poles ? ["runout_mm"] : ["tooth_width_mm", "tooth_depth_mm", "missing_teeth", "runout_mm"]}
        />
      </More>
    </>
  );
}

function MagnetFields() {
  const { document } = useEditing();
  const bar = document.target.magnets?.form === "bar";
  return (
    <>
      <Grid {...pair}>
        <Entry path="target.magnets.form" />
        <Entry path="target.magnets.mounted" />
        <Entry path="target.magnets.diameter_mm" label={bar ? t("Length along the travel") : undefined} />
        <Entry path="target.magnets.radius_mm" />
      </Grid>
      <More label={t("Strength, poles, runout")}>
        <Entries of="target.magnets" names={["length_mm", "width_mm", "remanence_mt", "pole", "runout_mm"]} />
      </More>
      {(document.target.magnets?.mounted ?? "spokes") === "spokes" && (
        <More label={t("The wheel's spokes")}>
          <Entries
            of="target.spokes"
            names={[
              "holes",
              "crosses",
              "flange_diameter_mm",
              "flange_offset_mm",
              "rim_diameter_mm",
              "flange_thickness_mm",
            ]}
          />
        </More>
      )}
    </>
  );
}
