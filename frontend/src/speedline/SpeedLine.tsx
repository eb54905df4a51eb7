import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import type { Catalogue, Evaluation, FieldProblem, StageName } from "../api/client";
import { figure, percent, signed } from "../ui/format";
import { useUnits } from "../ui/units";
import { EvidenceStroke } from "./EvidenceStroke";

export const STAGES: StageName[] = ["wheel", "drive", "target", "sensor", "signal", "readout"];
export const STAGE_LABELS: Record<StageName, string> = {
  wheel: "Wheel",
  drive: "Drive",
  target: "Target",
  sensor: "Sensor",
  signal: "Signal",
  readout: "Readout",
};
/** A stage's name; on the water the wheel is a paddle. */
export const stageLabel = (name: StageName, onWater: boolean) =>
  name === "wheel" && onWater ? "Paddle" : STAGE_LABELS[name];

const MARKS = { blocking: "✕", warning: "!", note: "i" } as const;

type Props = {
  result: Evaluation;
  catalogue: Catalogue;
  /** None while the bench is looked at. */
  chosen: StageName | null;
  choose: (stage: StageName) => void;
  problems: FieldProblem[];
  stale: boolean;
  onWater: boolean;
  sensorKind: string;
};

/** The line from the ground to the number on the display; it is also the navigation. */
export function SpeedLine({ result, catalogue, chosen, choose, problems, stale, onWater, sensorKind }: Props) {
  const { show } = useUnits();
  return (
    <Grid
      bg="road"
      color="chalk"
      templateColumns={{ base: "1fr", md: "1fr minmax(250px, 23%)" }}
      borderYWidth="3px"
      borderColor="road.edge"
    >
      <Box as="nav" aria-label="Stages" display="flex" minW={0}>
        <Flex
          display={{ base: "none", lg: "flex" }}
          align="center"
          px={3}
          fontSize="sm"
          color="chalk.dim"
          style={{ writingMode: "vertical-rl" }}
        >
          {onWater ? "Water" : "Ground"}
        </Flex>
        <Grid templateColumns="repeat(6, minmax(0, 1fr))" flex="1">
          {STAGES.map((name, place) => (
            <Station
              key={name}
              name={name}
              number={place + 1}
              label={stageLabel(name, onWater)}
              value={keyFigure(result, name, catalogue, sensorKind, show)}
              stage={result.stages.find((item) => item.stage === name)}
              severity={result.findings.find((finding) => finding.stage === name)?.severity}
              wrong={problems.some((problem) => belongsTo(problem.path) === name)}
              chosen={chosen === name}
              choose={() => choose(name)}
            />
          ))}
        </Grid>
      </Box>
      <End result={result} stale={stale} />
    </Grid>
  );
}

/** The stage a field of the document belongs to. */
export const belongsTo = (path: string): StageName => {
  const first = path.split(".")[0] ?? "";
  if (first === "readouts" || first === "check_speed_kmh") return "readout";
  if (first === "placement") return "sensor";
  return (STAGES as string[]).includes(first) ? (first as StageName) : "wheel";
};

function keyFigure(
  result: Evaluation,
  name: StageName,
  catalogue: Catalogue,
  sensorKind: string,
  show: ReturnType<typeof useUnits>["show"],
): [string, string] {
  if (name === "sensor") {
    const label = catalogue.sensors.find((sensor) => sensor.code === sensorKind)?.label ?? sensorKind;
    return ["", label.split("(")[0]?.trim() ?? label];
  }
  const key = result.stages.find((item) => item.stage === name)?.figures[0];
  if (!key) return ["", ""];
  const units: Partial<Record<StageName, string>> = { drive: "turns per turn", target: "per turn" };
  if (name === "readout") return [figure(key.value), key.unit];
  const [text, unit] = show(key.value, key.unit, key.relative_standard_uncertainty_pct);
  return [text, units[name] ?? unit];
}

type StationProps = {
  name: StageName;
  number: number;
  label: string;
  value: [string, string];
  stage?: Evaluation["stages"][number];
  severity?: keyof typeof MARKS;
  wrong: boolean;
  chosen: boolean;
  choose: () => void;
};

