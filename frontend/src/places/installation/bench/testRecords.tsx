import { Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { TextField } from "../../../ui/fields";
import { today } from "../../../ui/format";
import { Small, without } from "../../../ui/Small";
import { attempt } from "../../../ui/toaster";
import { useEditing } from "../context";
import { recordTest } from "./queries";

type TestRecord = Schemas["TestRecord"];
type Made = Schemas["TestRecordInput"];
const TESTS = { magnet: "Magnet test", spin: "Spin test", bench: "Bench test" } as const;

/** Records what came of a test, with date and person, and what it verifies: one edit, one undo step. */
export function useTrials() {
  const { command, role } = useEditing();
  const [on, setOn] = useState(today());
  const [by, setBy] = useState(role);
  const record = (inputs: Pick<TestRecord, "test" | "outcome" | "readout"> & Partial<TestRecord>) => {
    const made = { note: "", expected_kmh: null, shown_kmh: null, ...inputs, on, by } as Made;
    attempt("Recording the test", () => command((document) => recordTest(document, made)));
  };
  const fields = (
    <Flex gap={3}>
      <TextField label="Date" value={on} change={setOn} type="date" testId="trial-on" />
      <TextField label="Done by" value={by} change={setBy} hint="a role, not a name" testId="trial-by" />
    </Flex>
  );
  return { record, fields };
}

/** All tests of this installation so far, the newest first. */
export function Trials() {
  const { document, set, catalogue } = useEditing();
  const outcome = (code: string) => catalogue.outcomes.find((item) => item.code === code)?.label.toLowerCase();
  const test_records = (document.test_records ?? []) as TestRecord[];
  if (test_records.length === 0) return null;
  return (
    <Stack gap={1} data-testid="test_records">
      <Text fontWeight="600">Tests so far</Text>
      {test_records
        .map((trial, place) => ({ trial, place }))
        .reverse()
        .map(({ trial, place }) => (
          <Flex key={place} gap={2} align="center" justify="space-between" borderTopWidth="1px" py={1}>
            <Text fontSize="sm">
              {trial.outcome === "agreed" ? "✓" : "✕"} {TESTS[trial.test]}, {trial.on}
              {trial.by && `, ${trial.by}`}: {outcome(trial.outcome)}
              {document.readouts.length > 1 && ` at ${document.readouts[trial.readout ?? 0]?.name}`}
              {trial.note && `. ${trial.note}`}
            </Text>
            <Small
              aria-label={`Remove the ${TESTS[trial.test].toLowerCase()} of ${trial.on}`}
              onClick={() => set("test_records", without(test_records, place))}
            >
              ✕
            </Small>
          </Flex>
        ))}
    </Stack>
  );
}
