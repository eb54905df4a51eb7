import { Box, Button, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Fit, LinkName } from "../../api/client";
import { DriveTrain } from "../../drawings/DriveTrain";
import { Ring } from "../../drawings/Ring";
import { WheelOnGround } from "../../drawings/WheelOnGround";
import { Cards } from "../../ui/fields";
import { useUnits } from "../../ui/units";
import { useEditing } from "./context";
import { PickField, ProofField, QuantityField, WordsField } from "./fields";

/** The entries a method or kind needs, empty: nothing is made up for the person to overlook. */
const EMPTY: Record<string, Record<string, unknown>> = {
  marking: { text: "" },
  taped_diameter: { diameter_mm: "" },
  roll_out: { turns: 3, distance_mm: "" },
  typed: { circumference_mm: "" },
  axle_ratio: { ratio: "" },
  sprockets: { wheel_teeth: "", shaft_teeth: "" },
};

const part = (document: Fit, link: "wheel" | "drive") => (document[link] ?? {}) as Record<string, unknown>;

export function WheelInputs() {
  const { document, evaluated, catalogue, set } = useEditing();
  const wheel = document.wheel;
  const onWater = document.vehicle_kind === "boat";
  const choose = (method: string) =>
    set("wheel", { ...wheel, method, [method]: part(document, "wheel")[method] ?? EMPTY[method] });
  const read = evaluated.result.links[0]?.why[0]?.source;
  return (
    <Stack gap={3}>
      <Cards
        label={onWater ? "How is the run per turn known?" : "How is the circumference known?"}
        value={wheel.method}
        change={choose}
        options={onWater ? [{ code: "typed", label: "Known run per turn" }] : catalogue.wheel_methods}
        columns={2}
      />
      {wheel.method === "marking" && (
        <>
          <WordsField
            path="wheel.marking.text"
            label="Size marking on the sidewall"
            meaning={evaluated.document.wheel.method === "marking" ? read : undefined}
            hint={catalogue.accepted_markings}
          />
          <PickField path="wheel.marking.factor" label="From diameter to circumference" options={catalogue.factors} />
        </>
      )}
      {wheel.method === "taped_diameter" && (
        <Grid templateColumns="1fr 1fr" gap={3}>
          <QuantityField
            path="wheel.taped_diameter.diameter_mm"
            label="Floor to top"
            unit="mm"
            hint="660, 26in, 0.66 m"
          />
          <QuantityField path="wheel.taped_diameter.reading_mm" label="Read to ±" unit="mm" nudge={0.5} />
        </Grid>
      )}
      {wheel.method === "roll_out" && (
        <Grid templateColumns="1fr 1fr" gap={3}>
          <QuantityField path="wheel.roll_out.turns" label="Turns" unit="" />
          <QuantityField path="wheel.roll_out.distance_mm" label="Distance" unit="mm" hint="6210, 6.21 m" />
          <QuantityField path="wheel.roll_out.tape_mm" label="Tape, u" unit="mm" nudge={0.5} />
          <QuantityField path="wheel.roll_out.mark_mm" label="Each mark, u" unit="mm" nudge={0.5} />
        </Grid>
      )}
      {wheel.method === "typed" && (
        <>
          <QuantityField
            path="wheel.typed.circumference_mm"
            label={onWater ? "Run per turn of the paddle" : "Circumference"}
            unit="mm"
            hint="2105, 2.105 m"
          />
          <PickField path="wheel.typed.source" label="Where is it from?" options={catalogue.sources} />
        </>
      )}
      <ProofField path="wheel.proof" link="wheel" />
    </Stack>
  );
}

export function DriveInputs() {
  const { document, catalogue, set } = useEditing();
  const drive = document.drive ?? {};
  const kind = drive.kind ?? "hub";
  const choose = (next: string) =>
    set("drive", {
      ...drive,
      kind: next,
      ...(next === "hub" ? {} : { [next]: part(document, "drive")[next] ?? EMPTY[next] }),
    });
  return (
    <Stack gap={3}>
      <Cards label="Where does the target sit?" value={kind} change={choose} options={catalogue.drive_kinds} />
      {kind === "axle_ratio" && (
        <>
          <QuantityField path="drive.axle_ratio.ratio" label="Axle ratio" unit="" nudge={0.01} hint="3.73, 41/11" />
          <PickField
            path="drive.axle_ratio.basis"
            label="How is it known?"
            options={[
              { code: "label", label: "Read off a label or list" },
              { code: "counted", label: "Counted by turning wheel and shaft" },
            ]}
          />
          {drive.axle_ratio?.basis === "counted" && (
            <QuantityField path="drive.axle_ratio.wheel_turns" label="Turns of the wheel counted over" unit="" />
          )}
        </>
      )}
      {kind === "sprockets" && (
        <Grid templateColumns="1fr 1fr" gap={3}>
          <QuantityField path="drive.sprockets.wheel_teeth" label="Teeth at the wheel" unit="" />
          <QuantityField path="drive.sprockets.shaft_teeth" label="Teeth at the sensed shaft" unit="" />
        </Grid>
      )}
      <Cards
        label="Is this wheel driven?"
        value={drive.driven ? "yes" : "no"}
        change={(code) => set("drive.driven", code === "yes")}
        options={[
          { code: "no", label: "No, it only rolls" },
          { code: "yes", label: "Yes, driven or pedalled" },
        ]}
        columns={2}
      />
      <ProofField path="drive.proof" link="drive" />
    </Stack>
  );
}

