import { Box, Button, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Catalogue, type Installation, Refusal, type Schemas } from "../../api/client";
import { useCatalogue, useSession, useVehicleChanges, useVehicleNames } from "../../api/hooks";
import { useDialog } from "../../ui/address";
import { Frame } from "../../ui/Frame";
import { Cards, ChoiceField, TextField } from "../../ui/fields";
import { figure, percent } from "../../ui/format";
import { Message } from "../../ui/Message";
import { isOtherwise, useShownNow } from "../../ui/shownNow";
import { UnitField } from "../../ui/UnitField";
import { useUnits } from "../../ui/units";
import { useLast } from "../../ui/useLast";
import { t } from "../../ui/words";
import { choicesAt } from "../installation/schema";
import { useEvaluation } from "../installation/useEvaluation";
import { SizeSheet } from "../installation/wheel/SizeSheet";
import { Accepted } from "./Accepted";
import {
  comparesCounts,
  documentOf,
  driveFields,
  dropInputs,
  type Inputs,
  isGeared,
  keepInputs,
  keptInputs,
  pulsesSet,
  usual,
  usualPaddle,
} from "./inputs";

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
    <Frame title={t("New installation")}>
      <Message text={(catalogue.error ?? list.error)?.message ?? t("Opening …")} />
    </Frame>
  );
}

