import { Box, chakra, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useRef } from "react";
import { Link } from "react-router";
import { ChoiceField, TextField } from "../ui/fields";
import { Small } from "../ui/Small";
import { Tick } from "../ui/Tick";
import { useHeld } from "../ui/useHeld";
import { t } from "../ui/words";
import { ChannelTable } from "./ChannelTable";
import { type ReadAs, type Reading, useReadAgain } from "./queries";

const Go = chakra(Link, {
  base: { textDecoration: "underline", color: "signal.fg", py: 1, mr: 3, display: "inline-block" },
});

/** What a recording holds and how its file is read, to be corrected: its channels, signals of a bus, levels of a sound. */
export function HowRead({ reading, open: wanted = false }: { reading: Reading; open?: boolean }) {
  const { recording, columns, signals, read_as } = reading;
  const again = useReadAgain(recording.id);
  const read = (some: Partial<ReadAs>) => again.mutate({ ...read_as, ...some });
  const needsBus = recording.problem?.path === "dbc" || recording.problem?.path === "signals" || read_as.dbc !== "";
  const pulses = recording.format === "wav" || recording.format === "vcd";
  const channels = columns.length > 0 || recording.channels.length > 0;
  const open = wanted || recording.state === "failed" || recording.lacks.length > 0;
  return (
    <Stack gap={3}>
      {recording.problem && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {recording.problem.message} {recording.problem.remedy}
        </Text>
      )}
      {recording.lacks.map((lack) => (
        <Text key={lack.code} data-testid={`lacks-${lack.code}`}>
          <Text as="span" fontWeight="600">
            ! {lack.text}
          </Text>{" "}
          {lack.remedy}
          {lack.code === "shown" && (
            <>
              {" "}
              <Go to={`/recording/${recording.id}?answer=by-hand`}>{t("Enter shown speeds")}</Go>{" "}
              <Go to={`/recording/${recording.id}?answer=distance`}>{t("Compare the distance")}</Go>
            </>
          )}
        </Text>
      ))}
      {(channels || needsBus || pulses) && (
        <details open={open || undefined}>
          <summary style={{ cursor: "pointer", minHeight: 32 }} data-testid="how-read">
            {t("Channels: {0}", recording.channels.length)}
          </summary>
          {needsBus && <Bus dbc={read_as.dbc} signals={signals} chosen={read_as.signals ?? null} read={read} />}
          {pulses && <Levels readAs={read_as} sound={recording.format === "wav"} read={read} />}
          {channels && <ChannelTable reading={reading} read={read} />}
        </details>
      )}
    </Stack>
  );
}

type Read = (some: Partial<ReadAs>) => unknown;

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
