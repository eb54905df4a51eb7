import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { useAnnounced } from "../../../ui/announce";
import { TextField } from "../../../ui/fields";
import { Small, Toggles } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { useLast } from "../../../ui/useLast";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { choicesAt } from "../schema";
import { messageOf, useHand } from "./queries";
import { Trials, useTrials } from "./testRecords";

/** What a wheel turned, or a magnet waved, by hand should show, and what came of it. */
export function ByHand() {
  const { evaluated, installationId } = useEditing();
  const [chosen, choose] = useState(0);
  const [inputs, give] = useHeld(`by hand on ${installationId}`, { turns: "10", waves: "", seconds: "10" });
  const { data, error } = useHand(evaluated.document, inputs);
  const result = useLast(data);
  const { record, fields } = useTrials();
  if (!result) return error ? <Problem error={error} /> : <Text>{t("Computing …")}</Text>;
  const field = (name: keyof typeof inputs, label: string, unit: string, usual?: string) => (
    <Box w="120px">
      <TextField
        label={label}
        unit={unit}
        usual={usual}
        numeric
        nudge={1}
        value={inputs[name]}
        change={(text) => give({ ...inputs, [name]: text })}
        testId={`hand-${name}`}
      />
    </Box>
  );
  return (
    <Stack gap={4} data-testid="by-hand">
      {result.spin.predictions.length > 1 && (
        <Flex gap={2} align="center" wrap="wrap">
          <Text fontSize="sm">{t("Readout")}</Text>
          <Toggles options={result.spin.predictions.map((item) => item.readout)} chosen={chosen} choose={choose} />
        </Flex>
      )}
      <Flex gap={3} wrap="wrap" align="end">
        {field("turns", t("Turns"), "", String(result.turns))}
        {field("waves", t("Waves"), "", String(result.waves))}
        {field("seconds", t("In"), "s", String(result.seconds))}
        {fields}
      </Flex>
      {error && <Problem error={error} />}
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap={4}>
        <HandTest title={t("Spin the wheel")} test="spin" result={result.spin} record={record} readout={chosen} />
        <HandTest
          title={t("Pass a magnet or steel by the sensor")}
          test="magnet"
          result={result.magnet}
          record={record}
          readout={chosen}
        />
      </Grid>
      <Trials />
    </Stack>
  );
}

type Outcome = Schemas["TestRecord"]["outcome"];

const Problem = ({ error }: { error: Error }) => (
  <Text role="alert" color="bad.fg" fontWeight="600">
    ✕ {messageOf(error)}
  </Text>
);

function HandTest({
  title,
  test,
  result,
  record,
  readout,
}: {
  title: string;
  test: "spin" | "magnet";
  result: Schemas["HandTest"];
  record: ReturnType<typeof useTrials>["record"];
  readout: number;
}) {
  const { show } = useUnits();
  const { catalogue } = useEditing();
  const [outcome, came] = useState<Outcome | null>(null);
  const seen = result.predictions[readout];
  useAnnounced(outcome ? (result.follows[outcome] ?? "") : "");
  return (
    <Stack gap={2} borderWidth="1px" borderColor="border" borderRadius="md" p={3} data-testid={test}>
      <Text fontWeight="700" fontSize="lg">
        {title}
      </Text>
      <Box borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={3} py={1}>
        <Text fontSize="sm" fontWeight="600">
          ! {result.caution}
        </Text>
      </Box>
      <ol style={{ paddingLeft: 20, listStyle: "decimal" }}>
        {result.steps.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      {result.predictions.map((item) => (
        <Flex key={item.readout} justify="space-between" gap={3} align="baseline" wrap="wrap">
          <Text>
            {item.readout}{" "}
            <Text as="span" fontSize="sm" color="fg.muted">
              {item.text}
            </Text>
          </Text>
          <Text fontFamily="mono" fontSize="2xl" fontWeight="700" whiteSpace="nowrap" data-testid={`${test}-shows`}>
            {item.shown_kmh === 0 ? "0" : show(item.shown_kmh, "km/h", 2).join(" ")}
          </Text>
        </Flex>
      ))}
      {result.notes.map((note) => (
        <Text key={note} fontSize="sm" color="fg.muted">
          {note}
        </Text>
      ))}
      <Flex gap={2} wrap="wrap">
        {(choicesAt(catalogue, "test_records.outcome") as { code: Outcome; label: string }[]).map(({ code, label }) => (
          <Small
            key={code}
            aria-pressed={outcome === code}
            onClick={() => {
              came(code);
              record({ test, outcome: code, readout, expected_kmh: seen?.shown_kmh ?? null });
            }}
          >
            {label}
          </Small>
        ))}
      </Flex>
      {outcome && (
        <Text bg="bg.subtle" p={2}>
          {result.follows[outcome]}
        </Text>
      )}
    </Stack>
  );
}
