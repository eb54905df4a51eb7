import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { memo, type ReactNode, useCallback, useState } from "react";
import type { Schemas, StageName } from "../../api/client";
import { getIn } from "../../editing/paths";
import { Cards, ChoiceField, TextField } from "../../ui/fields";
import { today } from "../../ui/format";
import { attempt } from "../../ui/toaster";
import { useUnits } from "../../ui/units";
import { listed, t } from "../../ui/words";
import { verifyStage } from "./bench/queries";
import { useEditing, useNow, useOf } from "./context";
import { ShownBy } from "./ShownBy";
import { applies, chosen, emptied, fieldAt, grown } from "./schema";

const PLAIN = /^-?\d*\.?\d*$/;

const textAt = (path: string, document: unknown): string | number | boolean | null | undefined => {
  const value = getIn(document, path);
  return typeof value === "object" ? value && JSON.stringify(value) : value;
};

/** A field of the document: its value, what the schema knows of it, and the error that stands on it. */
function useField(path: string) {
  const value = useOf(useCallback(({ document }) => textAt(path, document), [path]));
  const error = useOf(
    useCallback(
      ({ problems }) => {
        const problem = problems.find((item) => item.path === path);
        return problem && !problem.missing ? `${problem.message} ${problem.remedy}` : undefined;
      },
      [path],
    ),
  );
  const missing = useOf(
    useCallback(({ problems }) => problems.some((item) => item.path === path && item.missing), [path]),
  );
  const now = useNow();
  return { field: fieldAt(now().catalogue, path), value, error, missing, now };
}

/** What stands at a field in place of what the schema says, where it depends on other entries. */
type Instead = { label?: string; unit?: string; hint?: string; usual?: string; nudge?: number };

/** A field of the installation as the schema draws it: a quantity, a choice, a question or a text; none where it does not apply. */
export const Entry = memo(function Entry({ path, ...instead }: { path: string; meaning?: string } & Instead) {
  const kind = useOf(
    useCallback(
      ({ catalogue, document }) =>
        applies(catalogue, document, path) ? (fieldAt(catalogue, path)?.kind ?? "quantity") : null,
      [path],
    ),
  );
  switch (kind) {
    case null:
      return null;
    case "choice":
    case "number_choice":
    case "flag":
      return <PickField path={path} {...instead} />;
    case "text":
      return <WordsField path={path} {...instead} />;
    default:
      return <QuantityField path={path} {...instead} />;
  }
});

/** Fields of one group, side by side. */
export function Entries(props: { of: string; names: readonly string[]; wide?: boolean; children?: ReactNode }) {
  const { of, names, wide, children } = props;
  return (
    <Grid
      templateColumns={{ base: "repeat(2, minmax(0, 1fr))", xl: `repeat(${wide ? 4 : 2}, minmax(0, 1fr))` }}
      gap={3}
      alignItems="start"
    >
      {names.map((name) => (
        <Entry key={name} path={`${of}.${name}`} />
      ))}
      {children}
    </Grid>
  );
}

/** A quantity: takes what people write and shows beside it what was understood. */
function QuantityField({ path, label, unit, hint, usual, nudge }: { path: string } & Instead) {
  const { field, value, error, missing, now } = useField(path);
  const understood = useOf(useCallback(({ evaluated }) => textAt(path, evaluated.document), [path]));
  const { own, typed, inOwn } = useUnits();
  const stored = unit ?? field?.unit ?? "";
  // a quantity is shown, and a bare number taken, in this person's unit; the document keeps the unit with it. A unit that is
  // given is that of the reader's own number
  const [name, size] = field?.machine || unit !== undefined ? [stored, 1] : own(stored);
  const foreign = size === 1 ? "" : name;
  const shown = (held: unknown) => inOwn(held, foreign ? stored : "");
  const text = shown(value);
  const fresh = typeof value === "string" && !PLAIN.test(text.trim()) && typeof understood === "number";
  const step = nudge ?? field?.step ?? 1;
  const stands = usual ?? field?.usual ?? "";
  const change = (next: string) => {
    const { preview, catalogue, document } = now();
    preview(
      ...grown(
        catalogue,
        document,
        path,
        next.trim() === "" ? emptied(field, path) : foreign ? typed(next, stored) : next,
      ),
    );
  };
  return (
    <TextField
      label={label ?? field?.title ?? ""}
      hint={hint ?? field?.hint}
      error={error}
      missing={missing}
      value={text}
      change={change}
      done={now().commit}
      unit={name}
      numeric
      nudge={foreign === "in" ? Number((step / size).toPrecision(1)) : step}
      usual={foreign && !Number.isNaN(Number(stands || Number.NaN)) ? shown(Number(stands)) : stands}
      meaning={fresh ? `${Number((understood / size).toFixed(4))} ${name}` : undefined}
      testId={path}
    />
  );
}

