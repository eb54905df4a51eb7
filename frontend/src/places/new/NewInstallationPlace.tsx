import { Box, Button, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Catalogue, type Installation, Refusal, type Schemas } from "../../api/client";
import { useCatalogue, useSession, useVehicleChanges, useVehicleNames } from "../../api/hooks";
import { Frame } from "../../ui/Frame";
import { Cards, ChoiceField, TextField } from "../../ui/fields";
import { percent } from "../../ui/format";
import { Message } from "../../ui/Message";
import { useUnits } from "../../ui/units";
import { useLast } from "../../ui/useLast";
import { READOUT_NEEDS } from "../installation/shape";
import { useEvaluation } from "../installation/useEvaluation";
import { SizeSheet } from "../installation/wheel/SizeSheet";
import { documentOf, driveFields, dropGiven, type Given, keepGiven, keptGiven, usual } from "./given";

type Vehicle = Schemas["VehicleName"];

export default function NewInstallationPlace() {
  const catalogue = useCatalogue();
  const list = useVehicleNames();
  const asked = useSearchParams()[0].get("vehicle");
  const { refetch } = list;
  const [looked, look] = useState(false);
  const unknown = asked && list.data && !list.data.some((vehicle) => String(vehicle.id) === asked);
  useEffect(() => {
    if (unknown && !looked) refetch().finally(() => look(true));
  }, [unknown, looked, refetch]);
  const coming = unknown && !looked;
  if (catalogue.data && list.data && !coming) return <Form catalogue={catalogue.data} vehicles={list.data} />;
  return (
    <Frame>
      <Message text={(catalogue.error ?? list.error)?.message ?? "Opening …"} />
    </Frame>
  );
}

