import { Box, Button, Flex, Grid, Input, Stack, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { Residuals } from "../../../drawings/Residuals";
import { ChoiceField, TextField } from "../../../ui/fields";
import { offer } from "../../../ui/files";
import { Small, Toggles } from "../../../ui/Small";
import { attempt } from "../../../ui/toaster";
import { KMH_IN, useUnits } from "../../../ui/units";
import { useLast } from "../../../ui/useLast";
import { useEditing } from "../context";
import { enterCard, fetchCardPdf, useCard } from "./queries";
import { Trials, useTrials } from "./testRecords";

const TABLE = { "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1, py: 0.5 } };
const UNITS = Object.keys(KMH_IN).map((code) => ({ code, label: code }));

type Card = Schemas["Card"];
type Point = { speed_kmh: number | string; read_kmh: number | string | null };

/** Frequencies to feed in, what the needle should say, what it said, and what follows. */
export function TestCard() {
  const { document, evaluated, installationId } = useEditing();
  const [chosen, choose] = useState(0);
  const place = Math.min(chosen, document.readouts.length - 1);
  const card = useLast(useCard(evaluated.document, place).data);
  if (!card) return <Text>Computing …</Text>;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 6fr) minmax(0, 5fr)" }} gap={5} data-testid="card">
      <Stack gap={2}>
        <Flex gap={2} wrap="wrap" align="center">
          {document.readouts.length > 1 && (
            <Toggles options={document.readouts.map((item) => item.name)} chosen={place} choose={choose} />
          )}
          <Small
            onClick={() =>
              attempt("The PDF", async () =>
                offer(await fetchCardPdf(evaluated.document, place, installationId), "test-card.pdf"),
              )
            }
          >
            Card as PDF
          </Small>
        </Flex>
        <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={1}>
          <Text fontSize="sm">
            ! Unplug the sensor and match the generator's level to it before it is connected. Feed the frequencies in at
            the sensor's connector, lowest first.
          </Text>
        </Box>
        <Rows key={place} card={card} place={place} />
      </Stack>
      <Follows card={card} place={place} />
    </Grid>
  );
}