export function TargetInputs() {
  const { document, catalogue, set } = useEditing();
  return (
    <Stack gap={3}>
      <PickField path="target.kind" label="What passes the sensor?" options={catalogue.target_kinds} />
      <QuantityField path="target.count" label="How many per turn" unit="" hint="Count twice; mark the first." />
      <Cards
        label="Counted, or assumed?"
        value={document.target.basis ?? "assumed"}
        change={(code) => set("target.basis", code)}
        options={[
          { code: "assumed", label: "Assumed", hint: "from a list, or at a glance" },
          { code: "counted", label: "Counted", hint: "twice, at the part" },
        ]}
        columns={2}
      />
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
      <ProofField path="target.proof" link="target" />
    </Stack>
  );
}

export function SensorInputs() {
  const { catalogue } = useEditing();
  return (
    <Stack gap={3}>
      <PickField path="sensor.kind" label="Kind of sensor" options={catalogue.sensors} />
      <ProofField path="sensor.proof" link="sensor" />
    </Stack>
  );
}

export function SignalInputs() {
  return (
    <Stack gap={3}>
      <Text>The sensor is wired straight to the reader: every pulse arrives as one pulse.</Text>
      <QuantityField path="check_speed_kmh" label="Speed to look at" unit="km/h" hint="100, 60 mph, 10 kn" nudge={5} />
      <ProofField path="signal.proof" link="signal" />
    </Stack>
  );
}

export function WheelResult() {
  const { evaluated } = useEditing();
  const link = evaluated.result.links[0];
  return link ? <WheelOnGround link={link} onWater={evaluated.document.vehicle_kind === "boat"} /> : null;
}

export function DriveResult() {
  const { evaluated } = useEditing();
  const ratio = evaluated.result.links[1]?.figures[0]?.value ?? 1;
  return <DriveTrain drive={evaluated.document.drive} ratio={ratio} />;
}

export function TargetResult() {
  const { evaluated, catalogue } = useEditing();
  const { kind = "toothed_ring", count } = evaluated.document.target;
  const words = catalogue.target_kinds.find((one) => one.code === kind)?.label ?? kind;
  return (
    <Box maxW="420px" mx="auto">
      <Ring kind={kind} count={count} words={words} />
    </Box>
  );
}

export function SensorResult() {
  const { evaluated, catalogue } = useEditing();
  const sensor = catalogue.sensors.find((one) => one.code === evaluated.document.sensor.kind);
  const kind = evaluated.document.target.kind ?? "toothed_ring";
  return (
    <Stack gap={2}>
      <Text color="fg.muted">What a {sensor?.label} sensor can see</Text>
      <Flex gap={2} wrap="wrap">
        {catalogue.target_kinds.map((target) => {
          const seen = sensor?.sees.includes(target.code);
          return (
            <Text
              key={target.code}
              px={3}
              py={2}
              borderRadius="md"
              borderWidth={target.code === kind ? "2px" : "1px"}
              borderColor={target.code === kind ? "signal.fg" : "border"}
              color={seen ? "fg" : "fg.subtle"}
              textDecoration={seen ? undefined : "line-through"}
            >
              {seen ? "✓" : "✕"} {target.label}
              {target.code === kind && " (this fit)"}
            </Text>
          );
        })}
      </Flex>
    </Stack>
  );
}

export function Figures({ link }: { link: LinkName }) {
  const { evaluated } = useEditing();
  const { show } = useUnits();
  const found = evaluated.result.links.find((one) => one.link === link);
  return (
    <Grid templateColumns="repeat(auto-fit, minmax(190px, 1fr))" gap={3}>
      {found?.figures.map((one) => (
        <Box key={one.name} title={`${one.value} ${one.unit}`}>
          <Text fontSize="sm" color="fg.muted">
            {one.name}
          </Text>
          <Text fontFamily="mono" fontSize="xl">
            {show(one.value, one.unit, one.relative_standard_uncertainty_pct).join(" ")}
          </Text>
        </Box>
      ))}
    </Grid>
  );
}

/** Findings of one link, with what to do. */
export function Findings({ link }: { link: LinkName }): ReactNode {
  const { evaluated } = useEditing();
  return evaluated.result.findings
    .filter((finding) => finding.link === link)
    .map((finding) => (
      <Box
        key={finding.code + finding.message}
        borderLeftWidth="4px"
        borderColor={
          finding.severity === "note" ? "border.emphasized" : finding.severity === "blocking" ? "bad.fg" : "signal.fg"
        }
        bg="bg.subtle"
        px={3}
        py={2}
        data-finding={finding.code}
      >
        <Text fontWeight="600" color={finding.severity === "blocking" ? "bad.fg" : "fg"}>
          {{ blocking: "✕ Blocks: ", warning: "! Warning: ", note: "Note: " }[finding.severity]}
          {finding.message}
        </Text>
        <Text>{finding.remedy}</Text>
      </Box>
    ));
}

export function AddReadout() {
  const { document, set, catalogue } = useEditing();
  const encoding = catalogue.encodings[0]?.code ?? "circumference_mm";
  const add = () =>
    set("readouts", [...document.readouts, { name: `Readout ${document.readouts.length + 1}`, encoding }]);
  return (
    <Button
      size="sm"
      variant="outline"
      minH={{ base: "44px", md: "36px" }}
      onClick={add}
      disabled={document.readouts.length >= 8}
    >
      Add a readout
    </Button>
  );
}
