import { Box, chakra, Flex, Grid, Heading, Stack, Table, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { api, data, Refusal, type Schemas } from "../../api/client";
import { keys, useCatalogue, useSheet, useWrite } from "../../api/hooks";
import { Plot } from "../../drawings/LaterPlot";
import { VehicleRecordings } from "../../recordings/VehicleRecordings";
import { FindingBox } from "../../ui/FindingBox";
import { Frame } from "../../ui/Frame";
import { figure, percent, signed } from "../../ui/format";
import { Guarded } from "../../ui/Guarded";
import { Message } from "../../ui/Message";
import { Toggles } from "../../ui/Small";
import { isOtherwise, useShownNow } from "../../ui/shownNow";
import { TableRoot } from "../../ui/TableRoot";
import { UnitField } from "../../ui/UnitField";
import { UnitsOfVehicle, useUnits } from "../../ui/units";
import { listed, t } from "../../ui/words";
import { labelAt } from "../installation/schema";
import { Corners } from "./Corners";
import { FromAbove } from "./FromAbove";

const Jump = chakra(Link);

type Out = Schemas["VehicleSheetOut"];

/** All installations of one vehicle at one speed. */
export default function VehiclePlace() {
  const id = Number(useParams().id);
  const sheet = useSheet(id);
  if (sheet.data)
    return (
      <UnitsOfVehicle vehicle={id} afloat={sheet.data.vehicle.kind === "boat"}>
        <Sheet id={id} result={sheet.data} />
      </UnitsOfVehicle>
    );
  return (
    <Frame>
      <Message text={sheet.error ? sheet.error.message : t("Opening the vehicle …")} back={Boolean(sheet.error)} />
    </Frame>
  );
}

function Sheet({ id, result }: { id: number; result: Out }) {
  const { sheet, vehicle } = result;
  const catalogue = useCatalogue().data;
  return (
    <Frame title={vehicle.name}>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="1280px" mx="auto">
        <Flex align="baseline" gap={3} py={2} wrap="wrap">
          <Heading as="h1" size="xl">
            {vehicle.name}
          </Heading>
          <Text color="fg.muted">
            {t(
              "All installations at one speed. {0}. {1}",
              catalogue && labelAt(catalogue, "vehicle_kind", vehicle.kind),
              vehicle.note,
            )}
          </Text>
          <Jump to={`/vehicle/${id}/service`} textDecoration="underline" color="signal.fg" py={1}>
            {t("Service and timeline")}
          </Jump>
        </Flex>
        <Grid
          templateColumns={{ base: "1fr", lg: sheet.rows.length > 0 ? "3fr 2fr" : "1fr" }}
          gap={3}
          alignItems="start"
        >
          {sheet.rows.length > 0 && (
            <Guarded part={t("The picture")} again={sheet}>
              <Box bg="bg.panel" p={3} borderRadius="md">
                <FromAbove result={result} />
              </Box>
            </Guarded>
          )}
          <Stack gap={3}>
            <Settings id={id} result={result} />
            {sheet.findings.map((finding) => (
              <FindingBox key={finding.code + finding.message} finding={finding} />
            ))}
            {sheet.parity && (
              <Box bg="bg.panel" px={4} py={3} borderRadius="md" data-testid="parity">
                <Text fontWeight="600">
                  {sheet.parity.counts_equal && sheet.parity.within
                    ? t("✓ Wheels match for the brake-control unit.")
                    : t("! Wheels do not match for the brake-control unit.")}{" "}
                  <Text as="span" fontWeight="400">
                    {sheet.parity.text}
                  </Text>
                </Text>
              </Box>
            )}
          </Stack>
        </Grid>
        {vehicle.unreadable?.map((installation) => (
          <Message
            key={installation.id}
            text={t("{0} is left out: it cannot be opened. {1}", installation.name, installation.reason)}
            bad
          />
        ))}
        {sheet.rows.length === 0 ? (
          <Box bg="bg.panel" p={5} borderRadius="md" mt={3}>
            <Text mb={2}>
              {t("No installation on this vehicle yet. With two or more, their figures stand side by side here.")}
            </Text>
            <Jump to={`/new?vehicle=${id}`} textDecoration="underline" color="signal.fg">
              {t("Start an installation on {0}", vehicle.name)}
            </Jump>
          </Box>
        ) : (
          <Stack gap={3} mt={3}>
            <Guarded part={t("The table")} again={sheet}>
              <Installations sheet={sheet} />
            </Guarded>
            <Guarded part={t("The corners")} again={sheet}>
              <Corners vehicle={id} />
            </Guarded>
            {sheet.slip.length > 0 && (
              <Guarded part={t("The plot")} again={sheet}>
                <Slip sheet={sheet} />
              </Guarded>
            )}
          </Stack>
        )}
        <Box mt={3}>
          <VehicleRecordings vehicle={id} />
        </Box>
      </Box>
    </Frame>
  );
}

const FIELDS = [
  { name: "speed_kmh", label: t("True speed"), unit: "km/h", hint: t("100 km/h, 60 mph, 10 kn") },
  { name: "tolerance_pct", label: t("Permitted difference of circumferences"), unit: "%", hint: "0.5, 2" },
  { name: "track_mm", label: t("Track"), unit: "mm", hint: t("1450 mm, 57in") },
  { name: "radius_m", label: t("Radius of a left turn"), unit: "m", hint: t("6, 20 ft") },
] as const;

/** What the installations are compared at; kept with the vehicle. Only what a vehicle of its kind is asked for. */
function Settings({ id, result }: { id: number; result: Out }) {
  const { settings, version, sheet, from_above } = result;
  const client = useQueryClient();
  const turns = from_above.wheels.some((wheel) => wheel.across !== "centre");
  const asked = FIELDS.filter(
    ({ name }) => name === "speed_kmh" || (name === "tolerance_pct" ? sheet.parity !== null : turns),
  );
  /** What was typed and is not saved yet, each with its unit. */
  const [inputs, set] = useState<Record<string, string>>({});
  const save = useWrite(
    ({ some, base_version }: { some: Record<string, string>; base_version: number }, header) =>
      data(
        api.PUT("/api/vehicles/{vehicle_id}/sheet", {
          params: { path: { vehicle_id: id }, header },
          body: {
            base_version,
            settings: Object.fromEntries(Object.entries(some).filter(([, value]) => value.trim() !== "")) as never,
          },
        }),
      ),
    (result) => client.setQueryData(keys.sheet(id), result),
  );
  const stale = save.error instanceof Refusal && save.error.status === 409;
  const problems = save.error instanceof Refusal ? save.error.problems : [];
  useEffect(() => {
    if (!stale) return;
    client.invalidateQueries({ queryKey: keys.sheet(id) });
    set({});
  }, [stale, client, id]);
  const { mutate, isPending } = save;
  const sent = useRef(inputs);
  useEffect(() => {
    if (Object.keys(inputs).length === 0 || isPending || sent.current === inputs) return;
    const timer = window.setTimeout(() => {
      sent.current = inputs;
      const some = { ...Object.fromEntries(FIELDS.map(({ name }) => [name, text(settings[name])])), ...inputs };
      const left = (now: typeof inputs) =>
        Object.fromEntries(Object.entries(now).filter(([name, value]) => inputs[name] !== value));
      mutate({ some, base_version: version }, { onSuccess: () => set(left) });
    }, 500);
    return () => window.clearTimeout(timer);
  }, [inputs, mutate, isPending, settings, version]);
  return (
    <Box bg="bg.panel" p={3} borderRadius="md">
      <Grid templateColumns="1fr 1fr" gap={3}>
        {asked.map(({ name, label, unit, hint }) => {
          const problem = problems.find((item) => item.path.endsWith(name));
          return (
            <UnitField
              key={name}
              label={label}
              unit={unit}
              hint={hint}
              value={inputs[name] ?? settings[name] ?? ""}
              change={(value) => {
                if (stale) save.reset();
                set({ ...inputs, [name]: value });
              }}
              error={problem && `${problem.message} ${problem.remedy}`}
              nudge={name === "track_mm" ? 10 : 1}
              testId={`sheet-${name}`}
            />
          );
        })}
      </Grid>
      {turns && !sheet.turn_text && (
        <Text fontSize="sm" color="fg.muted" mt={2}>
          {t("Enter track and radius to see inner and outer wheel in a turn.")}
        </Text>
      )}
      {save.error && (
        <Text color="signal.fg" fontWeight="700" mt={1}>
          {stale
            ? t("Somebody else changed these values meanwhile. Theirs are shown; enter yours again.")
            : t(
                "The figures below are the last good ones. {0}",
                problems.length > 0 ? t("Correct the marked field.") : save.error.message,
              )}
        </Text>
      )}
    </Box>
  );
}

const text = (value: unknown) => (value == null ? "" : String(value));

/** What a display shows; where something is blocked what comes of it, and why. */
function DisplayFigure({
  display,
  unit,
}: {
  display: Out["sheet"]["rows"][number]["displays"][number];
  unit?: boolean;
}) {
  const { show } = useUnits();
  const really = useShownNow();
  if (isOtherwise(display.shown_now)) {
    const [shown, of] = really(display.shown_now);
    return (
      <>
        <Text as="b" color="bad.fg" data-testid="otherwise">
          ✕ {`${shown} ${of}`.trim()}
        </Text>{" "}
        <Text as="span" fontFamily="body" fontSize="sm">
          {display.shown_now.cause}
        </Text>
        <br />
      </>
    );
  }
  if (!display.shows_speed) return t("compares counts, shows no speed");
  const [shown, of] = show(display.shown_kmh, "km/h", 0.05);
  return (
    <>
      <b>{unit ? `${shown} ${of}` : shown}</b> ({signed(display.error_pct, 1)} %)
    </>
  );
}

function Installations({ sheet }: { sheet: Out["sheet"] }) {
  const { show, speedUnit } = useUnits();
  const catalogue = useCatalogue().data;
  const turning = sheet.rows.some((row) => row.turn_kmh !== null);
  return (
    <Box bg="bg.panel" p={3} borderRadius="md" overflowX="auto">
      <Text fontSize="sm" color="fg.muted" mb={1}>
        {t("{0} true, through every installation", show(sheet.speed_kmh, "km/h", 0.1).join(" "))}
      </Text>
      <TableRoot data-testid="sheet" display={{ base: "none", md: "table" }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("Installation")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("pulses per turn of the wheel")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("{0} per turn", show(1, "mm")[1])}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Hz")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("shown, {0}", speedUnit)}</Table.ColumnHeader>
            {turning && <Table.ColumnHeader>{t("in the left turn")}</Table.ColumnHeader>}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {sheet.rows.map((row) => (
            <Table.Row key={row.installation} verticalAlign="top">
              <Table.Cell>
                <Jump to={`/installation/${row.installation}/wheel`} textDecoration="underline">
                  {row.name}
                </Jump>
                <Text fontSize="xs" color="fg.muted">
                  {listed(
                    catalogue && labelAt(catalogue, "sensed_at", row.sensed_at),
                    row.sensed_at !== "hull" && (row.driven ? t("driven") : t("not driven")),
                  )}
                </Text>
              </Table.Cell>
              <Table.Cell fontFamily="mono">{figure(row.pulses_per_turn_of_wheel)}</Table.Cell>
              <Table.Cell fontFamily="mono">{show(row.circumference_mm, "mm", row.circumference_u_pct)[0]}</Table.Cell>
              <Table.Cell fontFamily="mono">{figure(row.frequency_hz, row.expanded_uncertainty_pct / 2)}</Table.Cell>
              <Table.Cell fontFamily="mono">
                {row.displays.map((display) => (
                  <Text key={display.name}>
                    <DisplayFigure display={display} />{" "}
                    <Text as="span" fontFamily="body" fontSize="sm" color="fg.muted">
                      {display.name}, {display.number} {display.unit}
                    </Text>
                  </Text>
                ))}
                <Text fontSize="xs" color="fg.muted" fontFamily="body">
                  ± {percent(row.expanded_uncertainty_pct)} %
                </Text>
              </Table.Cell>
              {turning && (
                <Table.Cell fontFamily="mono">
                  {row.turn_kmh !== null && show(row.turn_kmh, "km/h", 0.05)[0]}
                  {row.turn_shown_kmh !== null &&
                    row.displays[0]?.shows_speed &&
                    !isOtherwise(row.displays[0].shown_now) && (
                      <Text fontFamily="body" fontSize="sm" color="fg.muted">
                        {t("shown {0}", show(row.turn_shown_kmh, "km/h", 0.05)[0])}
                      </Text>
                    )}
                </Table.Cell>
              )}
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
      <Stack display={{ base: "flex", md: "none" }} gap={3}>
        {sheet.rows.map((row) => (
          <Box key={row.installation} borderTopWidth="1px" pt={2}>
            <Jump
              to={`/installation/${row.installation}/wheel`}
              textDecoration="underline"
              fontWeight="600"
              display="block"
              minH="44px"
              py={2}
            >
              {row.name}
            </Jump>
            <Text fontSize="xs" color="fg.muted">
              {listed(
                catalogue && labelAt(catalogue, "sensed_at", row.sensed_at),
                row.sensed_at !== "hull" && (row.driven ? t("driven") : t("not driven")),
              )}
            </Text>
            {row.displays.map((display) => (
              <Text key={display.name} fontFamily="mono">
                <DisplayFigure display={display} unit />{" "}
                <Text as="span" fontFamily="body" fontSize="sm" color="fg.muted">
                  {display.name}, {display.number} {display.unit}
                </Text>
              </Text>
            ))}
            <Text fontSize="sm" color="fg.muted">
              {listed(
                t(
                  "± {0} %, {1} Hz, {2} per turn of the wheel, {3} per turn",
                  percent(row.expanded_uncertainty_pct),
                  figure(row.frequency_hz, row.expanded_uncertainty_pct / 2),
                  figure(row.pulses_per_turn_of_wheel),
                  show(row.circumference_mm, "mm", row.circumference_u_pct).join(" "),
                ),
                row.turn_kmh !== null && t("{0} in the left turn", show(row.turn_kmh, "km/h", 0.05).join(" ")),
              )}
            </Text>
          </Box>
        ))}
      </Stack>
      {sheet.turn_text && (
        <Text fontSize="sm" color="fg.muted" mt={2}>
          {sheet.turn_text}
        </Text>
      )}
    </Box>
  );
}

function Slip({ sheet }: { sheet: Out["sheet"] }) {
  const { show, scale, speedUnit } = useUnits();
  const [chosen, choose] = useState(0);
  const curve = sheet.slip[Math.min(chosen, sheet.slip.length - 1)];
  if (!curve) return null;
  return (
    <Box bg="bg.panel" p={3} borderRadius="md" data-testid="slip">
      <Heading as="h2" size="md">
        {t("False slip while cruising")}
      </Heading>
      <Flex gap={2} wrap="wrap" my={1}>
        {sheet.slip.length > 1 && (
          <Toggles options={sheet.slip.map((item) => item.compared)} chosen={chosen} choose={choose} />
        )}
      </Flex>
      <Text>
        {t("{0} against {1}:", curve.compared, curve.reference)}{" "}
        <Text as="span" fontFamily="mono" fontWeight="700">
          {signed(curve.slip_pct)} %, {signed(Number(show(curve.slip_kmh, "km/h", 1)[0]), 2)} {speedUnit}
        </Text>
        , ± {percent(curve.expanded_pct)} %
      </Text>
      <Suspense fallback={<Text>{t("Drawing …")}</Text>}>
        <Plot
          height={200}
          x={curve.speeds_kmh.map((value) => value * scale)}
          xLabel={t("true, {0}", speedUnit)}
          yLabel={t("slip seen, %")}
          lines={[
            { label: t("none"), look: "true", values: curve.curve_pct.map(() => 0) },
            { label: t("least"), look: "edge", values: curve.curve_pct.map((value) => value - curve.expanded_pct) },
            { label: t("most"), look: "edge", values: curve.curve_pct.map((value) => value + curve.expanded_pct) },
            { label: t("slip"), look: "ours", values: curve.curve_pct },
          ]}
          bands={[[3, 2]]}
          describe={t(
            "False slip over speed: {0} percent at {1}, plus or minus {2} percent.",
            signed(curve.slip_pct),
            show(sheet.speed_kmh, "km/h").join(" "),
            percent(curve.expanded_pct),
          )}
        />
      </Suspense>
      <Text fontSize="sm" color="fg.muted">
        {t("Keep the dead band of slip control above this and the noise. Never read a log while driving.")}
      </Text>
    </Box>
  );
}
