import { Box, Button, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { BenchScope, type Cursors } from "../../../drawings/BenchScope";
import { Dial } from "../../../drawings/Dial";
import { ChoiceField } from "../../../ui/fields";
import { digits, fixed } from "../../../ui/format";
import { useUnits } from "../../../ui/units";
import { listed, t } from "../../../ui/words";
import { useEvaluated } from "../context";
import { type BenchFrame, type Faults, NO_FAULTS } from "./queries";
import { useLive } from "./useLive";

const WINDOWS = [
  { code: "", label: t("Six pulses") },
  { code: "2", label: t("2 ms") },
  { code: "10", label: t("10 ms") },
  { code: "50", label: t("50 ms") },
  { code: "200", label: t("200 ms") },
  { code: "1000", label: "1 s" },
];

/** The bench running: generator at a true speed, the installation on the scope, and what every reader makes of it. */
export function Running() {
  const evaluated = useEvaluated();
  const { document, result } = evaluated;
  const { show, scale, speedUnit } = useUnits();
  const ends = document.readouts.map((item) => Number(item.scale_end_kmh ?? 0));
  const top = result.sweep_end_kmh;
  const [kmh, drive] = useState(Math.min(result.shown.true_kmh, top));
  const [sweeping, sweep] = useState(false);
  const [running, run] = useState(true);
  const [window_, choose] = useState("");
  const [faults, spoil] = useState(NO_FAULTS);
  const [cursors, move] = useState<Cursors>([20, 36.7]);
  const setup = { kmh, top, sweeping, window_ms: window_ ? Number(window_) : null, faults };
  const { frame, error } = useLive(document, setup, running);
  const between_ms = frame ? (Math.abs(cursors[1] - cursors[0]) / 100) * frame.scope.span_ms : 0;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) 300px" }} gap={4} data-testid="running">
      <Stack gap={2} minW={0}>
        <Flex gap={3} align="end" wrap="wrap">
          <Box flex="1" minW={{ base: "100%", md: "220px" }}>
            <Text fontSize="sm" color="fg.muted">
              {frame
                ? t(
                    "True speed of the generator; at the sensor {0} Hz",
                    frame.sensor_hz > 0 ? digits(frame.sensor_hz, 4) : 0,
                  )
                : t("True speed of the generator")}
            </Text>
            <Flex align="center" gap={3}>
              <input
                type="range"
                aria-label={t("True speed")}
                aria-valuetext={show(kmh, "km/h", 0.5).join(" ")}
                min={0}
                max={top}
                step={top > 60 ? 1 : 0.5}
                value={sweeping && frame ? frame.true_kmh : kmh}
                onChange={(event) => {
                  sweep(false);
                  drive(Number(event.target.value));
                }}
                style={{ flex: 1, minHeight: 44, accentColor: "var(--chakra-colors-signal-fg)" }}
              />
              <Text fontFamily="mono" fontSize="2xl" fontWeight="700" minW="7ch" textAlign="right" data-testid="true">
                {(frame?.true_kmh ?? kmh) === 0 ? "0" : fixed((frame?.true_kmh ?? kmh) * scale, 1)} {speedUnit}
              </Text>
            </Flex>
          </Box>
          <Button size="sm" minH="44px" variant="outline" aria-pressed={sweeping} onClick={() => sweep(!sweeping)}>
            {sweeping ? t("Stop the sweep") : t("Sweep")}
          </Button>
          <Button
            size="sm"
            minH="44px"
            colorPalette={running ? undefined : "signal"}
            variant={running ? "outline" : "solid"}
            onClick={() => run(!running)}
          >
            {running ? t("Hold") : t("Run")}
          </Button>
        </Flex>
        {error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            ✕ {error}
          </Text>
        )}
        {frame ? (
          <>
            <BenchScope scope={frame.scope} cursors={cursors} move={move} text={describe(frame)} />
            <Flex gap={4} wrap="wrap" fontSize="sm">
              <Text data-testid="between">
                {t("Between the cursors")} <b>{t("{0} ms", digits(between_ms, 3))}</b>
                {between_ms > 0 && ": "}
                {between_ms > 0 &&
                  listed(
                    t("{0} Hz", digits(1000 / between_ms, 4)),
                    show((1000 / between_ms) * frame.kmh_per_hz, "km/h", 0.5).join(" "),
                  )}
              </Text>
              <Counts frame={frame} />
            </Flex>
          </>
        ) : (
          <Text>{t("Starting …")}</Text>
        )}
      </Stack>
      <Box gridColumn={{ xl: 2 }} gridRow={{ xl: "1 / span 2" }}>
        <Readers frame={frame} ends={ends} top={top} />
      </Box>
      <FaultFields faults={faults} spoil={spoil} window_={window_} choose={choose} />
    </Grid>
  );
}

