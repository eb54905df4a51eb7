import { Box, chakra, Flex, Grid, Heading, Stack, Table, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { api, data, Refusal, type Schemas } from "../../api/client";
import { keys, useCatalogue, useSheet, useWrite } from "../../api/hooks";
import { FindingBox } from "../../ui/FindingBox";
import { Frame } from "../../ui/Frame";
import { TextField } from "../../ui/fields";
import { figure, percent, signed } from "../../ui/format";
import { Guarded } from "../../ui/Guarded";
import { Message } from "../../ui/Message";
import { Toggles } from "../../ui/Small";
import { useUnits } from "../../ui/units";

const Plot = lazy(() => import("../../drawings/Plot").then((found) => ({ default: found.Plot })));
const Jump = chakra(Link);
const TABLE = { "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 2 } };

type Out = Schemas["VehicleSheetOut"];

/** All installations of one vehicle at one speed. */
export default function VehiclePlace() {
  const id = Number(useParams().id);
  const sheet = useSheet(id);
  if (sheet.data) return <Sheet id={id} result={sheet.data} />;
  return (
    <Frame>
      <Message text={sheet.error ? sheet.error.message : "Opening the vehicle …"} back={Boolean(sheet.error)} />
    </Frame>
  );
}

function Sheet({ id, result }: { id: number; result: Out }) {
  const { sheet, vehicle } = result;
  const kinds = useCatalogue().data?.vehicle_kinds;
  return (
    <Frame title={vehicle.name}>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="1280px" mx="auto">
        <Flex align="baseline" gap={3} py={2} wrap="wrap">
          <Heading as="h1" size="xl">
            {vehicle.name}
          </Heading>
          <Text color="fg.muted">
            All installations at one speed. {kinds?.find((item) => item.code === vehicle.kind)?.label}. {vehicle.note}
          </Text>
        </Flex>
        <Settings id={id} settings={result.settings} version={result.version} />
        {vehicle.unreadable?.map((installation) => (
          <Message
            key={installation.id}
            text={`${installation.name} is left out: it cannot be opened. ${installation.reason}`}
            bad
          />
        ))}
        {sheet.rows.length === 0 ? (
          <Box bg="bg.panel" p={5} borderRadius="md" mt={3}>
            <Text mb={2}>
              No installation on this vehicle yet. With two or more, their figures stand side by side here.
            </Text>
            <Jump to={`/new?vehicle=${id}`} textDecoration="underline" color="signal.fg">
              Start an installation on {vehicle.name}
            </Jump>
          </Box>
        ) : (
          <Stack gap={3} mt={3}>
            {sheet.findings.map((finding) => (
              <FindingBox key={finding.code + finding.message} finding={finding} />
            ))}
            <Guarded part="The table" again={sheet}>
              <Installations sheet={sheet} />
            </Guarded>
            {sheet.parity && (
              <Box bg="bg.panel" px={4} py={3} borderRadius="md" data-testid="parity">
                <Text fontWeight="600">
                  {sheet.parity.counts_equal && sheet.parity.within
                    ? "✓ Wheels match for the brake-control unit. "
                    : "! Wheels do not match for the brake-control unit. "}
                  <Text as="span" fontWeight="400">
                    {sheet.parity.text}
                  </Text>
                </Text>
              </Box>
            )}
            {sheet.slip.length > 0 && (
              <Guarded part="The plot" again={sheet}>
                <Slip sheet={sheet} />
              </Guarded>
            )}
          </Stack>
        )}
      </Box>
    </Frame>
  );
}

const FIELDS = [
  { name: "speed_kmh", label: "True speed", unit: "km/h", hint: "100, 60 mph" },
  { name: "tolerance_pct", label: "Circumferences may differ by", unit: "%", hint: "0.5, 2" },
  { name: "track_mm", label: "Track", unit: "mm", hint: "1450, 57in" },
  { name: "radius_m", label: "Radius of a left turn", unit: "m", hint: "6, 20 ft" },
] as const;

/** What the installations are compared at; kept with the vehicle. */
function Settings({ id, settings, version }: { id: number; settings: Out["settings"]; version: number }) {
  const client = useQueryClient();
  const start = () => Object.fromEntries(FIELDS.map(({ name }) => [name, text(settings[name])]));
  const [inputs, set] = useState<Record<string, string>>(start);
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
  const newest = useRef(settings);
  useEffect(() => {
    if (stale) client.invalidateQueries({ queryKey: keys.sheet(id) });
  }, [stale, client, id]);
  useEffect(() => {
    if (stale && newest.current !== settings)
      set(Object.fromEntries(FIELDS.map(({ name }) => [name, text(settings[name])])));
    newest.current = settings;
  }, [stale, settings]);
  const { mutate, isPending } = save;
  const changed = FIELDS.some(({ name }) => inputs[name] !== text(settings[name]));
  useEffect(() => {
    if (!changed || isPending || stale) return;
    const timer = window.setTimeout(() => mutate({ some: inputs, base_version: version }), 500);
    return () => window.clearTimeout(timer);
  }, [inputs, changed, mutate, isPending, stale, version]);
  return (
    <Box bg="bg.panel" p={3} borderRadius="md">
      <Grid templateColumns={{ base: "1fr 1fr", md: "repeat(4, 1fr)" }} gap={3}>
        {FIELDS.map(({ name, label, unit, hint }) => {
          const problem = problems.find((item) => item.path.endsWith(name));
          return (
            <TextField
              key={name}
              label={label}
              unit={unit}
              hint={hint}
              value={inputs[name] ?? ""}
              change={(value) => {
                if (stale) save.reset();
                set({ ...inputs, [name]: value });
              }}
              error={problem && `${problem.message} ${problem.remedy}`}
              numeric
              nudge={name === "track_mm" ? 10 : 1}
              testId={`sheet-${name}`}
            />
          );
        })}
      </Grid>
      {save.error && (
        <Text color="signal.fg" fontWeight="700" mt={1}>
          {stale
            ? "Somebody else changed these values meanwhile. Theirs are shown; enter yours again."
            : `The figures below are the last good ones. ${problems.length > 0 ? "Correct the marked field." : save.error.message}`}
        </Text>
      )}
    </Box>
  );
}

const text = (value: unknown) => (value == null ? "" : String(value));

function Installations({ sheet }: { sheet: Out["sheet"] }) {
  const { show, both, speedUnit } = useUnits();
  const places = useCatalogue().data?.places;
  const turning = sheet.rows.some((row) => row.turn_kmh !== null);
  return (
    <Box bg="bg.panel" p={3} borderRadius="md" overflowX="auto">
      <Text fontSize="sm" color="fg.muted" mb={1}>
        {both(sheet.speed_kmh)} true, through every installation
      </Text>
      <Table.Root size="sm" css={TABLE} data-testid="sheet" display={{ base: "none", md: "table" }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Installation</Table.ColumnHeader>
            <Table.ColumnHeader>pulses per turn of the wheel</Table.ColumnHeader>
            <Table.ColumnHeader>{show(1, "mm")[1]} a turn</Table.ColumnHeader>
            <Table.ColumnHeader>Hz</Table.ColumnHeader>
            <Table.ColumnHeader>shown, {speedUnit}</Table.ColumnHeader>
            {turning && <Table.ColumnHeader>in the left turn</Table.ColumnHeader>}
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
                  {places?.find((item) => item.code === row.sensed_at)?.label}, {row.driven ? "driven" : "not driven"}
                </Text>
              </Table.Cell>
              <Table.Cell fontFamily="mono">{figure(row.pulses_per_turn_of_wheel)}</Table.Cell>
              <Table.Cell fontFamily="mono">{show(row.circumference_mm, "mm", row.circumference_u_pct)[0]}</Table.Cell>
              <Table.Cell fontFamily="mono">{figure(row.frequency_hz, row.expanded_uncertainty_pct / 2)}</Table.Cell>
              <Table.Cell fontFamily="mono">
                {row.displays.map((display) => (
                  <Text key={display.name}>
                    {show(display.shown_kmh, "km/h", 0.05)[0]} ({signed(display.error_pct, 1)} %){" "}
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
                  {row.turn_shown_kmh !== null && (
                    <Text fontFamily="body" fontSize="sm" color="fg.muted">
                      shown {show(row.turn_shown_kmh, "km/h", 0.05)[0]}
                    </Text>
                  )}
                </Table.Cell>
              )}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
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
              {places?.find((item) => item.code === row.sensed_at)?.label}, {row.driven ? "driven" : "not driven"}
            </Text>
            {row.displays.map((display) => (
              <Text key={display.name} fontFamily="mono">
                <b>{show(display.shown_kmh, "km/h", 0.05).join(" ")}</b> ({signed(display.error_pct, 1)} %){" "}
                <Text as="span" fontFamily="body" fontSize="sm" color="fg.muted">
                  {display.name}, {display.number} {display.unit}
                </Text>
              </Text>
            ))}
            <Text fontSize="sm" color="fg.muted">
              ± {percent(row.expanded_uncertainty_pct)} %, {figure(row.frequency_hz, row.expanded_uncertainty_pct / 2)}{" "}
              Hz, {figure(row.pulses_per_turn_of_wheel)} per turn of the wheel,{" "}
              {show(row.circumference_mm, "mm", row.circumference_u_pct).join(" ")} a turn
              {row.turn_kmh !== null && `, ${show(row.turn_kmh, "km/h", 0.05).join(" ")} in the left turn`}
            </Text>
          </Box>
        ))}
      </Stack>
      {sheet.turn_text ? (
        <Text fontSize="sm" color="fg.muted" mt={2}>
          {sheet.turn_text}
        </Text>
      ) : (
        <Text fontSize="sm" color="fg.muted" mt={2}>
          Enter track and radius to see inner and outer wheel in a turn.
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
        False slip while cruising
      </Heading>
      <Flex gap={2} wrap="wrap" my={1}>
        {sheet.slip.length > 1 && (
          <Toggles options={sheet.slip.map((item) => item.compared)} chosen={chosen} choose={choose} />
        )}
      </Flex>
      <Text>
        {curve.compared} against {curve.reference}:{" "}
        <Text as="span" fontFamily="mono" fontWeight="700">
          {signed(curve.slip_pct)} %, {signed(Number(show(curve.slip_kmh, "km/h", 1)[0]), 2)} {speedUnit}
        </Text>
        , ± {percent(curve.expanded_pct)} %
      </Text>
      <Suspense fallback={<Text>Drawing …</Text>}>
        <Plot
          height={200}
          x={curve.speeds_kmh.map((value) => value * scale)}
          xLabel={`true, ${speedUnit}`}
          yLabel="slip seen, %"
          lines={[
            { label: "none", look: "true", values: curve.curve_pct.map(() => 0) },
            { label: "least", look: "edge", values: curve.curve_pct.map((value) => value - curve.expanded_pct) },
            { label: "most", look: "edge", values: curve.curve_pct.map((value) => value + curve.expanded_pct) },
            { label: "slip", look: "ours", values: curve.curve_pct },
          ]}
          bands={[[3, 2]]}
          describe={`False slip over speed: ${signed(curve.slip_pct)} percent at ${show(sheet.speed_kmh, "km/h").join(" ")}, plus or minus ${percent(curve.expanded_pct)} percent.`}
        />
      </Suspense>
      <Text fontSize="sm" color="fg.muted">
        Keep the dead band of slip control above this and the noise. Never read a log while driving.
      </Text>
    </Box>
  );
}
