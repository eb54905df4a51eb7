import { Box, chakra, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useInstallation } from "../../api/hooks";
import { numberIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { TextField } from "../../ui/fields";
import { figure, when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { UnitsOfVehicle, useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { useFaults, useStartFault } from "./queries";

const Go = chakra(Link);

/** The faults of an installation, and a new one by what is seen. */
export default function FaultsPlace() {
  const id = Number(useParams().id);
  const faults = useFaults(id);
  const installation = useInstallation(id).data;
  return (
    <Frame title={t("Find a fault")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" pt={3}>
          {t("Find a fault")}
        </Heading>
        {installation && (
          <Go to={`/installation/${id}`} textDecoration="underline" color="signal.fg" py={1} display="inline-block">
            {`${installation.vehicle_name} / ${installation.head.document.name}`}
          </Go>
        )}
        {!faults.data && <Pending asked={faults} text={t("Opening …")} />}
        <Stack gap={2} mt={3} data-testid="faults">
          {faults.data?.items.map((item) => (
            <Box key={item.id} bg="bg.panel" borderRadius="md" px={4} py={2}>
              <Go
                to={`/fault/${item.id}`}
                textDecoration="underline"
                color="signal.fg"
                fontWeight="600"
                display="inline-block"
                py={2}
              >
                {item.text}
              </Go>
              <Text fontSize="sm" color="fg.muted">
                {t("opened {0}", when(item.created_at))}
              </Text>
            </Box>
          ))}
        </Stack>
        {faults.data && installation && (
          <UnitsOfVehicle vehicle={installation.vehicle_id} afloat={installation.head.document.vehicle_kind === "boat"}>
            <NewFault installation={id} choices={faults.data} />
          </UnitsOfVehicle>
        )}
      </Box>
    </Frame>
  );
}

/** Pairs of speeds as the readout's page takes them. */
const seenOf = (pairs: { true_kmh: number; shown_kmh: number }[]) =>
  pairs.map((pair) => `${pair.true_kmh.toFixed(2)}:${pair.shown_kmh.toFixed(2)}`).join(",");

type Held = { history: string; symptoms: string[]; changed: string[]; pairs: { truly: string; shown: string }[] };

/** What is seen: symptoms, what was changed, a true and a shown speed. */
function NewFault({ installation, choices }: { installation: number; choices: Schemas["FaultsOut"] }) {
  const [search] = useSearchParams();
  const go = useNavigate();
  const start = useStartFault(installation);
  const [unit, kmh] = useUnits().own("km/h");
  const inOwn = (value: number) => figure(value / kmh, 0.1);
  const found = (choices.suggested.pairs ?? []).map((pair) => ({
    truly: inOwn(pair.true_kmh),
    shown: inOwn(pair.shown_kmh),
  }));
  const given = search.getAll("pair").map((text) => {
    const [truly = 0, shown = 0] = text.split(":").map(Number);
    return { truly: inOwn(truly), shown: inOwn(shown) };
  });
  const asked = given.length > 0 ? given : found;
  const inRun = choices.in_a_run[search.get("run") ?? ""];
  const [held, set, drop] = useHeld<Held>(`fault ${installation} ${search}`, () => ({
    history: choices.suggested.history ?? "",
    symptoms: inRun ? [inRun] : [...(choices.suggested.symptoms ?? [])],
    changed: [...(choices.suggested.changed ?? [])],
    pairs: asked.length > 0 ? asked : [{ truly: "", shown: "" }],
  }));
  const toggle = (list: string[], code: string) =>
    list.includes(code) ? list.filter((item) => item !== code) : [...list, code];
  const pair = (place: number, some: Partial<Held["pairs"][number]>) =>
    set({ ...held, pairs: held.pairs.map((item, at) => (at === place ? { ...item, ...some } : item)) });
  const pairs = held.pairs.flatMap(({ truly, shown }) => {
    const [true_kmh, shown_kmh] = [numberIn(truly), numberIn(shown)];
    return true_kmh !== null && shown_kmh !== null ? [{ true_kmh: true_kmh * kmh, shown_kmh: shown_kmh * kmh }] : [];
  });
  const untouched = held.history === "never" || held.history === "before";
  return (
    <Box mt={5} data-testid="new-fault">
      <Heading as="h2" size="lg" mb={2}>
        {t("Has it ever worked?")}
      </Heading>
      <Ticks
        items={choices.histories}
        chosen={[held.history]}
        toggle={(history) => set({ ...held, history })}
        one="history"
      />
      <Heading as="h2" size="lg" mt={4} mb={2}>
        {t("Symptoms")}
      </Heading>
      <Ticks
        items={untouched ? choices.symptoms.filter((item) => item.code !== "after_change") : choices.symptoms}
        chosen={held.symptoms}
        toggle={(code) => set({ ...held, symptoms: toggle(held.symptoms, code) })}
      />
      {!untouched && (
        <>
          <Heading as="h2" size="md" mt={4} mb={2}>
            {t("Changed before the fault began")}
          </Heading>
          <Ticks
            items={choices.changed}
            chosen={held.changed}
            toggle={(code) => set({ ...held, changed: toggle(held.changed, code) })}
          />
        </>
      )}
      <Heading as="h2" size="md" mt={4} mb={2}>
        {t("True and shown speed, if known")}
      </Heading>
      {held.pairs.map((item, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: pairs have no name but their place
        <Grid key={place} templateColumns="repeat(auto-fit, minmax(140px, 200px))" gap={3} mb={2}>
          <TextField
            label={t("True speed")}
            unit={unit}
            numeric
            value={item.truly}
            change={(truly) => pair(place, { truly })}
            testId={place === 0 ? "fault-true" : `fault-true-${place}`}
          />
          <TextField
            label={t("Shown speed")}
            unit={unit}
            numeric
            value={item.shown}
            change={(shown) => pair(place, { shown })}
            testId={place === 0 ? "fault-shown" : `fault-shown-${place}`}
          />
        </Grid>
      ))}
      <Small variant="ghost" onClick={() => set({ ...held, pairs: [...held.pairs, { truly: "", shown: "" }] })}>
        {t("Add another speed")}
      </Small>
      {pairs.length > 0 && (
        <Small variant="ghost" asChild>
          <Link to={`/installation/${installation}/readout?view=speeds&seen=${seenOf(pairs)}`}>
            {t("It works, only the number is off: use these speeds for the setting")}
          </Link>
        </Small>
      )}
      <Flex mt={4} gap={3} align="center" wrap="wrap">
        <Small
          disabled={start.isPending}
          onClick={() =>
            start.mutate(
              {
                history: (held.history || null) as Schemas["Seen"]["history"],
                symptoms: held.symptoms.filter(
                  (code) => !untouched || code !== "after_change",
                ) as Schemas["Seen"]["symptoms"],
                changed: (untouched ? [] : held.changed) as Schemas["Seen"]["changed"],
                pairs,
                answers: choices.suggested.answers,
              },
              {
                onSuccess: (fault) => {
                  drop();
                  go(`/fault/${fault.id}`);
                },
              },
            )
          }
        >
          {t("Find the cause")}
        </Small>
        {start.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(start.error)}
          </Text>
        )}
      </Flex>
    </Box>
  );
}

function Ticks({
  items,
  chosen,
  toggle,
  one,
}: {
  items: Schemas["FaultsOut"]["symptoms"];
  chosen: string[];
  toggle: (code: string) => void;
  /** One of them only: the name of the choice. */
  one?: string;
}) {
  return (
    <Grid templateColumns="repeat(auto-fit, minmax(240px, 1fr))" gap={1}>
      {items.map((item) => (
        <chakra.label
          key={item.code}
          display="flex"
          gap={3}
          minH="44px"
          alignItems="center"
          px={3}
          py={2}
          bg={chosen.includes(item.code) ? "bg.emphasized" : "bg.panel"}
          borderRadius="md"
          cursor="pointer"
        >
          <input
            type={one ? "radio" : "checkbox"}
            name={one}
            checked={chosen.includes(item.code)}
            onChange={() => toggle(item.code)}
            style={{ width: 20, height: 20, flexShrink: 0, accentColor: "var(--chakra-colors-signal-fg)" }}
          />
          <span>
            {item.label}
            {item.hint && (
              <Text as="span" display="block" fontSize="sm" color="fg.muted">
                {item.hint}
              </Text>
            )}
          </span>
        </chakra.label>
      ))}
    </Grid>
  );
}
