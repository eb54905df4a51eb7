import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { DriveTrain } from "../../../drawings/DriveTrain";
import { Cards } from "../../../ui/fields";
import { signed } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { useEditing } from "../context";
import { PickField, ProofField, QuantityField } from "../fields";
import { GuideSheet } from "../GuideSheet";
import { DRIVE_FIELDS, EMPTY } from "../shape";

const YES_NO = [
  { code: "false", label: "No" },
  { code: "true", label: "Yes" },
];

/** Where the target sits, and what turns it. */
export function DriveInputs() {
  const { document, catalogue, set } = useEditing();
  const drive = document.drive ?? {};
  const kind = drive.kind ?? "hub";
  const entries = drive as Record<string, unknown>;
  const choose = (next: string) =>
    set("drive", { ...drive, kind: next, ...(next === "hub" ? {} : { [next]: entries[next] ?? EMPTY.drive?.[next] }) });
  return (
    <Stack gap={3}>
      <Cards label="Position of the target" value={kind} change={choose} options={catalogue.drive_kinds} columns={2} />
      {kind === "axle_ratio" && <AxleRatio />}
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
        {(DRIVE_FIELDS[kind] ?? []).map((field) => (
          <QuantityField
            key={field.name}
            path={`drive.${kind}.${field.name}`}
            label={field.label}
            unit={field.unit ?? ""}
            hint={field.hint}
            nudge={field.nudge}
          />
        ))}
        {kind === "cable" && (
          <>
            <QuantityField
              path="drive.cable.wanted_turns"
              label="Turns the gauge needs"
              unit="turns"
              nudge={10}
              usual="1000"
            />
            <PickField path="drive.cable.wanted_per" label="per" options={catalogue.turns_per} />
            <QuantityField path="drive.cable.min_driven_teeth" label="Driven gears, smallest" unit="teeth" usual="12" />
            <QuantityField path="drive.cable.max_driven_teeth" label="Driven gears, largest" unit="teeth" usual="28" />
          </>
        )}
      </Grid>
      {kind === "transfer_box" && (
        <>
          <PickField path="drive.transfer_box.sensed" label="Side of the transfer box" options={catalogue.box_sides} />
          <PickField path="drive.transfer_box.range" label="Range driven in" options={catalogue.ranges} />
        </>
      )}
      {kind === "hub_motor" && (
        <>
          <PickField path="drive.hub_motor.sensed" label="Target on" options={catalogue.motor_sides} />
          <PickField path="drive.hub_motor.freewheel" label="Freewheel" options={YES_NO.toReversed()} flag />
        </>
      )}
      <Cards
        label="Driven wheel"
        value={drive.driven ? "yes" : "no"}
        change={(code) => set("drive.driven", code === "yes")}
        options={[
          { code: "no", label: "No" },
          { code: "yes", label: "Yes (engine, motor or pedals)" },
        ]}
        columns={2}
      />
      <ProofField path="drive.verification" stage="drive" />
    </Stack>
  );
}

function AxleRatio() {
  const { document, catalogue } = useEditing();
  const [guide, open] = useState(false);
  const counted = document.drive?.axle_ratio?.basis === "counted";
  const fields = (
    <>
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
        <QuantityField path="drive.axle_ratio.wheel_turns" label="Turns of the wheel" unit="" usual="10" />
        <QuantityField
          path="drive.axle_ratio.shaft_turns"
          label="Turns of the shaft"
          unit=""
          optional
          nudge={0.05}
          hint="to a twentieth: 37.3"
        />
      </Grid>
      <PickField path="drive.axle_ratio.one_wheel_held" label="One wheel held" options={YES_NO} flag />
    </>
  );
  return (
    <>
      <PickField path="drive.axle_ratio.basis" label="Source of the ratio" options={catalogue.ratio_bases} />
      {!counted && (
        <QuantityField
          path="drive.axle_ratio.ratio"
          label="Axle ratio"
          unit=""
          nudge={0.01}
          hint="3.73, 41/11"
          optional
        />
      )}
      {counted && fields}
      {counted && (
        <Small alignSelf="flex-start" onClick={() => open(true)}>
          Show steps
        </Small>
      )}
      <GuideSheet code={guide ? "ratio" : null} close={() => open(false)}>
        {fields}
      </GuideSheet>
    </>
  );
}

/** The drive to scale, the gears to choose from, and what a wheel on the stand will show. */
export function DriveResult() {
  const { evaluated, catalogue } = useEditing();
  const { show } = useUnits();
  const ratio = evaluated.result.stages[1]?.figures[0]?.value ?? 1;
  const { gears } = evaluated.result.drive_detail;
  const stand = evaluated.result.findings.some((finding) => finding.code === "drive.one_wheel_on_stand");
  const purpose = catalogue.purposes.find((item) => item.code === evaluated.document.purpose);
  return (
    <Stack gap={2}>
      {purpose && (
        <Box borderLeftWidth="4px" borderColor="border.emphasized" bg="bg.subtle" px={3} py={2} data-testid="purpose">
          <Text fontSize="sm">
            {purpose.label}: <b>sense at {purpose.sense_at}.</b> {purpose.why}
          </Text>
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr", xl: gears.length > 0 ? "3fr 2fr" : "1fr" }} gap={3}>
        <DriveTrain drive={evaluated.document.drive} ratio={ratio} stand={stand} />
        {gears.length > 0 && (
          <Table.Root
            size="sm"
            data-testid="gears"
            css={{ "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1, py: "3px" } }}
          >
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader>driven gear</Table.ColumnHeader>
                <Table.ColumnHeader>turns per {show(1, "km/h")[1] === "km/h" ? "km" : "mile"}</Table.ColumnHeader>
                <Table.ColumnHeader>gauge reads</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body fontFamily="mono">
              {gears.map((gear) => (
                <Table.Row key={gear.teeth} fontWeight={gear.best ? "700" : undefined}>
                  <Table.Cell>
                    {gear.teeth} {gear.best && "best"} {gear.in_use && "in use"}
                  </Table.Cell>
                  <Table.Cell>
                    {(show(1, "km/h")[1] === "km/h" ? gear.turns_per_km : gear.turns_per_mile).toFixed(1)}
                  </Table.Cell>
                  <Table.Cell>{signed(gear.error_pct, 1)} %</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        )}
      </Grid>
    </Stack>
  );
}