function Rows({ card, place }: { card: Card; place: number }) {
  const { document, problems, set, preview, commit } = useEditing();
  const { show, speedUnit } = useUnits();
  const [unit, chooseUnit] = useState<keyof typeof KMH_IN>("km/h");
  const [more, type] = useState("");
  const points = (document.readouts[place]?.card ?? []) as Point[];
  const kept = (speed: number) => points.find((item) => Number(item.speed_kmh) === speed)?.read_kmh ?? null;
  const speeds = [
    ...new Set([...card.rows.map((row) => row.true_kmh), ...points.map((item) => Number(item.speed_kmh))]),
  ]
    .filter((speed) => speed > 0)
    .sort((a, b) => a - b);
  const lines = (changed: number[], speed?: number, text?: string) =>
    changed.map((item) => ({ speed_kmh: item, read_kmh: item === speed ? (text ?? null) : kept(item) }));
  const write = (changed: number[]) => set(`readouts.${place}.card`, lines(changed));
  const typeIn = (speed: number, text?: string) => preview(`readouts.${place}.card`, lines(speeds, speed, text));
  const bare = (value: number | string | null) => {
    if (typeof value !== "number") return String(value ?? "").replace(` ${unit}`, "");
    return String(Number((value / KMH_IN[unit]).toFixed(2)));
  };
  const add = () => {
    const speed = Number(more.replace(",", "."));
    if (!(speed > 0) || speeds.includes(speed)) return;
    write([...speeds, speed].sort((a, b) => a - b));
    type("");
  };
  const wrong = problems.filter((item) => item.path.startsWith(`readouts.${place}.card.`));
  return (
    <Stack gap={2}>
      <Table.Root size="sm" variant="line" css={TABLE}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>True, {speedUnit}</Table.ColumnHeader>
            <Table.ColumnHeader>Input, Hz</Table.ColumnHeader>
            {card.behind_converter && <Table.ColumnHeader>Converter output, Hz</Table.ColumnHeader>}
            <Table.ColumnHeader>Expected, {speedUnit}</Table.ColumnHeader>
            <Table.ColumnHeader>Reading, {unit}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {speeds.map((speed) => {
            const row = card.rows.find((item) => item.true_kmh === speed);
            return (
              <Table.Row key={speed} color={row && row.read_kmh !== null && !row.used ? "fg.muted" : undefined}>
                <Table.Cell whiteSpace="nowrap">{show(speed, "km/h", 0.1)[0]}</Table.Cell>
                <Table.Cell whiteSpace="nowrap">{row ? row.in_hz.toFixed(1) : "…"}</Table.Cell>
                {card.behind_converter && <Table.Cell>{row ? row.out_hz.toFixed(1) : "…"}</Table.Cell>}
                <Table.Cell whiteSpace="nowrap">{row ? show(row.expected_kmh, "km/h", 0.5)[0] : "…"}</Table.Cell>
                <Table.Cell>
                  <Input
                    aria-label={`Reading at ${speed} km/h`}
                    data-testid={`read-${speed}`}
                    size="sm"
                    minH={{ base: "44px", md: "34px" }}
                    minW="7ch"
                    maxW="10ch"
                    px={2}
                    inputMode="decimal"
                    bg="bg.subtle"
                    borderColor="border.emphasized"
                    value={bare(kept(speed))}
                    onChange={(event) => {
                      const text = event.target.value;
                      const plain = /^\s*-?[\d.,]*\s*$/.test(text);
                      const said = plain && unit !== "km/h" ? `${text} ${unit}` : text;
                      typeIn(speed, text.trim() === "" ? undefined : said);
                    }}
                    onBlur={commit}
                    onKeyDown={(event) => event.key === "Enter" && commit()}
                  />
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </Table.Root>
      {wrong.map((item) => (
        <Text key={item.path} role="alert" color="bad.fg" fontSize="sm">
          ✕ {item.message} {item.remedy}
        </Text>
      ))}
      <Flex gap={3} align="end" wrap="wrap">
        <Box w="110px">
          <ChoiceField
            label="Unit of the needle"
            value={unit}
            change={(code) => chooseUnit(code as keyof typeof KMH_IN)}
            options={UNITS}
          />
        </Box>
        <Box w="130px">
          <TextField
            label="Add check speed"
            unit="km/h"
            value={more}
            change={type}
            hint="or 150 Hz"
            testId="more-speed"
          />
        </Box>
        <Small onClick={add}>Add</Small>
        {points.every((item) => item.read_kmh == null) && (
          <Small onClick={() => write(card.round_hz_kmh)}>Use round frequencies</Small>
        )}
        {points.length > 0 && <Small onClick={() => set(`readouts.${place}.card`, [])}>Clear card</Small>}
      </Flex>
    </Stack>
  );
}

/** What follows from the readings: the line through them, how far each is off, what to do next, and the record. */
function Follows({ card, place }: { card: Card; place: number }) {
  const { document, set, command } = useEditing();
  const { scale, speedUnit } = useUnits();
  const { record, fields } = useTrials();
  const used = card.rows.filter((row) => row.used && row.residual_kmh !== null);
  const next = card.next;
  const end = card.line?.scale_end_kmh ?? null;
  const cap = Number(document.readouts[place]?.scale_end_kmh ?? end);
  const note = card.line
    ? `scale ${card.line.scale.toFixed(4)}, offset ${card.line.offset_kmh.toFixed(1)} km/h, ${card.line.points} points`
    : "";
  const put = () => attempt("Entering the setting", () => command((known) => enterCard(known, place)));
  return (
    <Stack gap={3} aria-live="polite">
      <Box>
        {card.text.map((text) => (
          <Text key={text}>{text}</Text>
        ))}
      </Box>
      {card.line && (
        <>
          <Grid templateColumns="repeat(3, minmax(0, 1fr))" gap={2} fontFamily="mono" data-testid="card-line">
            <Box>
              <Text fontSize="xs" color="fg.muted" fontFamily="body">
                scale
              </Text>
              {card.line.scale.toFixed(4)} ± {(2 * card.line.scale_error).toFixed(4)}
            </Box>
            <Box>
              <Text fontSize="xs" color="fg.muted" fontFamily="body">
                offset
              </Text>
              {(card.line.offset_kmh * scale).toFixed(1)} ± {(2 * card.line.offset_error_kmh * scale).toFixed(1)}{" "}
              {speedUnit}
            </Box>
            <Box>
              <Text fontSize="xs" color="fg.muted" fontFamily="body">
                residual
              </Text>
              {(card.line.residual_kmh * scale).toFixed(2)} {speedUnit}
            </Box>
          </Grid>
          {used.length > 1 && (
            <Residuals
              unit={speedUnit}
              points={used.map((row) => ({ speed: row.true_kmh * scale, off: (row.residual_kmh ?? 0) * scale }))}
            />
          )}
          <Flex gap={2} wrap="wrap">
            {next && !card.agrees && (
              <Button size="sm" minH="44px" colorPalette="signal" onClick={put}>
                {next.what === "number" ? `Entered ${next.text}` : `Converter set to ${next.text}`}, clear card
              </Button>
            )}
            {end !== null && document.readouts[place]?.scale_end_kmh == null && (
              <Small
                onClick={() =>
                  set(`readouts.${place}`, {
                    ...document.readouts[place],
                    scale_end_kmh: end,
                    past_end: card.line?.wraps ? "wraps" : "stops",
                  })
                }
              >
                Set end of scale to {end} km/h
              </Small>
            )}
            {end !== null && card.behind_converter && document.signal?.converter?.cap_kmh == null && (
              <Small onClick={() => set("signal.converter.cap_kmh", cap)}>Limit the output to {cap} km/h</Small>
            )}
          </Flex>
          {fields}
          <Small
            alignSelf="flex-start"
            onClick={() =>
              record({ test: "bench", outcome: card.agrees ? "agreed" : "differed", readout: place, note })
            }
          >
            {card.agrees ? "Record: signal and readout verified" : "Record: differed"}
          </Small>
        </>
      )}
      <Trials />
    </Stack>
  );
}
