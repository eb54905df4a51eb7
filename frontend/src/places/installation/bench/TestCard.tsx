import { Box, Button, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { Residuals } from "../../../drawings/Residuals";
import { useAnnounced } from "../../../ui/announce";
import { Download } from "../../../ui/Download";
import { ChoiceField, TextField, TextInput } from "../../../ui/fields";
import { fixed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { Small, Toggles } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { attempt } from "../../../ui/toaster";
import { useUnits } from "../../../ui/units";
import { useLast } from "../../../ui/useLast";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { enterCard, fetchCardPdf, useCard } from "./queries";
import { Trials, useTrials } from "./testRecords";

type Card = Schemas["Card"];
type Point = { speed_kmh: number | string; read_kmh: number | string | null };

/** Frequencies to feed in, what the needle should say, what it said, and what follows. */
export function TestCard() {
  const { document, evaluated, installationId } = useEditing();
  const [chosen, choose] = useState(0);
  const place = Math.min(chosen, document.readouts.length - 1);
  const asked = useCard(evaluated.document, place);
  const card = useLast(asked.data);
  if (!card) return <Pending asked={asked} text={t("Computing …")} />;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 6fr) minmax(0, 5fr)" }} gap={5} data-testid="card">
      <Stack gap={2}>
        <Flex gap={2} wrap="wrap" align="center">
          {document.readouts.length > 1 && (
            <Toggles options={document.readouts.map((item) => item.name)} chosen={place} choose={choose} />
          )}
          <Download load={() => fetchCardPdf(evaluated.document, place, installationId)} name="test-card.pdf">
            {t("Card as PDF")}
          </Download>
        </Flex>
        <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={1}>
          <Text fontSize="sm">
            {t(
              "! Unplug the sensor and match the generator's level to it before it is connected. Feed the frequencies in at the sensor's connector, lowest first.",
            )}
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
  const { show, own, systems, speedUnit } = useUnits();
  const [unit, chooseUnit] = useState<string>(speedUnit);
  const kmh = systems.find((item) => item.speed_unit === unit)?.speed_kmh ?? 1;
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
    return String(Number((value / kmh).toFixed(2)));
  };
  const add = () => {
    const speed = Number((Number(more.replace(",", ".")) * own("km/h")[1]).toPrecision(9));
    if (!(speed > 0) || speeds.includes(speed)) return;
    write([...speeds, speed].sort((a, b) => a - b));
    type("");
  };
  const wrong = problems.filter((item) => item.path.startsWith(`readouts.${place}.card.`));
  return (
    <Stack gap={2}>
      <TableRoot variant="line">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("True, {0}", speedUnit)}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Input, Hz")}</Table.ColumnHeader>
            {card.behind_converter && <Table.ColumnHeader>{t("Converter output, Hz")}</Table.ColumnHeader>}
            <Table.ColumnHeader>{t("Expected, {0}", speedUnit)}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Reading, {0}", unit)}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body fontFamily="mono">
          {speeds.map((speed) => {
            const row = card.rows.find((item) => item.true_kmh === speed);
            return (
              <Table.Row key={speed} color={row && row.read_kmh !== null && !row.used ? "fg.muted" : undefined}>
                <Table.Cell whiteSpace="nowrap">{show(speed, "km/h", 0.1)[0]}</Table.Cell>
                <Table.Cell whiteSpace="nowrap">{row ? fixed(row.in_hz, 1) : "…"}</Table.Cell>
                {card.behind_converter && <Table.Cell>{row ? fixed(row.out_hz, 1) : "…"}</Table.Cell>}
                <Table.Cell whiteSpace="nowrap">{row ? show(row.expected_kmh, "km/h", 0.5)[0] : "…"}</Table.Cell>
                <Table.Cell>
                  <TextInput
                    aria-label={t("Reading at {0}", show(speed, "km/h", 0.1).join(" "))}
                    data-testid={`read-${speed}`}
                    style={{ minWidth: "7ch", maxWidth: "10ch", paddingInline: 8 }}
                    inputMode="decimal"
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
      </TableRoot>
      {wrong.map((item) => (
        <Text key={item.path} role="alert" color="bad.fg" fontSize="sm">
          ✕ {item.message} {item.remedy}
        </Text>
      ))}
      <Flex gap={3} align="end" wrap="wrap">
        <Box w="110px">
          <ChoiceField
            label={t("Unit of the needle")}
            value={unit}
            change={chooseUnit}
            options={[...new Set(systems.map((item) => item.speed_unit))].map((code) => ({ code, label: code }))}
          />
        </Box>
        <Box w="130px">
          <TextField
            label={t("Add check speed")}
            unit={speedUnit}
            value={more}
            change={type}
            hint={t("or 150 Hz")}
            testId="more-speed"
          />
        </Box>
        <Small onClick={add}>{t("Add")}</Small>
        {points.every((item) => item.read_kmh == null) && (
          <Small onClick={() => write(card.round_hz_kmh)}>{t("Use round frequencies")}</Small>
        )}
        {points.length > 0 && <Small onClick={() => set(`readouts.${place}.card`, [])}>{t("Clear card")}</Small>}
      </Flex>
    </Stack>
  );
}

/** What follows from the readings: the line through them, how far each is off, what to do next, and the record. */
function Follows({ card, place }: { card: Card; place: number }) {
  const { document, set, command } = useEditing();
  const { scale, speedUnit, show } = useUnits();
  const { record, fields } = useTrials();
  const used = card.rows.filter((row) => row.used && row.residual_kmh !== null);
  const next = card.next;
  const end = card.line?.scale_end_kmh ?? null;
  const cap = Number(document.readouts[place]?.scale_end_kmh ?? end);
  const note = card.line
    ? `scale ${fixed(card.line.scale, 4)}, offset ${fixed(card.line.offset_kmh, 1)} km/h, ${card.line.points} points`
    : "";
  useAnnounced(card.text.join(" "));
  const put = () => attempt(t("Entering the setting"), () => command((known) => enterCard(known, place)));
  return (
    <Stack gap={3}>
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
                {t("scale")}
              </Text>
              {fixed(card.line.scale, 4)}
              {card.line.scale_expanded !== null && ` ± ${fixed(card.line.scale_expanded, 4)}`}
            </Box>
            <Box>
              <Text fontSize="xs" color="fg.muted" fontFamily="body">
                {t("offset")}
              </Text>
              {fixed(card.line.offset_kmh * scale, 1)}
              {card.line.offset_expanded_kmh !== null && ` ± ${fixed(card.line.offset_expanded_kmh * scale, 1)}`}{" "}
              {speedUnit}
            </Box>
            <Box>
              <Text fontSize="xs" color="fg.muted" fontFamily="body">
                {t("residual")}
              </Text>
              {fixed(card.line.residual_kmh * scale, 2)} {speedUnit}
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
                {t(
                  "{0}, clear card",
                  next.what === "number" ? t("Entered {0}", next.text) : t("Converter set to {0}", next.text),
                )}
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
                {t("Set end of scale to {0}", show(end, "km/h", 0.5).join(" "))}
              </Small>
            )}
            {end !== null && card.behind_converter && document.signal?.converter?.cap_kmh == null && (
              <Small onClick={() => set("signal.converter.cap_kmh", cap)}>
                {t("Limit the output to {0}", show(cap, "km/h", 0.5).join(" "))}
              </Small>
            )}
          </Flex>
          {fields}
          <Small
            alignSelf="flex-start"
            onClick={() =>
              record({ test: "bench", outcome: card.agrees ? "agreed" : "differed", readout: place, note })
            }
          >
            {card.agrees ? t("Record: signal and readout verified") : t("Record: differed")}
          </Small>
        </>
      )}
      <Trials />
    </Stack>
  );
}
