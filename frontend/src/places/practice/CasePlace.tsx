import { Box, chakra, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { numberIn, signedIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Message } from "../../ui/Message";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { listed, t } from "../../ui/words";
import { type Case, useCase, useMoves } from "./queries";

const Go = chakra(Link);
const NOTHING = { code: "", air_gap_mm: null, lateral_offset_mm: null, clocking_angle_deg: null, factor: null };

/** A case of practice: what the customer says, what can be done, what was done. */
export default function CasePlace() {
  const id = Number(useParams().id);
  const found = useCase(id);
  const { show } = useUnits();
  const speed = (kmh: number) => show(kmh, "km/h", 0.5).join(" ");
  if (!found.data)
    return (
      <Frame>
        <Message text={found.error ? found.error.message : t("Opening the case …")} back={Boolean(found.error)} />
      </Frame>
    );
  const { play, outcome, number } = found.data;
  return (
    <Frame title={t("Practice")}>
      <Box px={{ base: 3, md: 4 }} pb={10} w="100%" maxW="1180px" mx="auto">
        <Heading as="h1" size="xl" pt={2}>
          {number ? t("Case {0}", number) : t("Generated case")}
        </Heading>
        <Go to="/practice" textDecoration="underline" color="signal.fg" py={1} display="inline-block">
          {t("All cases")}
        </Go>
        <Text fontSize="lg" borderLeftWidth="4px" borderColor="signal.fg" pl={3} my={2}>
          {play.sentence}
        </Text>
        <Flex gap={4} wrap="wrap" data-testid="figures">
          <Text>{t("Seen: {0}", play.noticed.join(", "))}</Text>
          <Text fontFamily="mono">{t("{0} shown at {1}", speed(play.shown_kmh), speed(play.true_kmh))}</Text>
          <Text fontWeight="700">{t("{0} min so far", fixed(play.minutes, 0))}</Text>
          {play.solved && <Text color="good.fg">{t("✓ The shown speed is right")}</Text>}
        </Flex>
        {outcome && <Ended outcome={outcome} />}
        <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }} gap={5} mt={3}>
          {!outcome && <Moves found={found.data} />}
          <Made title={t("Done so far")} done={play.done} testId="made" />
        </Grid>
      </Box>
    </Frame>
  );
}

function Made({ title, done, testId }: { title: string; done: Case["play"]["done"]; testId: string }) {
  return (
    <Box data-testid={testId}>
      <Heading as="h2" size="md" mb={1}>
        {title}
      </Heading>
      {done.length === 0 && <Text color="fg.muted">{t("Nothing yet.")}</Text>}
      <Stack as="ol" gap={1} listStyleType="none">
        {done.map((item, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same move can be made twice
          <Text as="li" key={place}>
            {item.title}: <b>{item.outcome}</b>{" "}
            <Text as="span" color="fg.muted">
              {listed(t("{0} min", fixed(item.minutes, 0)), item.skipped && t("its caution was skipped"))}
            </Text>
          </Text>
        ))}
      </Stack>
    </Box>
  );
}

function Ended({ outcome }: { outcome: NonNullable<Case["outcome"]> }) {
  return (
    <Box bg="bg.panel" borderRadius="md" p={4} mt={3} data-testid="outcome">
      <Heading as="h2" size="lg">
        {outcome.solved ? t("✓ {0} points", outcome.points) : t("✕ 0 points: the shown speed is still wrong")}
      </Heading>
      <Text mt={1}>{t("The cause: {0} The cure: {1}", outcome.cause, outcome.fix)}</Text>
      <Text>
        {t("{0} min; an expert needs {1} min.", fixed(outcome.minutes, 0), fixed(outcome.expert_minutes, 0))}{" "}
        {outcome.skipped > 0 &&
          t("Cautions skipped: {0}, {1} min each.", outcome.skipped, fixed(outcome.caution_minutes, 0))}
      </Text>
      <Box mt={3}>
        <Made title={t("What an expert would have done")} done={outcome.expert} testId="expert" />
      </Box>
    </Box>
  );
}

