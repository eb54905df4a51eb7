import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { DriveTrain } from "../../../drawings/DriveTrain";
import { useDialog } from "../../../ui/address";
import { fixed, signed } from "../../../ui/format";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { Entries, Entry, EntryCards, ProofField } from "../fields";
import { GuideSheet, ShowSteps } from "../GuideSheet";
import { begun, withoutUnfinished } from "../schema";

/** Where the target sits, and what turns it. */
export function DriveInputs() {
  const { document, catalogue, problems, set } = useEditing();
  const drive = document.drive ?? {};
  const kind = drive.kind ?? "hub";
  const entries = drive as Record<string, unknown>;
  const choose = (next: string) =>
    set("drive", {
      ...withoutUnfinished(catalogue, drive, "drive", problems, (name) => name === kind),
      kind: next,
      ...(next === "hub" ? {} : { [next]: entries[next] ?? begun(catalogue, `drive.${next}`) }),
    });
  return (
    <Stack gap={3}>
      <EntryCards path="drive.kind" change={choose} />
      <KindOfDrive kind={kind} />
      <EntryCards path="drive.driven" />
      <ProofField path="drive.verification" stage="drive" />
    </Stack>
  );
}

function KindOfDrive({ kind }: { kind: string }) {
  switch (kind) {
    case "axle_ratio":
      return <AxleRatio />;
    case "sprockets":
      return <Entries of="drive.sprockets" names={["wheel_teeth", "shaft_teeth"]} />;
    case "transfer_box":
      return <Entries of="drive.transfer_box" names={["axle_ratio", "low_ratio", "sensed", "range"]} />;
    case "hub_motor":
      return <Entries of="drive.hub_motor" names={["gear_ratio", "sensed", "freewheel"]} />;
    case "cable":
      return <Entries of="drive.cable" names={CABLE} />;
    default:
      return null;
  }
}

const CABLE = [
  "axle_ratio",
  "drive_teeth",
  "driven_teeth",
  "wanted_turns",
  "wanted_per",
  "min_driven_teeth",
  "max_driven_teeth",
];

function AxleRatio() {
  const { document } = useEditing();
  const [dialog, open] = useDialog();
  const counting = <Entries of="drive.axle_ratio" names={["wheel_turns", "shaft_turns", "one_wheel_held"]} />;
  return (
    <>
      <Entry path="drive.axle_ratio.basis" />
      <Entry path="drive.axle_ratio.ratio" />
      {counting}
      {document.drive?.axle_ratio?.basis === "counted" && <ShowSteps code="ratio" open={open} />}
      <GuideSheet code={dialog === "ratio" ? "ratio" : null} close={() => open(null)}>
        {counting}
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
            {purpose.label}: <b>{t("sense at {0}.", purpose.sense_at)}</b> {purpose.why}
          </Text>
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr", xl: gears.length > 0 ? "3fr 2fr" : "1fr" }} gap={3}>
        <DriveTrain drive={evaluated.document.drive} ratio={ratio} stand={stand} />
        {gears.length > 0 && (
          <TableRoot data-testid="gears">
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader>{t("driven gear")}</Table.ColumnHeader>
                <Table.ColumnHeader>
                  {t("turns per {0}", show(1, "km/h")[1] === "km/h" ? t("km") : t("mile"))}
                </Table.ColumnHeader>
                <Table.ColumnHeader>{t("gauge reads")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body fontFamily="mono">
              {gears.map((gear) => (
                <Table.Row key={gear.teeth} fontWeight={gear.best ? "700" : undefined}>
                  <Table.Cell>
                    {gear.teeth} {gear.best && t("best")} {gear.in_use && t("in use")}
                  </Table.Cell>
                  <Table.Cell>
                    {fixed(show(1, "km/h")[1] === "km/h" ? gear.turns_per_km : gear.turns_per_mile, 1)}
                  </Table.Cell>
                  <Table.Cell>{signed(gear.error_pct, 1)} %</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </TableRoot>
        )}
      </Grid>
    </Stack>
  );
}
