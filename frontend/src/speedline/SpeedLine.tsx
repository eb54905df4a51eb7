import "./speedline.css";
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { memo, useEffect, useRef } from "react";
import type { Catalogue, Evaluation, FieldProblem, StageName } from "../api/client";
import { useAnnounced } from "../ui/announce";
import { figure, percent, signed } from "../ui/format";
import { isOtherwise, type ShownNow, useShownNow } from "../ui/shownNow";
import { useUnits } from "../ui/units";
import { listed, t } from "../ui/words";
import { EvidenceStroke } from "./EvidenceStroke";
import { STAGE_LABELS, STAGES, stageLabel } from "./stages";
import { Wedge } from "./Wedge";

const SAID = { blocking: t("blocking finding"), warning: t("warning finding"), note: t("note finding") };
const MARKS = { blocking: "✕", warning: "!", note: "i" } as const;

type Props = {
  result: Evaluation;
  /** What the first display really shows. */
  now?: ShownNow;
  catalogue: Catalogue;
  /** None while the bench is looked at. */
  chosen: StageName | null;
  choose: (stage: StageName) => void;
  problems: FieldProblem[];
  stale: boolean;
  /** The server failed at the document as it is now. */
  failed: boolean;
  onWater: boolean;
  sensorKind: string;
};

/** The line from the ground to the number on the display; it is also the navigation. */
export const SpeedLine = memo(function SpeedLine({
  result,
  now,
  catalogue,
  chosen,
  choose,
  problems,
  stale,
  failed,
  onWater,
  sensorKind,
}: Props) {
  const { show } = useUnits();
  const line = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another stage is chosen
  useEffect(() => {
    // with the next frame, when the page is laid out anyway
    const later = requestAnimationFrame(() => {
      const [box, at] = [line.current, line.current?.querySelector<HTMLElement>("[aria-current=page]")];
      if (box && at) box.scrollLeft = at.offsetLeft - (box.clientWidth - at.clientWidth) / 2;
    });
    return () => cancelAnimationFrame(later);
  }, [chosen]);
  return (
    <Grid
      bg="road"
      color="chalk"
      templateColumns={{ base: "1fr", md: "minmax(0, 1fr) minmax(300px, 25%)" }}
      borderYWidth={{ base: "2px", md: "3px" }}
      borderColor="road.edge"
    >
      <Box as="nav" aria-label={t("Stages")} display="flex" minW={0}>
        <span className="line-begins">{onWater ? t("Water") : t("Ground")}</span>
        <div ref={line} className="stations">
          {STAGES.map((name, place) => (
            <Station
              key={name}
              name={name}
              number={place + 1}
              label={stageLabel(name, onWater)}
              {...keyFigure(result, name, catalogue, { sensorKind, onWater, show })}
              stage={result.stages.find((item) => item.stage === name)}
              severity={result.findings.find((finding) => finding.stage === name)?.severity}
              problems={problemsOf(problems, name)}
              chosen={chosen === name}
              choose={choose}
            />
          ))}
        </div>
      </Box>
      <End
        shown={result.shown}
        findings={result.findings}
        now={now}
        counts={result.readouts[0]?.entry === "counts"}
        after_pct={result.next_action.after_pct}
        stale={
          failed
            ? t("Last good figures: the server failed, trying again")
            : stale &&
              (unfinished(problems)
                ? t("Last good figures: an entry is missing")
                : t("Last good figures: a field needs correcting"))
        }
      />
    </Grid>
  );
});

const NONE: FieldProblem[] = [];
const problemsOf = (problems: FieldProblem[], name: StageName) =>
  problems.length === 0 ? NONE : problems.filter((problem) => belongsTo(problem.path) === name);

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
  { sensorKind, onWater, show }: { sensorKind: string; onWater: boolean; show: ReturnType<typeof useUnits>["show"] },
): { value: string; unit: string } {
  if (name === "sensor") {
    const label = catalogue.sensors.find((sensor) => sensor.code === sensorKind)?.label ?? sensorKind;
    return { value: "", unit: label.split("(")[0]?.trim() ?? label };
  }
  const key = result.stages.find((item) => item.stage === name)?.figures[0];
  if (!key) return { value: "", unit: "" };
  const units: Partial<Record<StageName, string>> = {
    drive: onWater ? t("per paddle turn") : t("per wheel turn"),
    target: t("per turn"),
  };
  if (name === "readout") return { value: figure(key.value), unit: key.unit };
  const [value, unit] = show(key.value, key.unit, key.relative_standard_uncertainty_pct);
  return { value, unit: units[name] ?? unit };
}

type StationProps = {
  name: StageName;
  number: number;
  label: string;
  /** Without a figure, the unit is words alone. */
  value: string;
  unit: string;
  stage?: Evaluation["stages"][number];
  severity?: keyof typeof MARKS;
  problems: FieldProblem[];
  chosen: boolean;
  choose: (stage: StageName) => void;
};