/** What can be done: test, place the sensor, enter another setting, cure, end. */
function Moves({ found }: { found: Case }) {
  const { move, end } = useMoves(found);
  const { tools, repairs } = found.play;
  const [tool, setTool] = useState(tools[0]?.code ?? "");
  const [read, setRead] = useState(false);
  const [repair, setRepair] = useState(repairs[0]?.code ?? "");
  const chosen = tools.find((item) => item.code === tool);
  const make = (some: Partial<Schemas["Move"]> & Pick<Schemas["Move"], "kind">) =>
    move.mutate({ ...NOTHING, caution_read: read, ...some }, { onSuccess: () => setRead(false) });
  return (
    <Stack gap={4} data-testid="moves">
      <Box bg="bg.panel" borderRadius="md" p={4}>
        <ChoiceField
          label={t("Test")}
          value={tool}
          change={(code) => {
            setTool(code);
            setRead(false);
          }}
          options={tools.map((item) => ({
            code: item.code,
            label: t("{0}, {1} min", item.title, fixed(item.minutes, 0)),
          }))}
          testId="tool"
        />
        {chosen?.steps.map((step) => (
          <Text key={step} fontSize="sm" mt={1}>
            {step}
          </Text>
        ))}
        {chosen?.caution && <Caution text={chosen.caution} read={read} change={setRead} />}
        <Small mt={2} disabled={move.isPending} onClick={() => make({ kind: "test", code: tool })}>
          {t("Do this test")}
        </Small>
      </Box>
      {found.play.can_place && <PlaceIt make={make} busy={move.isPending} play={found.play} />}
      <Setting make={make} busy={move.isPending} minutes={found.play.set_minutes} />
      <Box bg="bg.panel" borderRadius="md" p={4}>
        <ChoiceField
          label={t("Cure")}
          value={repair}
          change={setRepair}
          options={repairs.map((item) => ({
            code: item.code,
            label: t("{0} {1} min", item.text, fixed(item.minutes, 0)),
          }))}
          testId="repair"
        />
        <Small mt={2} disabled={move.isPending} onClick={() => make({ kind: "cure", code: repair })}>
          {t("Apply the cure and retest")}
        </Small>
      </Box>
      {move.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(move.error)}
        </Text>
      )}
      <Box>
        <Small disabled={end.isPending} onClick={() => end.mutate()}>
          {found.play.solved ? t("End the case") : t("Give up and see the cause")}
        </Small>
      </Box>
    </Stack>
  );
}

function Caution({ text, read, change }: { text: string; read: boolean; change: (read: boolean) => void }) {
  return (
    <chakra.label display="flex" gap={3} mt={2} minH="44px" alignItems="center" cursor="pointer">
      <input
        type="checkbox"
        checked={read}
        onChange={(event) => change(event.target.checked)}
        style={{ width: 20, height: 20, flexShrink: 0, accentColor: "var(--chakra-colors-signal-fg)" }}
      />
      <span>{t("Caution read: {0}", text)}</span>
    </chakra.label>
  );
}

type Make = (some: Partial<Schemas["Move"]> & Pick<Schemas["Move"], "kind">) => void;

function PlaceIt({ make, busy, play }: { make: Make; busy: boolean; play: Case["play"] }) {
  const [read, setRead] = useState(false);
  const [held, set] = useState({ gap: "", offset: "", angle: "" });
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 44, paddingTop: 10 }}>
        {t("Place the sensor, {0} min", fixed(play.place_minutes, 0))}
      </summary>
      <Grid templateColumns="repeat(auto-fit, minmax(120px, 1fr))" gap={3}>
        <TextField label={t("Air gap")} unit="mm" numeric value={held.gap} change={(gap) => set({ ...held, gap })} />
        <TextField
          label={t("Lateral offset")}
          unit="mm"
          numeric
          value={held.offset}
          change={(offset) => set({ ...held, offset })}
        />
        <TextField
          label={t("Clocking angle")}
          unit="°"
          numeric
          value={held.angle}
          change={(angle) => set({ ...held, angle })}
        />
      </Grid>
      {play.place_caution && <Caution text={play.place_caution} read={read} change={setRead} />}
      <Small
        mt={2}
        disabled={busy}
        onClick={() =>
          make({
            kind: "place",
            caution_read: read,
            air_gap_mm: numberIn(held.gap),
            lateral_offset_mm: signedIn(held.offset),
            clocking_angle_deg: numberIn(held.angle),
          })
        }
      >
        {t("Apply")}
      </Small>
    </details>
  );
}

function Setting({ make, busy, minutes }: { make: Make; busy: boolean; minutes: number }) {
  const [percent, set] = useState("");
  const value = signedIn(percent);
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 44, paddingTop: 10 }}>
        {t("Change the setting, {0} min", fixed(minutes, 0))}
      </summary>
      <Flex gap={3} align="end" wrap="wrap">
        <Box w="180px">
          <TextField
            label={t("Change of the shown speed")}
            unit="%"
            numeric
            value={percent}
            change={set}
            testId="setting-percent"
          />
        </Box>
        <Small
          disabled={busy || value === null}
          onClick={() => value !== null && make({ kind: "set", factor: 1 + value / 100 })}
        >
          {t("Enter the setting")}
        </Small>
      </Flex>
    </details>
  );
}