function Form({ catalogue, vehicles }: { catalogue: Catalogue; vehicles: Vehicle[] }) {
  const [query] = useSearchParams();
  const go = useNavigate();
  const { addVehicle, addInstallation } = useVehicleChanges();
  const account = useSession().data?.username ?? "";
  const [given, setGiven] = useState<Given>(() => {
    const asked = vehicles.find((vehicle) => String(vehicle.id) === query.get("vehicle"));
    const start = keptGiven(account);
    return asked ? { ...start, vehicle: String(asked.id), ...usual(catalogue, asked.kind) } : start;
  });
  const { show } = useUnits();
  const [pressed, press] = useState(false);
  const [sizes, findSize] = useState(false);
  const [refused, refuse] = useState<Refusal | Error | null>(null);
  const change = (some: Partial<Given>) => {
    const next = { ...given, ...some, touched: [...new Set([...given.touched, ...Object.keys(some)])] };
    keepGiven(account, next);
    setGiven(next);
  };
  const [document, setDocument] = useState<[string, Installation]>(["", documentOf(given)]);
  const wanted = JSON.stringify(documentOf(given));
  if (document[0] !== wanted) setDocument([wanted, documentOf(given)]);
  const { evaluated, problems, of, away } = useEvaluation(document[1]);
  const purpose = catalogue.purposes.find((one) => one.code === given.purpose);
  const onWater = given.kind === "boat";
  const problem = (path: string, name: keyof Given) => {
    const found = problems.find((one) => one.path === path);
    return found && (pressed || given.touched.includes(name)) ? `${found.message} ${found.remedy}` : undefined;
  };
  const newVehicle = given.vehicle === "";
  const lacks = [
    !given.purpose && "what the reading is for",
    newVehicle && !given.vehicleName.trim() && "the vehicle's name",
    !onWater && !given.marking && !given.circumference && "the wheel",
    !given.count && "the count of the target",
  ].filter(Boolean);
  const good = of === document[1] && problems.length === 0 && lacks.length === 0;
  const create = async () => {
    press(true);
    if (!good) return;
    try {
      refuse(null);
      const vehicle = newVehicle
        ? await addVehicle.mutateAsync({ name: given.vehicleName, kind: given.kind as Vehicle["kind"], note: "" })
        : vehicles.find((one) => String(one.id) === given.vehicle);
      if (!vehicle) return;
      if (newVehicle) change({ vehicle: String(vehicle.id) });
      const name = `${purpose?.label ?? "Speed"}, ${given.drive === "hub" ? (onWater ? "paddle" : "hub") : "shaft"}`;
      const installation = await addInstallation.mutateAsync({
        vehicle: vehicle.id,
        document: { ...document[1], name },
      });
      dropGiven(account);
      go(`/installation/${installation.id}/wheel`);
    } catch (error) {
      refuse(error as Error);
    }
  };
  const first = evaluated && of === document[1] && problems.length === 0 ? evaluated.result : null;
  const warnings = first?.findings.filter((finding) => finding.severity !== "note") ?? [];
  const last = useLast(lacks.length === 0 ? (first ?? undefined) : undefined);
  const shown = lacks.length === 0 ? last : undefined;
  return (
    <Frame>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="1180px" mx="auto">
        <Heading as="h1" size="2xl" py={3}>
          New installation
        </Heading>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={4}>
          <Step number={1} title="What is the reading for?" wide>
            <Cards
              label="Purpose"
              value={given.purpose}
              change={(code) =>
                change({ purpose: code, drive: code === "gearbox_or_gauge" ? "axle_ratio" : given.drive })
              }
              options={catalogue.purposes.map(({ code, label }) => ({ code, label }))}
              columns={2}
            />
            {purpose && (
              <Box borderLeftWidth="4px" borderColor="signal.fg" bg="signal.subtle" px={3} py={2} data-testid="advice">
                <Text fontWeight="600">Sense at {purpose.sense_at}.</Text>
                <Text>{purpose.why}</Text>
              </Box>
            )}
          </Step>
          <Step number={2} title="On which vehicle?">
            <ChoiceField
              label="Vehicle"
              value={given.vehicle}
              change={(id) => {
                const kind = vehicles.find((one) => String(one.id) === id)?.kind;
                change({ vehicle: id, ...(kind ? usual(catalogue, kind) : {}) });
              }}
              options={[
                { code: "", label: "New vehicle" },
                ...vehicles.map((one) => ({ code: String(one.id), label: one.name })),
              ]}
            />
            {newVehicle && (
              <>
                <TextField
                  label="Vehicle name"
                  value={given.vehicleName}
                  change={(vehicleName) => change({ vehicleName })}
                  error={
                    refused instanceof Refusal
                      ? refused.problems.find((one) => one.path === "name")?.message
                      : undefined
                  }
                  testId="vehicle-name"
                />
                <ChoiceField
                  label="Vehicle type"
                  value={given.kind}
                  change={(kind) => change(usual(catalogue, kind))}
                  options={catalogue.vehicle_kinds}
                  testId="vehicle-kind"
                />
              </>
            )}
          </Step>
          <Step number={3} title={onWater ? "The paddle" : "The wheel"}>
            {!onWater && (
              <TextField
                label="Size marking on the sidewall"
                value={given.marking}
                change={(marking) => change({ marking })}
                error={given.marking || !given.circumference ? problem("wheel.marking.text", "marking") : undefined}
                meaning={first && given.marking ? first.stages[0]?.why[0]?.source : undefined}
                hint={catalogue.accepted_markings}
                testId="marking"
              />
            )}
            {!onWater && (
              <>
                <Button size="sm" variant="outline" alignSelf="flex-start" minH="44px" onClick={() => findSize(true)}>
                  Find the size
                </Button>
                <SizeSheet open={sizes} close={() => findSize(false)} take={(marking) => change({ marking })} />
              </>
            )}
            {(onWater || given.marking === "") && (
              <TextField
                label={onWater ? "Pulses per nautical mile (20 000 is usual)" : "Or its circumference, if you know it"}
                value={given.circumference}
                change={(circumference) => change({ circumference })}
                error={problem(
                  onWater ? "wheel.paddle.pulses_per_nautical_mile" : "wheel.entered.circumference_mm",
                  "circumference",
                )}
                unit={onWater ? "" : "mm"}
                numeric
                testId="circumference"
              />
            )}
          </Step>
          <Step number={4} title="What turns, and what senses it?">
            {!onWater && (
              <Grid templateColumns="1fr 1fr" gap={3}>
                <ChoiceField
                  label="Sensed wheel or axle"
                  value={given.sensedAt}
                  change={(sensedAt) => change({ sensedAt })}
                  options={catalogue.places.filter((one) => one.code !== "hull")}
                  testId="sensed-at"
                />
                <ChoiceField
                  label="Driven wheel"
                  value={given.driven}
                  change={(driven) => change({ driven })}
                  options={[
                    { code: "no", label: "No" },
                    { code: "yes", label: "Yes (engine, motor or pedals)" },
                  ]}
                  testId="driven"
                />
              </Grid>
            )}
            <ChoiceField
              label="Position of the target"
              value={given.drive}
              change={(drive) => change({ drive })}
              options={catalogue.drive_kinds}
            />
            <Grid templateColumns="1fr 1fr" gap={3}>
              {driveFields(given.drive).map((field) => (
                <TextField
                  key={field.name}
                  label={field.label}
                  value={given.gears[field.name] ?? ""}
                  change={(value) => change({ gears: { ...given.gears, [field.name]: value } })}
                  error={problem(`drive.${given.drive}.${field.name}`, "gears")}
                  numeric
                  hint={field.hint}
                  testId={field.name}
                />
              ))}
            </Grid>
            <Grid templateColumns="2fr 1fr" gap={3}>
              <ChoiceField
                label="Target"
                value={given.target}
                change={(target) => change({ target })}
                options={catalogue.target_kinds}
              />
              <TextField
                label="Count per turn"
                value={given.count}
                change={(count) => change({ count })}
                error={problem("target.count", "count")}
                numeric
                nudge={1}
                testId="count"
              />
            </Grid>
            <ChoiceField
              label="Sensor"
              value={given.sensor}
              change={(sensor) => change({ sensor })}
              options={catalogue.sensors}
            />
          </Step>
          <Step number={5} title="What reads it?">
            <ChoiceField
              label="Setting format"
              value={given.encoding}
              change={(encoding) => change({ encoding })}
              options={catalogue.encodings.filter((one) => !READOUT_NEEDS[one.code])}
              hint="Tables, codes, percentages and custom formats are set at the readout afterwards."
              testId="encoding"
            />
            {catalogue.encodings.find((one) => one.code === given.encoding)?.per_turn && (
              <TextField
                label={
                  given.encoding.startsWith("teeth") ? "Teeth set in the reader" : "Pulses per turn set in the reader"
                }
                value={given.setPulsesPerTurn}
                change={(setPulsesPerTurn) => change({ setPulsesPerTurn })}
                error={problem("readouts.0.set_pulses_per_turn", "setPulsesPerTurn")}
                numeric
                nudge={1}
                hint="1 where it has no such setting"
              />
            )}
          </Step>
        </Grid>
        <Flex
          mt={4}
          gap={4}
          align="center"
          wrap="wrap"
          bg="road"
          color="chalk"
          px={4}
          py={3}
          borderRadius="md"
          borderWidth="3px"
          borderColor="road.edge"
          position="sticky"
          bottom={2}
          zIndex={1}
        >
          <Box flex="1" minW="240px" aria-live="polite" data-testid="preview">
            {shown ? (
              <>
                {!first && (
                  <Text color="signal.onRoad" fontWeight="700">
                    Last good figures: a field needs correcting
                  </Text>
                )}
                <Text fontFamily="mono" fontSize="2xl">
                  enter {shown.readouts[0]?.to_type.text} {shown.readouts[0]?.unit}
                </Text>
                <Text color="chalk.dim">
                  shows {show(shown.shown.shown_kmh, "km/h", shown.shown.relative_standard_uncertainty_pct)[0]} at{" "}
                  {show(shown.shown.true_kmh, "km/h").join(" ")} true, ± {percent(shown.shown.expanded_uncertainty_pct)}{" "}
                  %
                </Text>
                {warnings.slice(0, 1).map((finding) => (
                  <Text key={finding.code} color="signal.onRoad">
                    ! {finding.message}
                  </Text>
                ))}
              </>
            ) : (
              <Text color={pressed ? "signal.onRoad" : "chalk.dim"}>
                {away
                  ? "The server does not answer. What you typed is kept; trying again."
                  : lacks.length > 0
                    ? `Still to enter: ${lacks.join(", ")}.`
                    : "A field needs correcting."}
              </Text>
            )}
          </Box>
          <Button
            size="lg"
            minH="48px"
            colorPalette="signal"
            onClick={create}
            loading={addVehicle.isPending || addInstallation.isPending}
          >
            Create installation
          </Button>
        </Flex>
        {refused && <Message text={refused.message} bad />}
      </Box>
    </Frame>
  );
}

function Step({
  number,
  title,
  wide,
  children,
}: {
  number: number;
  title: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Stack as="section" gap={3} bg="bg.panel" p={4} borderRadius="md" gridColumn={wide ? { md: "1 / -1" } : undefined}>
      <Heading as="h2" size="md">
        <Text as="span" color="signal.fg" fontFamily="mono" mr={2}>
          {number}
        </Text>
        {title}
      </Heading>
      {children}
    </Stack>
  );
}
