import { Box, Button, chakra, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas, StageName } from "../../api/client";
import { numberIn, signedIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { STAGES, stageLabel } from "../../speedline/stages";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { type Case, useMoves } from "./queries";

const NOTHING = { code: "", air_gap_mm: null, lateral_offset_mm: null, clocking_angle_deg: null, factor: null };

/** What can be done: test, place the sensor, enter another setting, cure, end; stage by stage along the line. */
export function Moves({ found }: { found: Case }) {
  const { move, end } = useMoves(found);
  const { tools, repairs, afloat, done } = found.play;
  const [stage, setStage] = useState<StageName>(tools[0]?.stage ?? "target");
  const [picked, pick] = useState("");
  const [wanted, want] = useState("");
  const [read, setRead] = useState(false);
  const here = {
    tools: tools.filter((item) => item.stage === stage),
    cures: repairs.filter((item) => item.stage === stage),
  };
  const tool = here.tools.find((item) => item.code === picked);
  const cure = here.cures.find((item) => item.code === wanted) ?? here.cures[0];
  const make = (some: Partial<Schemas["Move"]> & Pick<Schemas["Move"], "kind">) =>
    move.mutate({ ...NOTHING, caution_read: read, ...some }, { onSuccess: () => setRead(false) });
  return (
    <Stack gap={4} data-testid="moves">
      <Box bg="bg.panel" borderRadius="md" p={4}>
        <Grid templateColumns={{ base: "repeat(3, 1fr)", md: "repeat(6, 1fr)" }} gap={1} mb={3}>
          {STAGES.map((name) => (
            <Button
              key={name}
              minH="56px"
              px={1}
              flexDirection="column"
              gap={0}
              variant={name === stage ? "solid" : "outline"}
              colorPalette={name === stage ? "signal" : undefined}
              aria-pressed={name === stage}
              onClick={() => {
                setStage(name);
                setRead(false);
              }}
            >
              <span>{stageLabel(name, afloat)}</span>
              <Text as="span" fontSize="xs" fontWeight="400">
                {done.some((item) => item.stage === name) ? t("looked at") : t("not yet")}
              </Text>
            </Button>
          ))}
        </Grid>
        {here.tools.length === 0 && <Text color="fg.muted">{t("There is no test for this stage.")}</Text>}
        <Flex gap={2} wrap="wrap" role="group" aria-label={t("Tests")}>
          {here.tools.map((item) => (
            <Small
              key={item.code}
              variant={item === tool ? "solid" : "outline"}
              aria-pressed={item === tool}
              onClick={() => {
                pick(item.code);
                setRead(false);
              }}
            >
              {t("{0}, {1} min", item.title, fixed(item.minutes, 0))}
            </Small>
          ))}
        </Flex>
        {tool && (
          <Box mt={3}>
            {tool.steps.map((step) => (
              <Text key={step} fontSize="sm" mt={1}>
                {step}
              </Text>
            ))}
            {tool.caution && <Caution text={tool.caution} read={read} change={setRead} />}
            <Small mt={2} disabled={move.isPending} onClick={() => make({ kind: "test", code: tool.code })}>
              {t("Do this test")}
            </Small>
          </Box>
        )}
        {cure && (
          <Box mt={4} borderTopWidth="1px" pt={3}>
            <ChoiceField
              label={t("Cure")}
              value={cure.code}
              change={want}
              options={here.cures.map((item) => ({
                code: item.code,
                label: t("{0} {1} min", item.text, fixed(item.minutes, 0)),
              }))}
              testId="repair"
            />
            <Small mt={2} disabled={move.isPending} onClick={() => make({ kind: "cure", code: cure.code })}>
              {t("Apply the cure and retest")}
            </Small>
          </Box>
        )}
        {stage === "sensor" && found.play.can_place && <PlaceIt make={make} busy={move.isPending} play={found.play} />}
        {stage === "readout" && <Setting make={make} busy={move.isPending} minutes={found.play.set_minutes} />}
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
