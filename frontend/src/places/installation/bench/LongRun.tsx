import { Box, Button, Flex, Progress, Stack, Table, Text } from "@chakra-ui/react";
import { progressSlotRecipe } from "@chakra-ui/react/theme";
import { useQuery } from "@tanstack/react-query";
import { Suspense, useState } from "react";
import type { Schemas } from "../../../api/client";
import { isOpen, showWork, stopWork } from "../../../api/work";
import { Plot } from "../../../drawings/LaterPlot";
import { offer } from "../../../ui/files";
import { fixed } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { UnitField } from "../../../ui/UnitField";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { type FileKind, fetchFile, messageOf, NO_FAULTS, startRun } from "./queries";

const ASK_EVERY_MS = 300;
const FILES: [FileKind, string][] = [
  ["csv", t("CSV, times of the edges")],
  ["vcd", t("VCD, for logic viewers")],
  ["nmea", t("NMEA, of a satellite receiver")],
];

/** A sweep worked off beside the requests: where pulses are missed; and the same as files for other tools. */
export function LongRun() {
  const { evaluated, installationId } = useEditing();
  const { show, own, inOwn, typed } = useUnits();
  const speed = (kmh: number) => typed(show(kmh, "km/h")[0], "km/h");
  const { max_speed_kmh, min_speed_kmh } = evaluated.result.pulse_times;
  const [inputs, give] = useHeld(`long run on ${installationId}`, {
    from: speed(min_speed_kmh),
    to: speed(max_speed_kmh),
    seconds: "60",
    noise: "0",
  });
  const [id, started] = useState<number | null>(null);
  const [error, fail] = useState("");
  const run = {
    profile: {
      points: [
        { at_s: 0, kmh: inputs.from },
        { at_s: inputs.seconds, kmh: inputs.to },
      ],
    },
    seconds: inputs.seconds,
    faults: { ...NO_FAULTS, noise: inputs.noise },
  };
  const result = useQuery({
    queryKey: ["work", id],
    enabled: id !== null,
    queryFn: () => showWork(id as number),
    refetchInterval: ({ state }) => (state.data && !isOpen(state.data) ? false : ASK_EVERY_MS),
    staleTime: 0,
  }).data;
  const going = id !== null && (!result || isOpen(result));
  const field = (name: keyof typeof inputs, label: string, unit: string) => (
    <Box w="130px">
      <UnitField
        label={label}
        unit={unit}
        nudge={name === "noise" ? 0.1 : 5}
        value={inputs[name]}
        change={(text) => give({ ...inputs, [name]: text })}
        testId={`run-${name}`}
      />
    </Box>
  );
  const refused = (problem: Error) => fail(messageOf(problem));
  return (
    <Stack gap={4} data-testid="long-run">
      <Text>
        {t(
          "A simulated run from one speed to another: at which speeds are pulses missed, or counted that never passed?",
        )}
      </Text>
      <Flex gap={3} wrap="wrap" align="end">
        {field("from", t("From"), "km/h")}
        {field("to", t("To"), "km/h")}
        {field("seconds", t("In"), "s")}
        {field("noise", t("Noise"), "")}
        <Button
          colorPalette="signal"
          minH="44px"
          disabled={going}
          onClick={() => {
            fail("");
            startRun(evaluated.document, run).then((item) => started(item.id), refused);
          }}
        >
          {t("Start run")}
        </Button>
        {going && <Small onClick={() => id !== null && stopWork(id).catch(refused)}>{t("Stop")}</Small>}
      </Flex>
      {error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          ✕ {error}
        </Text>
      )}
      {going && (
        <Progress.Root
          recipe={progressSlotRecipe}
          value={100 * (result?.share ?? 0)}
          colorPalette="signal"
          aria-label={t("Progress of the run")}
        >
          <Progress.Track>
            <Progress.Range />
          </Progress.Track>
        </Progress.Root>
      )}
      {result?.state === "stopped" && <Text>{t("The run was stopped.")}</Text>}
      {result?.state === "failed" && (
        <Text role="alert" color="bad.fg">
          ✕ {result.problem?.message} {result.problem?.remedy}
        </Text>
      )}
      {result?.bench_run && <Outcome result={result.bench_run} />}
      <Box>
        <Text fontSize="sm" color="fg.muted">
          {t(
            "The same run as files for other tools, from {0} to {1}:",
            `${inOwn(inputs.from, "km/h")} ${own("km/h")[0]}`,
            `${inOwn(inputs.to, "km/h")} ${own("km/h")[0]}`,
          )}
        </Text>
        <Flex gap={2} wrap="wrap">
          {FILES.map(([kind, label]) => (
            <Small
              key={kind}
              onClick={() => {
                fail("");
                fetchFile(kind, evaluated.document, run).then((file) => offer(file, `bench.${kind}`), refused);
              }}
            >
              {label}
            </Small>
          ))}
        </Flex>
      </Box>
    </Stack>
  );
}

function Outcome({ result }: { result: Schemas["RunTold"] }) {
  const { scale, speedUnit, show } = useUnits();
  const clean = result.missed === 0 && result.false === 0;
  return (
    <Stack gap={2} data-testid="run-result">
      <Text fontWeight="700" color={clean ? "good.fg" : "bad.fg"}>
        {clean ? "✓" : "✕"} {result.text}
      </Text>
      <Suspense fallback={<Box minH="240px" />}>
        <Plot
          x={result.time_s}
          xLabel="s"
          yLabel={speedUnit}
          height={240}
          describe={t("True and shown speed over {0} seconds. {1}", fixed(result.time_s.at(-1) ?? 0, 0), result.text)}
          lines={[
            ...result.shown_kmh.map((shown, place) => ({
              label: result.readers[place] ?? "",
              values: shown.map((item) => item * scale),
              look: place === 0 ? ("ours" as const) : ("limit" as const),
            })),
            { label: t("true"), values: result.true_kmh.map((item) => item * scale), look: "true" as const },
          ]}
        />
      </Suspense>
      <Text fontSize="sm" color="fg.muted">
        {t(
          result.readers.length > 1
            ? "Full: {0}; fine dashes: true speed; long dashes: {1}."
            : "Full: {0}; fine dashes: true speed.",
          result.readers[0],
          result.readers.slice(1).join(", "),
        )}
      </Text>
      {result.stretches.length > 0 && (
        <TableRoot variant="line">
          <Table.Header>
            <Table.Row>
              {["at", "between", "passed", "missed", "false"].map((head) => (
                <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body fontFamily="mono">
            {result.stretches.slice(0, 12).map((item) => (
              <Table.Row key={item.from_s}>
                <Table.Cell>{fixed(item.from_s, 1)} s</Table.Cell>
                <Table.Cell>
                  {show(item.from_kmh, "km/h", 1)[0]} … {show(item.to_kmh, "km/h", 1).join(" ")}
                </Table.Cell>
                <Table.Cell>{item.passed}</Table.Cell>
                <Table.Cell>{item.missed}</Table.Cell>
                <Table.Cell>{item.false}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </TableRoot>
      )}
    </Stack>
  );
}