/** A text of the installation. */
function WordsField({ path, label, hint, meaning }: { path: string; meaning?: string } & Instead) {
  const { field, value, error, missing, now } = useField(path);
  const change = (next: string) => {
    const { preview, catalogue, document } = now();
    preview(...grown(catalogue, document, path, next.trim() === "" ? (emptied(field, path) ?? "") : next));
  };
  return (
    <TextField
      label={label ?? field?.title ?? ""}
      hint={hint ?? field?.hint}
      error={error}
      missing={missing}
      meaning={meaning}
      value={String(value ?? "")}
      change={change}
      done={now().commit}
      testId={path}
    />
  );
}

/** The value of a choice, a question or a number that is chosen, as the document keeps it. */
function useChoice(path: string) {
  const { field, value, error, now } = useField(path);
  const kept = (code: string) => {
    if (field?.kind === "flag") return code === "true";
    return field?.kind === "number_choice" ? Number(code) : code;
  };
  return {
    label: field?.title ?? "",
    hint: field?.hint || undefined,
    options: field?.choices ?? [],
    value: String(value ?? field?.usual ?? ""),
    error,
    change: (code: string) => {
      const { set, catalogue, document, problems } = now();
      set(...chosen(catalogue, document, problems, path, kept(code)));
    },
  };
}

function PickField({ path, label }: { path: string } & Instead) {
  const choice = useChoice(path);
  return <ChoiceField {...choice} label={label ?? choice.label} testId={path} />;
}

/** The same choice as cards, where it is the main question of its stage. */
export function EntryCards({ path, change }: { path: string; change?: (code: string) => void }) {
  const choice = useChoice(path);
  return <Cards {...choice} change={change ?? choice.change} columns={2} />;
}

/** The test that proved a stage: record one, or see which it was. */
export function ProofField({ path, stage }: { path: string; stage: StageName }) {
  const { set, command, catalogue, role, document, evaluated } = useEditing();
  const value = getIn(document, path);
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
    const gone = evaluated.result.voids.find(
      (item) => !item.ride && item.stage === stage && (item.readout ?? 0) === readout,
    )?.reason;
    const changed = found?.evidence !== "verified" && found?.evidence !== "failed";
    const label = catalogue.tests.find((item) => item.code === verification.test)?.label ?? verification.test;
    return (
      <Flex align="center" justify="space-between" gap={2} borderTopWidth="1px" pt={2} wrap="wrap">
        <Text fontSize="sm" color={error ? "bad.fg" : changed ? "signal.fg" : "good.fg"}>
          {changed ? "!" : "✓"} {listed(label, verification.on, verification.by || null)}
          {verification.recording && <ShownBy sha256={verification.recording} />}
          {changed && ": "}
          {changed && t("{0}. Repeat the test.", gone ?? t("changed since"))}
          {error ? `: ${error}` : ""}
        </Text>
        <Button size="sm" variant="outline" onClick={() => set(path, null)}>
          {t("Remove test")}
        </Button>
      </Flex>
    );
  }
  if (!open)
    return (
      <Box borderTopWidth="1px" pt={2}>
        <Button size="sm" variant="outline" minH={{ base: "44px", md: "36px" }} onClick={() => setOpen(true)}>
          {t("Record a passed test")}
        </Button>
      </Box>
    );
  return (
    <Box borderTopWidth="1px" pt={2}>
      <ChoiceField label={t("Test")} value={test} change={(code) => setTest(code as typeof test)} options={able} />
      <Flex gap={2} mt={2}>
        <Button
          size="sm"
          colorPalette="signal"
          onClick={() => {
            const verification = {
              test,
              on: today(),
              by: role,
              note: "",
              value: null,
              state: null,
              voided_by: null,
              recording: "",
            };
            attempt(t("Saving the test"), () =>
              command((known) => verifyStage(known, { stage, readout, verification })),
            );
            setOpen(false);
          }}
        >
          {t("Save test, dated today")}
        </Button>
        <Button size="sm" variant="ghost" onClick={() => setOpen(false)}>
          {t("Cancel")}
        </Button>
      </Flex>
    </Box>
  );
}