const Station = memo(function Station(props: StationProps) {
  const { name, number, label, value, unit, stage, severity, problems, chosen, choose } = props;
  const evidence = stage?.evidence ?? "assumed";
  const toEnter = unfinished(problems);
  const wrong = problems.length > 0 && !toEnter;
  const mark = wrong ? "blocking" : toEnter ? "warning" : severity;
  const said = wrong ? t("field to correct") : toEnter ? t("an entry is missing") : severity ? SAID[severity] : "";
  return (
    <button
      type="button"
      className="station"
      onClick={() => choose(name)}
      aria-current={chosen ? "page" : undefined}
      data-stage={name}
      data-evidence={evidence}
    >
      <span className="station-top">
        <span className="station-name">
          <span className="station-number">{number} </span>
          {label}
        </span>
        {mark && (
          <span role="img" aria-label={said} className="station-mark" data-mark={mark}>
            {MARKS[mark]}
          </span>
        )}
      </span>
      <span className="station-figure">
        <span className={value ? "station-value" : "station-words"}>{value || unit}</span>
        {value && <span className="station-unit">{unit}</span>}
      </span>
      <EvidenceStroke evidence={evidence} />
    </button>
  );
});

/** Nothing is wrong, but something is not entered yet. */
export const unfinished = (problems: readonly FieldProblem[]) =>
  problems.length > 0 && problems.every((problem) => problem.missing);

type EndProps = Pick<Evaluation, "shown" | "findings"> & {
  now?: ShownNow;
  counts: boolean;
  after_pct: number;
  stale: string | false;
};

/** What the display shows in the end; with a blocked or failed stage that is not what its setting says. */
const End = memo(function End({ shown, findings, now, counts, after_pct, stale }: EndProps) {
  const { show } = useUnits();
  const really = useShownNow();
  const would = show(shown.shown_kmh, "km/h", shown.relative_standard_uncertainty_pct);
  const otherwise = isOtherwise(now);
  const [value, unit] = otherwise ? really(now) : would;
  const blocking = findings.find((finding) => finding.severity === "blocking");
  const within = `plus or minus ${percent(shown.expanded_uncertainty_pct)} percent`;
  useAnnounced(
    stale
      ? `${stale}.`
      : otherwise
        ? t("Shows {0}. {1}", listed(`${value} ${unit}`.trim()), now.cause)
        : blocking
          ? t("{0} {1} shown, {2}. Blocked at {3}.", value, unit, within, STAGE_LABELS[blocking.stage])
          : t("{0} {1} shown, {2}.", value, unit, within),
  );
  return (
    <Flex
      direction="column"
      justify="center"
      px={{ base: 3, md: 4 }}
      py={{ base: 1, md: 0 }}
      lineHeight={otherwise ? "1.15" : "1.3"}
      borderLeftWidth={{ md: "3px" }}
      borderTopWidth={{ base: "2px", md: 0 }}
      borderColor="road.edge"
      data-testid="shown"
      data-shows={now?.kind}
      data-stale={stale ? true : undefined}
      opacity={stale ? 0.75 : 1}
    >
      <Flex align="baseline" columnGap={2} wrap="wrap" fontFamily="mono">
        <Text fontSize={{ base: "md", md: otherwise ? "md" : "lg" }} color="chalk.dim">
          {show(shown.true_kmh, "km/h")[0]} →
        </Text>
        <Text
          fontSize={{ base: "2xl", md: otherwise ? "xl" : "3xl" }}
          fontWeight="700"
          lineHeight="1"
          color={otherwise ? "bad.onRoad" : undefined}
          data-testid="shown-kmh"
        >
          {value}
        </Text>
        {unit && <Text color="chalk.dim">{unit}</Text>}
        <Text fontSize={{ base: "xs", md: "sm" }} color="chalk.dim" fontFamily="body" data-testid="would-show">
          {otherwise ? (
            counts ? (
              shown.condition
            ) : (
              listed(
                t("would show {0}, ± {1} %", would.join(" "), percent(shown.expanded_uncertainty_pct)),
                shown.condition,
              )
            )
          ) : (
            <>
              <Wedge now_pct={shown.expanded_uncertainty_pct} after_pct={after_pct} />±{" "}
              {percent(shown.expanded_uncertainty_pct)} %,{" "}
              {shown.condition ? shown.condition : t("error {0} %", signed(shown.error_pct))}
            </>
          )}
        </Text>
      </Flex>
      {stale && (
        <Text fontSize="sm" color="signal.onRoad" fontWeight="700">
          {stale}
        </Text>
      )}
      {!stale && otherwise && (
        <Text fontSize="xs" color="bad.onRoad" fontWeight="700" lineClamp={2} title={now.cause} data-testid="cause">
          ✕ {now.cause}
        </Text>
      )}
      {!stale && !otherwise && blocking && (
        <Text fontSize="sm" color="bad.onRoad" fontWeight="700">
          {t("✕ Blocked at {0}: do not use it yet", STAGE_LABELS[blocking.stage])}
        </Text>
      )}
    </Flex>
  );
});
