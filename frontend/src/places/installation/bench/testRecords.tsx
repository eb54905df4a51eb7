import { Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { TextField } from "../../../ui/fields";
import { today } from "../../../ui/format";
import { Small, without } from "../../../ui/Small";
import { attempt } from "../../../ui/toaster";
import { listed, t } from "../../../ui/words";
import { useEditing } from "../context";
import { choicesAt } from "../schema";
import { recordTest } from "./queries";

type TestRecord = Schemas["TestRecord"];
type Made = Schemas["TestRecordInput"];
const TESTS = {
  magnet: t("Magnet test"),
  spin: t("Spin test"),
  bench: t("Bench test"),
  sheet: t("Job sheet"),
} as const;

/** Records what came of a test, with date and person, and what it verifies: one edit, one undo step. */
export function useTrials() {
  const { command, role } = useEditing();
  const [on, setOn] = useState(today());
  const [by, setBy] = useState(role);
  const record = (inputs: Pick<TestRecord, "test" | "outcome" | "readout"> & Partial<TestRecord>) => {
    const made = { note: "", stage: null, expected_kmh: null, shown_kmh: null, ...inputs, on, by } as Made;
    attempt(t("Recording the test"), () => command((document) => recordTest(document, made)));
  };
  const fields = (
    <Flex gap={3}>
      <TextField label={t("Date")} value={on} change={setOn} type="date" testId="trial-on" />
      <TextField label={t("Done by")} value={by} change={setBy} hint={t("a role, not a name")} testId="trial-by" />
    </Flex>
  );
  return { record, fields };
}

/** All tests of this installation so far, the newest first. */
export function Trials() {
  const { document, set, catalogue } = useEditing();
  const outcome = (code: string) =>
    choicesAt(catalogue, "test_records.outcome")
      .find((item) => item.code === code)
      ?.label.toLowerCase();
  const test_records = (document.test_records ?? []) as TestRecord[];
  if (test_records.length === 0) return null;
  return (
    <Stack gap={1} data-testid="test_records">
      <Text fontWeight="600">{t("Tests so far")}</Text>
      {test_records
        .map((trial, place) => ({ trial, place }))
        .reverse()
        .map(({ trial, place }) => (
          <Flex key={place} gap={2} align="center" justify="space-between" borderTopWidth="1px" py={1}>
            <Text fontSize="sm">
              {trial.outcome === "agreed" ? "✓" : "✕"} {listed(TESTS[trial.test], trial.on, trial.by || null)}:{" "}
              {document.readouts.length > 1
                ? t("{0} at {1}", outcome(trial.outcome), document.readouts[trial.readout ?? 0]?.name)
                : outcome(trial.outcome)}
              {trial.note && `. ${trial.note}`}
            </Text>
            <Small
              aria-label={t("Remove the {0} of {1}", TESTS[trial.test].toLowerCase(), trial.on)}
              onClick={() => set("test_records", without(test_records, place))}
            >
              ✕
            </Small>
          </Flex>
        ))}
    </Stack>
  );
}
