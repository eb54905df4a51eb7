import { Box, Button, Flex, Progress, Stack, Table, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../../api/client";
import { TextField } from "../../../ui/fields";
import { offer } from "../../../ui/files";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { useEditing } from "../context";
import { type FileKind, fetchFile, NO_FAULTS, type Run, showRun, startRun, stopRun, wordsOf } from "./queries";

const Plot = lazy(() => import("../../../drawings/Plot").then((found) => ({ default: found.Plot })));
const TABLE = { "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1 } };
const ASK_EVERY_MS = 300;
const FILES: [FileKind, string][] = [
  ["csv", "CSV, times of the edges"],
  ["vcd", "VCD, for logic viewers"],
  ["nmea", "NMEA, of a satellite receiver"],
];

/** A sweep worked off beside the requests: where pulses are missed; and the same as files for other tools. */
export function LongRun() {
  const { evaluated } = useEditing();
  const { show } = useUnits();
  const { top_kmh, lowest_kmh } = evaluated.result.pulse_times;
  const [given, give] = useState({ from: String(lowest_kmh), to: String(top_kmh), seconds: "60", noise: "0" });
  const [id, started] = useState<number | null>(null);
  const [error, fail] = useState("");
  const run = {
    profile: {
      points: [
        { at_s: 0, kmh: given.from },
        { at_s: given.seconds, kmh: given.to },
      ],
    },
    seconds: given.seconds,
    faults: { ...NO_FAULTS, noise: given.noise },
  } as unknown as Run;
  const told = useQuery({
    queryKey: ["run", id],
    enabled: id !== null,
    queryFn: () => showRun(id as number),
    refetchInterval: ({ state }) =>
      ["done", "failed", "stopped"].includes(state.data?.state ?? "") ? false : ASK_EVERY_MS,
    staleTime: 0,
  }).data;
  const going = id !== null && (!told || told.state === "waiting" || told.state === "going");
  const field = (name: keyof typeof given, label: string, unit: string) => (
    <Box w="130px">
      <TextField
        label={label}
        unit={unit}
        numeric
        nudge={name === "noise" ? 0.1 : 5}
        value={given[name]}
        change={(text) => give({ ...given, [name]: text })}
        testId={`run-${name}`}
      />
    </Box>
  );
  const refused = (problem: Error) => fail(wordsOf(problem));
  return (
    <Stack gap={4} data-testid="long-run">
      <Text>
        A run from one speed to another, worked off piece by piece: at which speeds are pulses missed, or counted that
        never passed?
      </Text>
      <Flex gap={3} wrap="wrap" align="end">
        {field("from", "From", "km/h")}
        {field("to", "To", "km/h")}
        {field("seconds", "In", "s")}
        {field("noise", "Noise", "")}
        <Button
          colorPalette="signal"
          minH="44px"
          disabled={going}
          onClick={() => {
            fail("");
            startRun(evaluated.document, run).then((one) => started(one.id), refused);
          }}
        >
          Start the run
        </Button>
        {going && <Small onClick={() => id !== null && stopRun(id).catch(refused)}>Stop it</Small>}
      </Flex>
      {error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          ✕ {error}
        </Text>
      )}
      {going && (
        <Progress.Root value={100 * (told?.share ?? 0)} colorPalette="signal" aria-label="Progress of the run">
          <Progress.Track>
            <Progress.Range />
          </Progress.Track>
        </Progress.Root>
      )}
      {told?.state === "stopped" && <Text>The run was stopped.</Text>}
      {told?.state === "failed" && (
        <Text role="alert" color="bad.fg">
          ✕ {told.message}
        </Text>
      )}
      {told?.result && <Outcome told={told.result} />}
      <Box>
        <Text fontSize="sm" color="fg.muted">
          The same run as files for other tools, from {show(Number(given.from) || 0, "km/h", 1).join(" ")} to{" "}
          {show(Number(given.to) || 0, "km/h", 1).join(" ")}:
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

function Outcome({ told }: { told: Schemas["RunTold"] }) {
  const { scale, speedUnit, show } = useUnits();
  const clean = told.missed === 0 && told.false === 0;
  return (
    <Stack gap={2} data-testid="run-told">
      <Text fontWeight="700" color={clean ? "good.fg" : "bad.fg"}>
        {clean ? "✓" : "✕"} {told.words}
      </Text>
      <Suspense fallback={<Box minH="240px" />}>
        <Plot
          x={told.time_s}
          xLabel="s"
          yLabel={speedUnit}
          height={240}
          describe={`True and shown speed over ${told.time_s.at(-1)?.toFixed(0)} seconds. ${told.words}`}
          lines={[
            ...told.shown_kmh.map((shown, place) => ({
              label: told.readers[place] ?? "",
              values: shown.map((one) => one * scale),
              look: place === 0 ? ("ours" as const) : ("limit" as const),
            })),
            { label: "true", values: told.true_kmh.map((one) => one * scale), look: "true" as const },
          ]}
        />
      </Suspense>
      <Text fontSize="sm" color="fg.muted">
        Full: {told.readers[0]}; fine dashes: true speed
        {told.readers.length > 1 && `; long dashes: ${told.readers.slice(1).join(", ")}`}.
      </Text>
      {told.stretches.length > 0 && (
        <Table.Root size="sm" variant="line" css={TABLE}>
          <Table.Header>
            <Table.Row>
              {["at", "between", "passed", "missed", "false"].map((head) => (
                <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body fontFamily="mono">
            {told.stretches.slice(0, 12).map((one) => (
              <Table.Row key={one.from_s}>
                <Table.Cell>{one.from_s.toFixed(1)} s</Table.Cell>
                <Table.Cell>
                  {show(one.from_kmh, "km/h", 1)[0]} … {show(one.to_kmh, "km/h", 1).join(" ")}
                </Table.Cell>
                <Table.Cell>{one.passed}</Table.Cell>
                <Table.Cell>{one.missed}</Table.Cell>
                <Table.Cell>{one.false}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
    </Stack>
  );
}
