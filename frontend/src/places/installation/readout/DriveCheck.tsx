import { Box, Button, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { Suspense, useRef, useState } from "react";
import { Plot } from "../../../drawings/LaterPlot";
import { ChoiceField, Select } from "../../../ui/fields";
import { readFile } from "../../../ui/files";
import { fixed, percent, signed, today } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { attempt } from "../../../ui/toaster";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { verifyStage } from "../bench/queries";
import { useEditing } from "../context";
import { type Chosen, type Recording, useChosen, useRecording } from "./recording";

type Proof = NonNullable<Recording["proof"]>;
type Part = Proof["check"]["parts"][number];

const REASONS: Record<NonNullable<Part["reason"]>, string> = {
  not_recorded: t("not recorded"),
  slow: t("slow"),
  speed_changes: t("speed changes"),
  turn: t("turn"),
  poor_fix: t("poor fix"),
  short: t("short"),
  by_hand: t("left out by hand"),
};
const MEANINGS = [
  { code: "time", label: t("Time") },
  { code: "speed", label: t("Speed") },
  { code: "course", label: t("Course") },
  { code: "accuracy", label: t("Accuracy of the fix") },
  { code: "ignored", label: t("Not used") },
];
const TABLE = { "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1, py: 1 } };

/** Shown against true speed over a recorded drive. */
export function DriveCheck({ chosen: readout }: { chosen: number }) {
  const { installationId, evaluated } = useEditing();
  const { chosen, choose } = useChosen(installationId, readout);
  const found = useRecording(evaluated.document, chosen, readout);
  const [refused, refuse] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const onWater = evaluated.document.vehicle_kind === "boat";
  const open = async (file: File | undefined) => {
    if (!file) return;
    refuse("");
    try {
      const setting = evaluated.document.readouts[readout]?.current_setting ?? null;
      choose({ name: file.name, file: await readFile(file), key: Date.now(), setting, columns: null, wanted: null });
    } catch (error) {
      refuse((error as Error).message);
    }
  };
  const said = refused || (found.error ? found.error.message : "");
  return (
    <Stack gap={3} data-testid="drive-check">
      <Box borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={3} py={1}>
        <Text fontSize="sm">
          {onWater
            ? t("! Keep a lookout: a second person watches the displays. Run both ways, straight, clear of traffic.")
            : t("! The driver operates nothing: a passenger or the logger records. Keep to the traffic law.")}
        </Text>
      </Box>
      <Flex gap={2} align="center" wrap="wrap">
        <Small colorPalette="signal" onClick={() => input.current?.click()}>
          {chosen ? t("Choose another file") : t("Choose a recording")}
        </Small>
        <input
          ref={input}
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-label={t("Recording")}
          style={{ display: "none" }}
          data-testid="recording-file"
          onChange={(event) => {
            open(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <Text fontSize="sm" color="fg.muted">
          {chosen
            ? chosen.name
            : t("A text file (CSV) with the time, the shown speed and the true speed, such as from a logger.")}
        </Text>
      </Flex>
      {!chosen && (
        <Text fontSize="sm" color="fg.muted">
          {t(
            "Hold a steady speed for 20 seconds and more, three times or more, straight and level, there and back. The file is read here and not kept.",
          )}
        </Text>
      )}
      {said && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {said}
        </Text>
      )}
      {chosen && !found.data && !said && <Text role="status">{t("Reading …")}</Text>}
      {chosen && found.data && !said && (
        <Checked chosen={chosen} choose={choose} found={found.data} readout={readout} />
      )}
    </Stack>
  );
}

type CheckedProps = { chosen: Chosen; choose: (next: Chosen | null) => unknown; found: Recording; readout: number };

function Checked({ chosen, choose, found, readout }: CheckedProps) {
  const { proof, refused, wanted } = found;
  return (
    <>
      {refused && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refused.message} {refused.remedy}
        </Text>
      )}
      {proof && <Answer proof={proof} readout={readout} file={chosen.name} />}
      {wanted && found.speeds.length > 1 && (
        <Grid templateColumns="repeat(auto-fit, minmax(160px, 1fr))" gap={3}>
          {(["true_channel", "shown_channel"] as const).map((name) => (
            <ChoiceField
              key={name}
              label={name === "true_channel" ? t("True speed") : t("Shown speed")}
              value={wanted[name]}
              change={(channel) => choose({ ...chosen, wanted: { ...wanted, [name]: channel } })}
              options={found.speeds.map((speed) => ({ code: speed, label: speed }))}
              testId={name}
            />
          ))}
        </Grid>
      )}
      {found.drawn && <Drawing drawn={found.drawn} proof={proof ?? null} begins={proof?.check.parts[0]?.from_s ?? 0} />}
      {proof && wanted && <Parts proof={proof} chosen={chosen} choose={choose} wanted={wanted} />}
      <Columns chosen={chosen} choose={choose} found={found} />
    </>
  );
}

/** Right or wrong, and what to do. */
function Answer({ proof, readout, file }: { proof: Proof; readout: number; file: string }) {
  const { evaluated, command, role, set } = useEditing();
  const { check, verdict, to_type } = proof;
  const test = evaluated.document.vehicle_kind === "boat" ? ("water" as const) : ("road" as const);
  const note = t("{0}: {1} % ± {2} %", file, signed(check.error_pct), percent(check.expanded_pct)).slice(0, 80);
  return (
    <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4} data-testid="proof">
      <Text fontSize="xl" fontWeight="700">
        {verdict === "wrong" ? "✕" : "✓"} {proof.text}
      </Text>
      {check.offset_kmh !== 0 && <Text>{check.text}</Text>}
      {proof.action && !proof.changed && (
        <Text fontWeight="600" color="signal.onRoad">
          {proof.action}
        </Text>
      )}
      <Text color="chalk.dim" fontSize="sm">
        {t(
          "{0} s of steady driving in {1} parts; the shown speed is {2} s behind.",
          fixed(check.steady_s, 0),
          check.parts.filter((part) => part.reason === null).length,
          fixed(check.lag.lag_s, 2),
        )}{" "}
        {!proof.conflict && t("Expected from the installation: {0} %.", signed(proof.expected_error_pct))}
      </Text>
      {proof.conflict && <Text color="signal.onRoad">! {proof.conflict}</Text>}
      {proof.changed && (
        <Text fontWeight="600">
          {t("The setting was changed since this drive. Drive again with the new one to prove it.")}
        </Text>
      )}
      {check.advice && <Text mt={1}>{check.advice}</Text>}
      {proof.causes.length > 0 && (
        <Box mt={2} fontSize="sm">
          <Text color="chalk.dim">{t("Likely causes")}</Text>
          {proof.causes.slice(0, 3).map((cause) => (
            <Text key={cause.code + cause.text}>
              {cause.text} ({percent(cause.share_pct)} %)
            </Text>
          ))}
        </Box>
      )}
      <Flex gap={2} mt={3} wrap="wrap">
        {verdict !== "wrong" && !proof.changed && (
          <Button
            colorPalette="signal"
            size="sm"
            minH={{ base: "44px", md: "36px" }}
            onClick={() => {
              const verification = { test, on: today(), by: role, note, value: null };
              attempt(t("Saving the test"), () =>
                command((known) =>
                  verifyStage(known, { stage: proof.conflict ? "readout" : null, readout, verification }),
                ),
              );
            }}
          >
            {proof.conflict
              ? t("Save as passed test of the readout alone")
              : test === "water"
                ? t("Save as passed water test")
                : t("Save as passed road test")}
          </Button>
        )}
        {to_type && !proof.changed && (
          <Button
            colorPalette="signal"
            size="sm"
            minH={{ base: "44px", md: "36px" }}
            onClick={() => set(`readouts.${readout}.current_setting`, to_type.value)}
          >
            {t("It is entered: {0}", to_type.text)}
          </Button>
        )}
      </Flex>
    </Box>
  );
}

function Drawing({
  drawn,
  proof,
  begins,
}: {
  drawn: NonNullable<Recording["drawn"]>;
  proof: Proof | null;
  begins: number;
}) {
  const { scale, speedUnit } = useUnits();
  const used = proof?.check.parts.filter((part) => part.reason === null) ?? [];
  const inUse = (at: number) => used.some((part) => at + begins >= part.from_s && at + begins < part.to_s);
  const scaled = (values: readonly (number | null)[]) => values.map((value) => (value === null ? null : value * scale));
  const shown = scaled(drawn.shown_kmh);
  return (
    <Box>
      <Suspense fallback={<Text minH="260px">{t("Drawing …")}</Text>}>
        <Plot
          x={drawn.time_s}
          xLabel={t("time, s")}
          yLabel={speedUnit}
          lines={[
            { label: t("shown"), look: "limit", values: shown },
            {
              label: t("used"),
              look: "ours",
              values: shown.map((value, at) => (inUse(drawn.time_s[at] ?? 0) ? value : null)),
            },
            { label: t("true"), look: "true", values: scaled(drawn.true_kmh) },
          ]}
          describe={t("Shown and true speed over time. {0}", proof?.text)}
        />
      </Suspense>
      <Flex gap={4} wrap="wrap" fontSize="sm" color="fg.muted">
        <span>{t("━ shown, used")}</span>
        <span>{t("╌ shown, left out")}</span>
        <span>{t("┈ true")}</span>
      </Flex>
    </Box>
  );
}

/** Every part of the drive: used, or left out and why; a person may decide otherwise. */
function Parts({
  proof,
  chosen,
  choose,
  wanted,
}: {
  proof: Proof;
  chosen: Chosen;
  choose: CheckedProps["choose"];
  wanted: NonNullable<Recording["wanted"]>;
}) {
  const { scale, speedUnit } = useUnits();
  const { parts, pairs } = proof.check;
  const begins = parts[0]?.from_s ?? 0;
  const decide = (part: Part, use: boolean) => {
    const span = { from_s: part.from_s, to_s: part.to_s };
    const other = ({ from_s, to_s }: { from_s: number; to_s: number }) => to_s <= span.from_s || from_s >= span.to_s;
    const [left_out, used] = [(wanted.left_out ?? []).filter(other), (wanted.used ?? []).filter(other)];
    const next = use ? { left_out, used: [...used, span] } : { left_out: [...left_out, span], used };
    choose({ ...chosen, wanted: { ...wanted, ...next } });
  };
  const meanOf = (part: Part) => {
    const inside = pairs.filter((pair) => pair.from_s >= part.from_s - 0.01 && pair.to_s <= part.to_s + 0.01);
    const sum = (name: "true_kmh" | "shown_kmh") => inside.reduce((total, pair) => total + pair[name], 0);
    return inside.length > 0 ? ([sum("true_kmh") / inside.length, sum("shown_kmh") / inside.length] as const) : null;
  };
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32 }} data-testid="parts-shown">
        {t(
          "Parts of the drive: {0} used, {1} left out",
          parts.filter((part) => part.reason === null).length,
          parts.filter((part) => part.reason !== null).length,
        )}
      </summary>
      <Table.Root size="sm" variant="line" css={TABLE} data-testid="parts">
        <Table.Header>
          <Table.Row>
            {[t("From, s"), t("To, s"), t("true, {0}", speedUnit), t("shown, {0}", speedUnit), t("Use")].map((head) => (
              <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {parts.map((part) => {
            const mean = part.reason === null ? meanOf(part) : null;
            return (
              <Table.Row key={part.from_s}>
                <Table.Cell>{fixed(part.from_s - begins, 0)}</Table.Cell>
                <Table.Cell>{fixed(part.to_s - begins, 0)}</Table.Cell>
                <Table.Cell>{mean && fixed(mean[0] * scale, 1)}</Table.Cell>
                <Table.Cell>{mean && fixed(mean[1] * scale, 1)}</Table.Cell>
                <Table.Cell whiteSpace="nowrap">
                  {part.reason === null ? (
                    <Small onClick={() => decide(part, false)}>{t("Leave out")}</Small>
                  ) : part.reason === "not_recorded" ? (
                    REASONS[part.reason]
                  ) : (
                    <>
                      <Small onClick={() => decide(part, true)}>{t("Use")}</Small> {REASONS[part.reason]}
                    </>
                  )}
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </Table.Root>
    </details>
  );
}

/** What the columns of the file are. */
function Columns({ chosen, choose, found }: Omit<CheckedProps, "readout">) {
  const change = (place: number, some: { meaning?: string; unit?: string }) => {
    const columns = found.columns.map(({ meaning, unit }, at) =>
      at === place ? { meaning, unit, ...some } : { meaning, unit },
    );
    choose({ ...chosen, columns: columns as Chosen["columns"], wanted: found.wanted });
  };
  return (
    <details open={Boolean(found.refused)}>
      <summary style={{ cursor: "pointer", minHeight: 32 }}>
        {t("Columns of the file: {0} lines", found.lines)}
        {found.bad_lines > 0 &&
          t(", {0} of them cannot be read in full ({1})", found.bad_lines, found.examples.join(", "))}
      </summary>
      <Stack gap={2} pt={2}>
        {found.columns.map((column, place) => (
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
            {column.meaning === "speed" && (
              <Select
                name={t("Unit of {0}", column.name)}
                value={column.unit}
                change={(unit) => change(place, { unit })}
                options={found.units.map((unit) => ({ code: unit, label: unit }))}
                testId={`columns.${place}.unit`}
              />
            )}
          </Grid>
        ))}
      </Stack>
    </details>
  );
}