function Station({ name, number, label, value, stage, severity, wrong, chosen, choose }: StationProps) {
  const evidence = stage?.evidence ?? "assumed";
  const mark = wrong ? "blocking" : severity;
  const urgent = mark === "blocking" || mark === "warning";
  const said = wrong ? "field to correct" : severity ? `${severity} finding` : "";
  return (
    <chakra.button
      type="button"
      onClick={choose}
      aria-current={chosen ? "page" : undefined}
      data-stage={name}
      data-evidence={evidence}
      textAlign="left"
      px={{ base: 1, md: 3 }}
      pt={2}
      pb={1}
      minH={{ base: "92px", md: "112px" }}
      minW={0}
      bg={chosen ? "road.chosen" : "transparent"}
      borderTopWidth="4px"
      borderTopColor={chosen ? "signal.onRoad" : "transparent"}
      cursor="pointer"
      display="flex"
      flexDirection="column"
      overflow="hidden"
    >
      <Flex w="100%" justify="space-between" align="baseline" gap={1} position="relative">
        <Text fontSize={{ base: "xs", md: "sm" }} color="chalk.dim" truncate>
          <chakra.span display={{ base: "none", md: "inline" }}>{number} </chakra.span>
          {label}
        </Text>
        {mark && (
          <Text
            role="img"
            aria-label={said}
            fontWeight="700"
            fontSize="xs"
            px={{ base: 1, md: 1.5 }}
            position={{ base: "absolute", md: "static" }}
            right={0}
            top="20px"
            bg="road"
            borderRadius="sm"
            borderWidth="1px"
            color={urgent ? (mark === "blocking" ? "bad.onRoad" : "signal.onRoad") : "chalk"}
            borderColor="currentColor"
          >
            {MARKS[mark]}
          </Text>
        )}
      </Flex>
      <Text
        fontFamily={value[0] ? "mono" : "body"}
        fontSize={{ base: value[0] ? "sm" : "xs", md: value[0] ? "2xl" : "md" }}
        lineHeight="1.2"
        mt="auto"
        w="100%"
        lineClamp={value[0] ? 1 : 2}
      >
        {value[0] || value[1]}
      </Text>
      <Text fontSize="xs" color="chalk.dim" truncate w="100%" mb={1}>
        {value[0] ? value[1] : " "}
      </Text>
      <Box w="100%">
        <EvidenceStroke evidence={evidence} />
      </Box>
    </chakra.button>
  );
}

function End({ result, stale }: { result: Evaluation; stale: boolean }) {
  const { shown, findings } = result;
  const { show } = useUnits();
  const [value, unit] = show(shown.shown_kmh, "km/h", shown.relative_standard_uncertainty_pct);
  const blocking = findings.find((finding) => finding.severity === "blocking");
  return (
    <Flex
      direction="column"
      justify="center"
      px={4}
      py={2}
      borderLeftWidth={{ md: "3px" }}
      borderTopWidth={{ base: "3px", md: 0 }}
      borderColor="road.edge"
      aria-live="polite"
      data-testid="shown"
      data-stale={stale || undefined}
      opacity={stale ? 0.75 : 1}
    >
      <Flex align="baseline" gap={2} wrap="wrap" fontFamily="mono">
        <Text fontSize="lg" color="chalk.dim">
          {show(shown.true_kmh, "km/h")[0]} →
        </Text>
        <Text fontSize={{ base: "3xl", md: "4xl" }} fontWeight="700" lineHeight="1" data-testid="shown-kmh">
          {value}
        </Text>
        <Text color="chalk.dim">{unit}</Text>
      </Flex>
      <Text fontSize="sm" color="chalk.dim">
        ± {percent(shown.expanded_uncertainty_pct)} % (k = {Number(shown.coverage_factor.toFixed(1))}),{" "}
        {shown.condition ? shown.condition : `error ${signed(shown.error_pct)} %`}
      </Text>
      {stale && (
        <Text fontSize="sm" color="signal.onRoad" fontWeight="700">
          Last good figures: a field needs correcting
        </Text>
      )}
      {!stale && blocking && (
        <Text fontSize="sm" color="bad.onRoad" fontWeight="700">
          ✕ Blocked at {STAGE_LABELS[blocking.stage]}: do not use this number yet
        </Text>
      )}
    </Flex>
  );
}
