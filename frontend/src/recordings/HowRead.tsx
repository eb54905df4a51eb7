import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useRef } from "react";
import { ChoiceField, Select, TextField } from "../ui/fields";
import { Small } from "../ui/Small";
import { Tick } from "../ui/Tick";
import { useHeld } from "../ui/useHeld";
import { t } from "../ui/words";
import { type ReadAs, type Reading, useReadAgain } from "./queries";

const MEANINGS = [
  { code: "time", label: t("Time") },
  { code: "speed", label: t("Speed") },
  { code: "distance", label: t("Distance") },
  { code: "frequency", label: t("Frequency, Hz") },
  { code: "course", label: t("Course") },
  { code: "accuracy", label: t("Accuracy of the fix") },
  { code: "latitude", label: t("Latitude") },
  { code: "longitude", label: t("Longitude") },
  { code: "altitude", label: t("Altitude") },
  { code: "other", label: t("Other channel") },
  { code: "ignored", label: t("Not used") },
];

/** How the file of a recording is read, to be corrected: columns of a table, signals of a bus, levels of a sound. */
export function HowRead({ reading }: { reading: Reading }) {
  const { recording, columns, signals, read_as } = reading;
  const again = useReadAgain(recording.id);
  const read = (some: Partial<ReadAs>) => again.mutate({ ...read_as, ...some });
  const needsBus = recording.problem?.path === "dbc" || recording.problem?.path === "signals" || read_as.dbc !== "";
  const pulses = recording.format === "wav" || recording.format === "vcd";
  return (
    <Stack gap={3}>
      {recording.problem && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {recording.problem.message} {recording.problem.remedy}
        </Text>
      )}
      {(columns.length > 0 || needsBus || pulses) && (
        <details open={recording.state === "failed"}>
          <summary style={{ cursor: "pointer", minHeight: 32 }} data-testid="how-read">
            {t("How the file is read")}
          </summary>
          {columns.length > 0 && <Columns reading={reading} read={read} />}
          {needsBus && <Bus dbc={read_as.dbc} signals={signals} chosen={read_as.signals ?? null} read={read} />}
          {pulses && <Levels readAs={read_as} sound={recording.format === "wav"} read={read} />}
        </details>
      )}
    </Stack>
  );
}

type Read = (some: Partial<ReadAs>) => unknown;

/** What the columns of the file are. */
function Columns({ reading: { columns, units }, read }: { reading: Reading; read: Read }) {
  const change = (place: number, some: { meaning?: string; unit?: string }) =>
    read({
      columns: columns.map(({ meaning, unit }, at) =>
        at === place ? { meaning, unit, ...some } : { meaning, unit },
      ) as ReadAs["columns"],
    });
  return (
    <Stack gap={2} pt={2}>
      {columns.map((column, place) => (
        <Grid
          // biome-ignore lint/suspicious/noArrayIndexKey: headings may be the same, places are not
          key={place}
          templateColumns={{ base: "1fr 1fr", md: "2fr 1fr 1fr" }}
          gap={2}
          alignItems="center"
        >
          <Text fontSize="sm" gridColumn={{ base: "1 / -1", md: "auto" }}>
            {column.name}{" "}
            <Text as="span" color="fg.muted" fontFamily="mono">
              {column.first.slice(0, 3).join("  ")}
            </Text>
          </Text>
          <Select
            name={t("What {0} is", column.name)}
            value={column.meaning}
            change={(meaning) => change(place, { meaning })}
            options={MEANINGS}
            testId={`columns.${place}.meaning`}
          />
          {units[column.meaning] && (
            <Select
              name={t("Unit of {0}", column.name)}
              value={column.unit}
              change={(unit) => change(place, { unit })}
              options={(units[column.meaning] ?? []).map((unit) => ({ code: unit, label: unit }))}
              testId={`columns.${place}.unit`}
            />
          )}
        </Grid>
      ))}
    </Stack>
  );
}

/** The DBC file that says which bits are a speed, and the signals that are read. */
function Bus({
  dbc,
  signals,
  chosen,
  read,
}: {
  dbc: string;
  signals: Reading["signals"];
  chosen: readonly string[] | null;
  read: Read;
}) {
  const input = useRef<HTMLInputElement>(null);
  const taken = new Set(chosen ?? signals.filter((signal) => signal.speed).map((signal) => signal.name));
  const toggle = (name: string) => {
    const next = taken.has(name) ? [...taken].filter((other) => other !== name) : [...taken, name];
    if (next.length > 0) read({ signals: next });
  };
  return (
    <Stack gap={2} pt={2}>
      <Box>
        <Small onClick={() => input.current?.click()}>
          {dbc ? t("Choose another DBC file") : t("Choose a DBC file")}
        </Small>
        <input
          ref={input}
          type="file"
          accept=".dbc,text/plain"
          aria-label={t("DBC file")}
          style={{ display: "none" }}
          data-testid="dbc-file"
          onChange={async (event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) read({ dbc: await file.text(), signals: null });
          }}
        />
      </Box>
      <Flex gap={3} wrap="wrap">
        {signals.map((signal) => (
          <Tick key={signal.name} checked={taken.has(signal.name)} toggle={() => toggle(signal.name)}>
            {signal.name}
            {signal.unit && `, ${signal.unit}`}
          </Tick>
        ))}
      </Flex>
    </Stack>
  );
}

/** Which edge counts, and at which level of a sound. */
function Levels({ readAs, sound, read }: { readAs: ReadAs; sound: boolean; read: Read }) {
  const text = (value: number | null | undefined) => (value == null ? "" : String(value));
  const [inputs, give] = useHeld("levels of a sound", {
    threshold: text(readAs.threshold),
    hysteresis: text(readAs.hysteresis),
  });
  const number = (typed: string) => (typed.trim() === "" ? null : Number(typed.replace(",", ".")));
  return (
    <Grid templateColumns={{ base: "1fr", md: "repeat(3, 1fr)" }} gap={3} pt={2} alignItems="end">
      <ChoiceField
        label={t("Edge that counts")}
        value={readAs.rising ? "rising" : "falling"}
        change={(edge) => read({ rising: edge === "rising" })}
        options={[
          { code: "rising", label: t("rising") },
          { code: "falling", label: t("falling") },
        ]}
      />
      {sound &&
        (["threshold", "hysteresis"] as const).map((name) => (
          <TextField
            key={name}
            numeric
            label={name === "threshold" ? t("Threshold, share of full scale") : t("Hysteresis")}
            hint={t("empty: found from the signal")}
            value={inputs[name]}
            change={(typed) => give({ ...inputs, [name]: typed })}
            testId={`sound-${name}`}
          />
        ))}
      {sound && (
        <Small onClick={() => read({ threshold: number(inputs.threshold), hysteresis: number(inputs.hysteresis) })}>
          {t("Read again")}
        </Small>
      )}
    </Grid>
  );
}
