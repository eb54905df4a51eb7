import { Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Cards, ChoiceField } from "../../../ui/fields";
import { More } from "../../../ui/More";
import { Small } from "../../../ui/Small";
import { Cautions } from "../Cautions";
import { useEditing } from "../context";
import { PickField, ProofField, QuantityField } from "../fields";
import { GuideSheet } from "../GuideSheet";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;

/** What passes the sensor: its kind, its count, and its size as far as it is known. */
export function TargetInputs() {
  const { document, catalogue, set } = useEditing();
  const [guide, open] = useState(false);
  const kind = document.target.kind ?? "toothed_ring";
  if (catalogue.sensors.find((item) => item.code === document.sensor.kind)?.sees.length === 0)
    return (
      <Stack gap={3}>
        <Text>This sensor needs no target: nothing is counted here.</Text>
        <QuantityField path="target.count" label="Pulses per turn of the wheel that it sends" unit="" />
        <ProofField path="target.verification" stage="target" />
      </Stack>
    );
  return (
    <Stack gap={3}>
      <PickField path="target.kind" label="What passes the sensor?" options={catalogue.target_kinds} />
      <Grid {...pair} alignItems="end">
        <QuantityField path="target.count" label="How many per turn" unit="" hint="Count twice; mark the first." />
        <Small onClick={() => open(true)} mb="22px">
          Show steps
        </Small>
      </Grid>
      <Cards
        label="Counted, or assumed?"
        value={document.target.basis ?? "assumed"}
        change={(code) => set("target.basis", code)}
        options={catalogue.count_bases}
        columns={2}
      />
      {catalogue.ring_targets.includes(kind) && <RingFields kind={kind} />}
      {kind === "magnets" && <MagnetFields />}
      <Cards
        label="Edges of each that the reader counts"
        value={String(document.target.edges ?? 1)}
        change={(code) => set("target.edges", Number(code))}
        options={[
          { code: "1", label: "One edge" },
          { code: "2", label: "Both edges" },
        ]}
        columns={2}
      />
      <Cautions tasks={["fit_magnets"]} />
      <GuideSheet code={guide ? "count" : null} close={() => open(false)} />
      <ProofField path="target.verification" stage="target" />
    </Stack>
  );
}

function RingFields({ kind }: { kind: string }) {
  const { document, catalogue, set } = useEditing();
  const ring = document.target.ring;
  const byModule = ring?.form === "module";
  const poles = kind === "multipole_ring";
  return (
    <>
      <Grid {...pair}>
        {!poles && (
          <ChoiceField
            label="Size known by"
            value={byModule ? "module" : "diameter"}
            options={catalogue.ring_forms}
            change={(form) =>
              set("target.ring", {
                ...ring,
                form,
                module_mm: form === "module" ? (ring?.module_mm ?? "") : ring?.module_mm || null,
                diameter_mm: form === "module" ? ring?.diameter_mm || null : (ring?.diameter_mm ?? ""),
              })
            }
            testId="target.ring.form"
          />
        )}
        {byModule && !poles ? (
          <QuantityField path="target.ring.module_mm" label="Module" unit="mm" nudge={0.25} hint="1, 1.5, 2" />
        ) : (
          <QuantityField
            path="target.ring.diameter_mm"
            label="Diameter where it is sensed"
            unit="mm"
            hint="98, 3.9in"
          />
        )}
        <QuantityField path="target.ring.face_width_mm" label="Face width" unit="mm" nudge={0.5} usual="10" />
        {!poles && <PickField path="target.ring.material" label="Material" options={catalogue.materials} />}
      </Grid>
      <More label="Tooth, depth, runout, missing teeth">
        <Grid {...pair}>
          {!poles && (
            <>
              <QuantityField
                path="target.ring.tooth_width_mm"
                label="Tooth width"
                unit="mm"
                optional
                nudge={0.1}
                usual="half"
                hint="along the travel"
              />
              <QuantityField
                path="target.ring.tooth_depth_mm"
                label="Tooth depth"
                unit="mm"
                optional
                nudge={0.1}
                usual={byModule ? "2.25 m" : "deep"}
              />
              <QuantityField path="target.ring.missing_teeth" label="Missing teeth" unit="" usual="0" />
            </>
          )}
          <QuantityField path="target.ring.runout_mm" label="Runout (TIR)" unit="mm" nudge={0.05} usual="0.1" />
        </Grid>
      </More>
    </>
  );
}

function MagnetFields() {
  const { document, catalogue } = useEditing();
  const bar = document.target.magnets?.form === "bar";
  const spokes = (document.target.magnets?.mounted ?? "spokes") === "spokes";
  return (
    <>
      <Grid {...pair}>
        <PickField path="target.magnets.form" label="Magnet" options={catalogue.magnet_forms} />
        <PickField path="target.magnets.mounted" label="Where" options={catalogue.mountings} />
        <QuantityField
          path="target.magnets.diameter_mm"
          label={bar ? "Length along the travel" : "Diameter"}
          unit="mm"
          usual="8"
        />
        <QuantityField path="target.magnets.radius_mm" label="Radius they run at" unit="mm" nudge={5} usual="120" />
      </Grid>
      <More label="Strength, poles, runout">
        <Grid {...pair}>
          <QuantityField
            path="target.magnets.length_mm"
            label="Thickness"
            unit="mm"
            usual="6"
            hint="towards the sensor"
          />
          {bar && <QuantityField path="target.magnets.width_mm" label="Width" unit="mm" usual="6" />}
          <QuantityField
            path="target.magnets.remanence_mt"
            label="Remanence"
            unit="mT"
            nudge={20}
            usual="380"
            hint="ferrite 380, neodymium 1200"
          />
          <PickField path="target.magnets.pole" label="Pole" options={catalogue.poles} />
          <QuantityField path="target.magnets.runout_mm" label="Runout (TIR)" unit="mm" nudge={0.1} usual="0.5" />
        </Grid>
      </More>
      {spokes && (
        <More label="The wheel's spokes">
          <Grid {...pair}>
            <QuantityField
              path="target.spokes.holes"
              label="Spokes in all"
              unit=""
              nudge={4}
              usual="36"
              hint="28, 32, 36"
            />
            <QuantityField path="target.spokes.crosses" label="Crosses" unit="" usual="3" hint="0 is radial" />
            <QuantityField path="target.spokes.flange_diameter_mm" label="Flange, hole circle" unit="mm" usual="45" />
            <QuantityField path="target.spokes.flange_offset_mm" label="Flange from the middle" unit="mm" usual="34" />
            <QuantityField path="target.spokes.rim_diameter_mm" label="Rim, inside" unit="mm" nudge={10} usual="600" />
            <QuantityField
              path="target.spokes.flange_thickness_mm"
              label="Flange thickness"
              unit="mm"
              nudge={0.1}
              usual="3"
            />
          </Grid>
        </More>
      )}
    </>
  );
}
