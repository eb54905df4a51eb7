import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas, StageName } from "../../api/client";
import { getIn } from "../../editing/paths";
import { ChoiceField, type Option, TextField } from "../../ui/fields";
import { today } from "../../ui/format";
import { attempt } from "../../ui/toaster";
import { useUnits } from "../../ui/units";
import { verifyStage } from "./bench/queries";
import { useEditing } from "./context";
import { grown } from "./shape";

const PLAIN = /^-?\d*\.?\d*$/;

/** Text of one field, and the error that stands on it. */
function useField(path: string) {
  const { document, problems } = useEditing();
  const value = getIn(document, path);
  const problem = problems.find((item) => item.path === path);
  return { value, error: problem && `${problem.message} ${problem.remedy}` };
}

/** A quantity of the installation: takes what people write and shows beside it what was understood. */
export function QuantityField({
  path,
  label,
  unit,
  hint,
  optional,
  nudge = 1,
  usual,
}: {
  path: string;
  label: string;
  unit: string;
  hint?: string;
  /** What stands for an empty field. */
  usual?: string;
  optional?: boolean;
  nudge?: number;
}) {
  const { preview, commit, evaluated, document } = useEditing();
  const { value, error } = useField(path);
  const { speedUnit, scale } = useUnits();
  // a speed is shown, and a bare number taken, in this person's unit; the document keeps the unit with it
  const own = unit === "km/h" && speedUnit !== unit ? speedUnit : "";
  const number = (shown: number) => String(Number((own ? shown * scale : shown).toPrecision(own ? 6 : 7)));
  const text = typeof value === "number" ? number(value) : String(value ?? "").replace(own && ` ${own}`, "");
  const typed = (next: string) => (own && /^[\d.,]+$/.test(next.trim()) ? `${next.trim()} ${own}` : next);
  const understood = getIn(evaluated.document, path);
  const fresh = typeof value === "string" && !PLAIN.test(text.trim()) && typeof understood === "number" && document;
  return (
    <TextField
      label={label}
      hint={hint}
      error={error}
      value={text}
      change={(next) => preview(...grown(document, path, optional && next.trim() === "" ? null : typed(next)))}
      done={commit}
      unit={own || unit}
      numeric
      nudge={nudge}
      usual={usual}
      meaning={fresh ? `${Number((own ? understood * scale : understood).toFixed(4))} ${own || unit}` : undefined}
      testId={path}
    />
  );
}

/** A text of the installation. */
export function WordsField({
  path,
  label,
  hint,
  meaning,
  optional,
}: {
  path: string;
  label: string;
  hint?: string;
  meaning?: string;
  optional?: boolean;
}) {
  const { preview, commit, document } = useEditing();
  const { value, error } = useField(path);
  return (
    <TextField
      label={label}
      hint={hint}
      error={error}
      meaning={meaning}
      value={String(value ?? "")}
      change={(next) => preview(...grown(document, path, optional && next.trim() === "" ? null : next))}
      done={commit}
      testId={path}
    />
  );
}

/** One of the installation's choices; a flag is yes or no, a number is kept as one. */
export function PickField({
  path,
  label,
  options,
  flag,
  number,
}: {
  path: string;
  label: string;
  options: readonly Option[];
  flag?: boolean;
  number?: boolean;
}) {
  const { set, document } = useEditing();
  const { value, error } = useField(path);
  return (
    <ChoiceField
      label={label}
      error={error}
      value={String(value ?? options[0]?.code ?? "")}
      change={(code) => set(...grown(document, path, flag ? code === "true" : number ? Number(code) : code))}
      options={options}
      testId={path}
    />
  );
}

/** The test that proved a stage: record one, or see which it was. */
export function ProofField({ path, stage }: { path: string; stage: StageName }) {
  const { set, command, catalogue, role, document, evaluated } = useEditing();
  const { value } = useField(path);
  const { error } = useField(`${path}.test`);
  const readout = stage === "readout" ? Number(path.split(".")[1]) : 0;
  const found =
    stage === "readout"
      ? evaluated.result.readouts[readout]
      : evaluated.result.stages.find((item) => item.stage === stage);
  const [open, setOpen] = useState(false);
  const able = catalogue.tests.filter(
    (test) => test.proves.includes(stage) && test.vehicle_kinds.includes(document.vehicle_kind),
  );
  const [test, setTest] = useState(able[0]?.code ?? "road");
  const verification = value as Schemas["Verification"] | null | undefined;
  if (verification) {
    const changed = found?.evidence !== "verified" && found?.evidence !== "failed";
    const label = catalogue.tests.find((item) => item.code === verification.test)?.label ?? verification.test;
    return (
      <Flex align="center" justify="space-between" gap={2} borderTopWidth="1px" pt={2} wrap="wrap">
        <Text fontSize="sm" color={error ? "bad.fg" : changed ? "signal.fg" : "good.fg"}>
          {changed ? "!" : "✓"} {label}, {verification.on}
          {verification.by ? `, ${verification.by}` : ""}
          {changed && ": changed since. Repeat the test."}
          {error ? `: ${error}` : ""}
        </Text>
        <Button size="sm" variant="outline" onClick={() => set(path, null)}>
          Remove test
        </Button>
      </Flex>
    );
  }
  if (!open)
    return (
      <Box borderTopWidth="1px" pt={2}>
        <Button size="sm" variant="outline" minH={{ base: "44px", md: "36px" }} onClick={() => setOpen(true)}>
          Record a passed test
        </Button>
      </Box>
    );
  return (
    <Box borderTopWidth="1px" pt={2}>
      <ChoiceField label="Test" value={test} change={(code) => setTest(code as typeof test)} options={able} />
      <Flex gap={2} mt={2}>
        <Button
          size="sm"
          colorPalette="signal"
          onClick={() => {
            const verification = { test, on: today(), by: role, note: "", value: null };
            attempt("Saving the test", () => command((known) => verifyStage(known, { stage, readout, verification })));
            setOpen(false);
          }}
        >
          Save test, dated today
        </Button>
        <Button size="sm" variant="ghost" onClick={() => setOpen(false)}>
          Cancel
        </Button>
      </Flex>
    </Box>
  );
}