const describe = (frame: BenchFrame) =>
  t(
    "Scope over {0} milliseconds: raw signal, squared, and {1} counted edges.",
    digits(frame.scope.span_ms, 3),
    frame.scope.counted_ms.length,
  );

function Counts({ frame }: { frame: BenchFrame }) {
  const clean = frame.missed === 0 && frame.false === 0;
  return (
    <Text data-testid="counts" color={clean ? "good.fg" : "bad.fg"} fontWeight="600">
      {t("{0} {1} passed, {2} missed, {3} false", clean ? "✓" : "✕", frame.passed, frame.missed, frame.false)}
      <Text as="span" color="fg.muted" fontWeight="400">
        {" "}
        {t("in the last {0} s", fixed(frame.over_s, 1))}
      </Text>
    </Text>
  );
}

/** What every reader shows, beside the true speed. */
function Readers({ frame, ends, top }: { frame?: BenchFrame; ends: number[]; top: number }) {
  const { scale, speedUnit } = useUnits();
  if (!frame) return null;
  return (
    <Flex gap={3} direction={{ base: "row", xl: "column" }} wrap="wrap" data-testid="readers">
      {frame.readers.map((reader, place) => {
        const off = reader.shown_kmh - frame.true_kmh;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: names may be the same, places are not
          <Box key={place} bg="bg.subtle" borderRadius="md" p={2} flex={{ base: "1 1 150px", xl: "none" }}>
            <Text fontWeight="600">{reader.name}</Text>
            <Dial
              name={reader.name}
              needle={reader.needle_kmh * scale}
              shown={figureOf(reader.shown_kmh * scale)}
              end={(ends[place] || top) * scale}
              unit={speedUnit}
            />
            <Text fontSize="sm" color="fg.muted" fontFamily="mono">
              {reader.hz > 0 ? t("{0} Hz", digits(reader.hz, 4)) : t("no pulses")};{" "}
              {frame.true_kmh > 0 ? `${off >= 0 ? "+" : "−"}${fixed(Math.abs(off * scale), 1)} ${speedUnit}` : ""}
            </Text>
          </Box>
        );
      })}
    </Flex>
  );
}

const figureOf = (value: number) => (Number.isInteger(value) ? String(value) : fixed(value, 1));

/** What is wrong on the bench, and how much of time the scope shows. */
function FaultFields({
  faults,
  spoil,
  window_,
  choose,
}: {
  faults: Faults;
  spoil: (faults: Faults) => void;
  window_: string;
  choose: (code: string) => void;
}) {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const contact = evaluated.document.sensor.kind === "reed";
  const sliders: {
    name: keyof Faults;
    label: string;
    max: number;
    step: number;
    unit: string;
    also?: Partial<Faults>;
  }[] = [
    { name: "noise", label: t("Noise"), max: 3, step: 0.05, unit: "" },
    { name: "runout_mm", label: t("Added runout"), max: 2, step: 0.05, unit: "mm" },
    { name: "missing", label: t("Missing teeth"), max: 4, step: 1, unit: "" },
    ...(contact ? [{ name: "bounce_ms" as const, label: t("Bounce"), max: 3, step: 0.1, unit: "ms" }] : []),
    {
      name: "open_for_ms",
      label: t("Loose connector"),
      max: 250,
      step: 10,
      unit: t("ms twice a second"),
      also: { open_every_s: 0.5 },
    },
  ];
  return (
    <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} alignItems="end">
      <ChoiceField
        label={t("Time across the scope")}
        value={window_}
        change={choose}
        options={WINDOWS}
        testId="window"
      />
      {sliders.map(({ name, label, max, step, unit, also }) => (
        <label key={name} style={{ display: "block" }}>
          <Text as="span" fontSize="sm" color="fg.muted">
            {label}{" "}
            <Text as="span" fontFamily="mono" color="fg">
              {unit === "mm" ? show(Number(faults[name] ?? 0), unit).join(" ") : `${Number(faults[name] ?? 0)} ${unit}`}
            </Text>
          </Text>
          <input
            type="range"
            aria-label={label}
            min={0}
            max={max}
            step={step}
            value={Number(faults[name] ?? 0)}
            onChange={(event) => spoil({ ...faults, ...also, [name]: Number(event.target.value) })}
            style={{ width: "100%", minHeight: 40, accentColor: "var(--chakra-colors-signal-fg)" }}
          />
        </label>
      ))}
    </Grid>
  );
}
