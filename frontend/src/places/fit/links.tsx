import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import type { LinkName } from "../../api/client";
import { Ring } from "../../drawings/Ring";
import { FindingBox } from "../../ui/FindingBox";
import { Cards } from "../../ui/fields";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { useEditing } from "./context";
import { PickField, ProofField, QuantityField } from "./fields";
import { GuideSheet } from "./GuideSheet";

export function TargetInputs() {
  const { document, catalogue, set } = useEditing();
  const [guide, open] = useState(false);
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
      <Small alignSelf="flex-start" onClick={() => open(true)}>
        Guide me
      </Small>
      <GuideSheet code={guide ? "count" : null} close={() => open(false)} />
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
    .map((finding) => <FindingBox key={finding.code + finding.message} finding={finding} />);
}