function Form({ catalogue, vehicles }: { catalogue: Catalogue; vehicles: Vehicle[] }) {
  const [query] = useSearchParams();
  const go = useNavigate();
  const { addVehicle, addInstallation } = useVehicleChanges();
  const account = useSession().data?.username ?? "";
  const [inputs, setInputs] = useState<Inputs>(() => {
    const asked = vehicles.find((vehicle) => String(vehicle.id) === query.get("vehicle"));
    const start = keptInputs(account);
    return asked ? { ...start, vehicle: String(asked.id), ...usual(catalogue, asked.kind) } : start;
  });
  const { show, speedUnit } = useUnits();
  const really = useShownNow();
  const [pressed, press] = useState(false);
  const [dialog, open] = useDialog();
  const [refused, refuse] = useState<Refusal | Error | null>(null);
  const change = (some: Partial<Inputs>, meant: Partial<Inputs> = {}) => {
    const next = { ...inputs, ...meant, ...some, touched: [...new Set([...inputs.touched, ...Object.keys(some)])] };
    keepInputs(account, next);
    setInputs(next);
  };
  const [document, setDocument] = useState<[string, Installation]>(["", documentOf(catalogue, inputs, speedUnit)]);
  const wanted = JSON.stringify(documentOf(catalogue, inputs, speedUnit));
  if (document[0] !== wanted) setDocument([wanted, documentOf(catalogue, inputs, speedUnit)]);
  const { evaluated, problems, of, away, failed } = useEvaluation(document[1]);
  const purpose = catalogue.purposes.find((item) => item.code === inputs.purpose);
  const onWater = inputs.kind === "boat";
  const places: string[] = catalogue.starts.find((item) => item.vehicle_kind === inputs.kind)?.places ?? [];
  const problem = (path: string, name: keyof Inputs) => {
    const found = problems.find((item) => item.path === path);
    return found && (pressed || inputs.touched.includes(name)) ? `${found.message} ${found.remedy}` : undefined;
  };
  const newVehicle = inputs.vehicle === "";
  const without = (sensor: string) => catalogue.sensors.find((item) => item.code === sensor)?.sees.length === 0;
  const noTarget = without(inputs.sensor);
  const lacks = [
    !inputs.purpose && t("what the reading is for"),
    newVehicle && !inputs.vehicleName.trim() && t("the vehicle's name"),
    !onWater && !inputs.marking && !inputs.circumference && t("the wheel"),
    !noTarget && !inputs.count && t("the count of the target"),
  ].filter(Boolean);
  const good = of === document[1] && problems.length === 0 && lacks.length === 0;
  const create = async () => {
    press(true);
    if (!good) return;
    try {
      refuse(null);
      const vehicle = newVehicle
        ? await addVehicle.mutateAsync({ name: inputs.vehicleName, kind: inputs.kind as Vehicle["kind"], note: "" })
        : vehicles.find((item) => String(item.id) === inputs.vehicle);
      if (!vehicle) return;
      if (newVehicle) change({ vehicle: String(vehicle.id) });
      const sensed = inputs.drive === "hub" ? (onWater ? t("paddle") : t("hub")) : t("shaft");
      const name = t("{0}, {1}", purpose?.label ?? t("Speed"), sensed);
      const installation = await addInstallation.mutateAsync({
        vehicle: vehicle.id,
        document: { ...document[1], name },
      });
      dropInputs(account);
      go(`/installation/${installation.id}/wheel`);
    } catch (error) {
      refuse(error as Error);
    }
  };
  const now = evaluated?.shown_now[0];
  const first = evaluated && of === document[1] && problems.length === 0 ? evaluated.result : null;
  const warnings = first?.findings.filter((finding) => finding.severity !== "note") ?? [];
  const last = useLast(lacks.length === 0 ? (first ?? undefined) : undefined);
  const shown = lacks.length === 0 ? last : undefined;
  return (
    <Frame title={t("New installation")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="1180px" mx="auto">
        <Heading as="h1" size="2xl" py={3}>
          {t("New installation")}
        </Heading>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={4}>
          <Step number={1} title={t("What is the reading for?")} wide>
            <Cards
              label={t("Purpose")}
              value={inputs.purpose}
              change={(code) => {
                const kind = catalogue.purposes.find((item) => item.code === code)?.vehicle_kind;
                const meant = newVehicle && kind && !inputs.touched.includes("kind") ? usual(catalogue, kind) : {};
                change({ purpose: code, drive: code === "gearbox_or_gauge" ? "axle_ratio" : inputs.drive }, meant);
              }}
              options={catalogue.purposes.map(({ code, label }) => ({ code, label }))}
              columns={2}
            />
            {purpose && (
              <Box borderLeftWidth="4px" borderColor="signal.fg" bg="signal.subtle" px={3} py={2} data-testid="advice">
                <Text fontWeight="600">{t("Sense at {0}.", purpose.sense_at)}</Text>
                <Text>{purpose.why}</Text>
              </Box>
            )}
          </Step>
          <Step number={2} title={t("On which vehicle?")}>
            <ChoiceField
              label={t("Vehicle")}
              value={inputs.vehicle}
              change={(id) => {
                const kind = vehicles.find((item) => String(item.id) === id)?.kind;
                change({ vehicle: id, ...(kind ? usual(catalogue, kind) : {}) });
              }}
              options={[
                { code: "", label: t("New vehicle") },
                ...vehicles.map((item) => ({ code: String(item.id), label: item.name })),
              ]}
            />
            {newVehicle && (
              <>
                <TextField
                  label={t("Vehicle name")}
                  value={inputs.vehicleName}
                  change={(vehicleName) => change({ vehicleName })}
                  error={
                    refused instanceof Refusal
                      ? refused.problems.find((item) => item.path === "name")?.message
                      : undefined
                  }
                  testId="vehicle-name"
                />
                <ChoiceField
                  label={t("Vehicle type")}
                  value={inputs.kind}
                  change={(kind) => change(usual(catalogue, kind))}
                  options={choicesAt(catalogue, "vehicle_kind")}
                  testId="vehicle-kind"
                />
              </>
            )}
          </Step>
          <Step number={3} title={onWater ? t("The paddle") : t("The wheel")}>
            {!onWater && (
              <TextField
                label={t("Size marking on the sidewall, or the diameter")}
                value={inputs.marking}
                change={(marking) => change({ marking })}
                error={inputs.marking || !inputs.circumference ? problem("wheel.marking.text", "marking") : undefined}
                meaning={first && inputs.marking ? first.stages[0]?.why[0]?.source : undefined}
                hint={catalogue.accepted_markings}
                testId="marking"
              />
            )}
            {!onWater && (
              <>
                <Button size="sm" variant="outline" alignSelf="flex-start" minH="44px" onClick={() => open("size")}>
                  {t("Find the size")}
                </Button>
                <SizeSheet open={dialog === "size"} close={() => open(null)} take={(marking) => change({ marking })} />
              </>
            )}
            {(onWater || inputs.marking === "") && (
              <UnitField
                label={
                  onWater
                    ? t("Pulses per nautical mile ({0} is usual)", usualPaddle(catalogue))
                    : t("Or its circumference, if you know it")
                }
                value={inputs.circumference}
                change={(circumference) => change({ circumference })}
                error={problem(
                  onWater ? "wheel.paddle.pulses_per_nautical_mile" : "wheel.entered.circumference_mm",
                  "circumference",
                )}
                unit={onWater ? "" : "mm"}
                testId="circumference"
              />
            )}
            {!onWater && inputs.marking === "" && inputs.circumference !== "" && (
              <ChoiceField
                label={t("Where this circumference is from")}
                value={inputs.source}
                change={(source) => change({ source })}
                options={choicesAt(catalogue, "wheel.entered.source")}
              />
            )}
          </Step>
          <Step number={4} title={t("What turns, and what senses it?")}>
            {!onWater && (
              <Grid templateColumns="1fr 1fr" gap={3}>
                <ChoiceField
                  label={t("Sensed wheel or axle")}
                  value={inputs.sensedAt}
                  change={(sensedAt) => change({ sensedAt })}
                  options={choicesAt(catalogue, "sensed_at").filter((item) => places.includes(item.code))}
                  testId="sensed-at"
                />
                <ChoiceField
                  label={t("Driven wheel")}
                  value={inputs.driven}
                  change={(driven) => change({ driven })}
                  options={choicesAt(catalogue, "drive.driven")}
                  testId="driven"
                />
              </Grid>
            )}
            <ChoiceField
              label={t("Position of the target")}
              value={inputs.drive}
              change={(drive) => change({ drive })}
              options={choicesAt(catalogue, "drive.kind")}
            />
            <Grid templateColumns="1fr 1fr" gap={3}>
              {driveFields(catalogue, inputs.drive).map((field) => (
                <TextField
                  key={field.name}
                  label={field.title}
                  value={inputs.gears[field.name] ?? field.usual}
                  change={(value) => change({ gears: { ...inputs.gears, [field.name]: value } })}
                  error={problem(`drive.${inputs.drive}.${field.name}`, "gears")}
                  numeric
                  hint={field.hint}
                  testId={field.name}
                />
              ))}
            </Grid>
            {noTarget && <Text fontSize="sm">{t("This sensor needs no target: nothing is counted.")}</Text>}
            <Grid templateColumns="2fr 1fr" gap={3} display={noTarget ? "none" : "grid"}>
              <ChoiceField
                label={t("Target")}
                value={inputs.target}
                change={(target) => change({ target })}
                options={choicesAt(catalogue, "target.kind")}
              />
              <TextField
                label={t("Count per turn")}
                value={inputs.count}
                change={(count) => change({ count })}
                error={problem("target.count", "count")}
                numeric
                nudge={1}
                testId="count"
              />
            </Grid>
            <ChoiceField
              label={t("Sensor")}
              value={inputs.sensor}
              change={(sensor) => change(without(sensor) ? { sensor, count: inputs.count || "1" } : { sensor })}
              options={catalogue.sensors}
            />
          </Step>
          <Step number={5} title={t("What reads it?")}>
            {comparesCounts(catalogue, inputs) ? (
              <Accepted inputs={inputs} change={change} catalogue={catalogue} problem={problem} />
            ) : (
              <ChoiceField
                label={t("Setting format")}
                value={inputs.encoding}
                change={(encoding) => change({ encoding })}
                options={catalogue.encodings.filter((item) => Object.keys(item.start).length === 0)}
                hint={t("Tables, codes, percentages and custom formats are set at the readout afterwards.")}
                testId="encoding"
              />
            )}
            {!comparesCounts(catalogue, inputs) &&
              catalogue.encodings.find((item) => item.code === inputs.encoding)?.per_turn && (
                <TextField
                  label={
                    isGeared(catalogue, inputs) ? t("Teeth set in the reader") : t("Pulses per turn set in the reader")
                  }
                  value={pulsesSet(catalogue, inputs)}
                  change={(setPulsesPerTurn) => change({ setPulsesPerTurn })}
                  error={problem("readouts.0.set_pulses_per_turn", "setPulsesPerTurn")}
                  numeric
                  nudge={1}
                  hint={t("1 where it has no such setting")}
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
                    {t("Last good figures: a field needs correcting")}
                  </Text>
                )}
                <Text fontFamily="mono" fontSize="2xl">
                  {comparesCounts(catalogue, inputs)
                    ? t("{0} pulses per turn", figure(shown.pulses_per_turn_of_wheel))
                    : t("enter {0} {1}", shown.readouts[0]?.to_type.text, shown.readouts[0]?.unit)}
                </Text>
                <Text color="chalk.dim">
                  {comparesCounts(catalogue, inputs)
                    ? shown.readouts[0]?.action
                    : isOtherwise(now)
                      ? t("as it is, it shows: {0}", really(now).join(" ").trim())
                      : t(
                          "shows {0} at {1} true, ± {2} %",
                          show(shown.shown.shown_kmh, "km/h", shown.shown.relative_standard_uncertainty_pct)[0],
                          show(shown.shown.true_kmh, "km/h").join(" "),
                          percent(shown.shown.expanded_uncertainty_pct),
                        )}
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
                  ? t("The server does not answer. What you typed is kept; trying again.")
                  : failed && lacks.length === 0
                    ? t("The server failed. What you typed is kept; trying again.")
                    : lacks.length > 0
                      ? t("Still to enter: {0}.", lacks.join(", "))
                      : t("A field needs correcting.")}
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
            {t("Create installation")}
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
