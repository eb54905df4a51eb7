import { Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas, StageName } from "../../../api/client";
import { TextField } from "../../../ui/fields";
import { Small, without } from "../../../ui/Small";
import { useEditing } from "../context";

type TestRecord = Schemas["TestRecord"];
const TESTS = { magnet: "Magnet test", spin: "Spin test", bench: "Bench test" } as const;

const today = () => new Date().toISOString().slice(0, 10);

/**
 * Records what came of a test, with date and person. One that agreed proves the stages such a test can prove;
 * of the readouts only the one that was looked at.
 */
export function useTrials() {
  const { document, set, catalogue, role } = useEditing();
  const [on, setOn] = useState(today());
  const [by, setBy] = useState(role);
  const record = (inputs: Pick<TestRecord, "test" | "outcome" | "readout"> & Partial<TestRecord>) => {
    const trial = { note: "", expected_kmh: null, shown_kmh: null, ...inputs, on, by };
    set("test_records", [...(document.test_records ?? []), trial].slice(-60));
    if (inputs.outcome !== "agreed") return;
    const proves = catalogue.tests.find((item) => item.code === inputs.test)?.proves ?? [];
    const verification = { test: inputs.test, on, by, note: inputs.note ?? "" };
    for (const stage of proves as StageName[])
      set(stage === "readout" ? `readouts.${inputs.readout}.verification` : `${stage}.verification`, verification);
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
