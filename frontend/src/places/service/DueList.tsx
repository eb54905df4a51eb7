import { Box, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Refusal, type Schemas } from "../../api/client";
import { DueLine, type DueMark } from "../../drawings/DueLine";
import { ErrorPicture } from "../../drawings/ErrorPicture";
import { numberIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { TextField } from "../../ui/fields";
import { figure, fixed } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Remove } from "../../ui/Remove";
import { Small } from "../../ui/Small";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { type DueItem, useDue, useServiceChanges } from "./queries";

const STATES: Record<DueItem["state"], string> = { overdue: t("✕ overdue"), soon: t("! soon"), later: t("later") };
const NOTHING = { text: "", on: "", km: "", hours: "", months: "", every: "", who: "" };

/** When something is due, in words. */
function whenDue({ due, forecast }: DueItem) {
  return [
    due.on && t("on {0}", due.on),
    due.at_km != null && t("at {0} km", figure(due.at_km, 0.01)),
    due.at_hours != null && t("at {0} h", figure(due.at_hours, 0.01)),
    forecast && t("reached about {0}, ± {1} days", forecast.on, forecast.within_days),
    due.every_months != null && t("every {0} months", due.every_months),
    due.every_km != null && t("every {0} km", figure(due.every_km, 0.01)),
  ]
    .filter(Boolean)
    .join(", ");
}

/** What is due, the most pressing first; done, put off with a reason, or added. */
export function DueList({ vehicle }: { vehicle: number }) {
  const asked = useDue(vehicle);
  const found = asked.data;
  const { changeDue, removeDue } = useServiceChanges(vehicle);
  return (
    <Box data-testid="due">
      <Heading as="h2" size="lg" mb={2}>
        {t("Due")}
      </Heading>
      {!found && <Pending asked={asked} text={t("Opening …")} />}
      {found && (
        <Grid templateColumns={{ base: "1fr", lg: found.wear ? "1fr 1fr" : "1fr" }} columnGap={3} alignItems="start">
          {found.wear && <Wear wear={found.wear} now={found.odometer_km} />}
          <Box>
            <OverTime items={found.items} />
            <WearLimit vehicle={vehicle} found={found} />
          </Box>
        </Grid>
      )}
      <Stack gap={2}>
        {found?.items.length === 0 && <Text color="fg.muted">{t("Nothing is due.")}</Text>}
        {found?.items.map((item, place) => (
          <Flex
            key={item.id}
            bg="bg.panel"
            borderRadius="md"
            px={4}
            py={2}
            gap={3}
            align="center"
            wrap="wrap"
            data-state={item.state}
          >
            <Box flex="1" minW="200px">
              <Text fontWeight="600">
                {place + 1}. {item.text}
              </Text>
              <Text fontSize="sm" color="fg.muted">
                {[STATES[item.state], whenDue(item), item.assigned_to && t("for: {0}", item.assigned_to), item.reason]
                  .filter(Boolean)
                  .join("; ")}
              </Text>
            </Box>
            <Small
              aria-label={t("Done: {0}", item.text)}
              onClick={() => changeDue.mutate({ id: item.id, done: true, postponed_to: null, reason: "" })}
            >
              {t("Done")}
            </Small>
            <PutOff
              put={(postponed_to, reason) => changeDue.mutate({ id: item.id, done: false, postponed_to, reason })}
            />
            <Remove what={item.text} act={() => removeDue.mutate(item.id)} busy={removeDue.isPending} />
          </Flex>
        ))}
      </Stack>
      <NewDue vehicle={vehicle} />
    </Box>
  );
}

/** How wear moves the shown speed: what was measured, how it goes on with its ±, the limit, and where things stand. */
function Wear({ wear, now }: { wear: Schemas["WearForecast"]; now: number | null }) {
  const [first, last] = [wear.curve[0]?.km ?? 0, wear.curve.at(-1)?.km ?? 0];
  const end = Math.max(last, Math.min(now ?? 0, 2 * last - first));
  return (
    <Box bg="bg.panel" borderRadius="md" px={4} py={3} mb={3}>
      <Text mb={2} data-testid="wear">
        {wear.text} {t("Worn out at about {0} km.", fixed(wear.worn_out_km, 0))}
      </Text>
      <ErrorPicture
        points={wear.readings.map(({ km, more_pct }) => ({ at: km, off: more_pct, share: 0.5 }))}
        line={wear.curve.map(({ km, more_pct }) => ({ at: km, off: more_pct }))}
        within={wear.curve.map(({ expanded_pct }) => expanded_pct)}
        permitted={[first, end].map((at) => ({ at, low: -wear.limit_pct, high: wear.limit_pct }))}
        leftOut={[]}
        xLabel={t("odometer, km")}
        yLabel={t("shows more, %")}
        from={first}
        to={end}
        now={now}
        describe={t(
          "Wear over distance: {0} readings; the limit of {1} % is reached {2} km after the first, ± {3} km.",
          wear.readings.length,
          fixed(wear.limit_pct, 1),
          fixed(wear.limit_km, 0),
          fixed(wear.expanded_km, 0),
        )}
      />
      <Text fontSize="sm" color="fg.muted">
        {t("Dots: measured. Line and band: forecast with its ±. Green: within the limit.")}
      </Text>
    </Box>
  );
}

const MOST_MARKS = 12;

/** What is due over time, as far as it has a day. */
function OverTime({ items }: { items: DueItem[] }) {
  const marks = items.flatMap(({ expected, state }, place): DueMark[] =>
    expected
      ? [{ number: place + 1, on: new Date(`${expected.on}T12:00`), within_days: expected.within_days, state }]
      : [],
  );
  if (marks.length === 0) return null;
  return (
    <Box bg="bg.panel" borderRadius="md" px={4} py={3} mb={3} data-testid="due-line">
      <DueLine marks={marks.slice(0, MOST_MARKS)} today={new Date()} />
      <Text fontSize="sm" color="fg.muted">
        {t("Numbers as in the list below. ✕ overdue, ● soon, ○ later; bars: ± of a forecast.")}
      </Text>
    </Box>
  );
}

/** How much wear may move the shown speed before it is due. */
function WearLimit({ vehicle, found }: { vehicle: number; found: Schemas["ServiceOut"] }) {
  const { setWearLimit } = useServiceChanges(vehicle);
  const [typed, set] = useState<string | null>(null); // stays when somebody else sets another one meanwhile
  const text = typed ?? fixed(found.wear_limit_pct, 1);
  const value = numberIn(text);
  const stale = setWearLimit.error instanceof Refusal && setWearLimit.error.status === 409;
  return (
    <Flex gap={3} align="end" wrap="wrap" mb={3}>
      <Box w="230px">
        <TextField
          label={t("Wear limit, shown speed")}
          unit="%"
          numeric
          value={text}
          change={set}
          testId="wear-limit"
        />
      </Box>
      {value !== null && value !== found.wear_limit_pct && (
        <Small
          disabled={setWearLimit.isPending}
          onClick={() =>
            setWearLimit.mutate(
              { limit_pct: value, base_version: found.wear_limit_version },
              { onSuccess: () => set(null) },
            )
          }
        >
          {t("Set the limit")}
        </Small>
      )}
      {setWearLimit.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {stale
            ? t("Someone else set {0} % meanwhile. Press again to set yours.", fixed(found.wear_limit_pct, 1))
            : refusalOf(setWearLimit.error)}
        </Text>
      )}
    </Flex>
  );
}

/** A later date, with the reason. */
function PutOff({ put }: { put: (to: string, reason: string) => void }) {
  const [open, setOpen] = useState(false);
  const [to, setTo] = useState("");
  const [reason, setReason] = useState("");
  if (!open) return <Small onClick={() => setOpen(true)}>{t("Postpone")}</Small>;
  return (
    <Flex gap={2} align="end" wrap="wrap" w="100%">
      <Box w="170px">
        <TextField label={t("To")} type="date" value={to} change={setTo} />
      </Box>
      <Box flex="1" minW="160px">
        <TextField label={t("Why")} value={reason} change={setReason} />
      </Box>
      <Small
        disabled={to === "" || reason.trim() === ""}
        onClick={() => {
          put(to, reason);
          setOpen(false);
        }}
      >
        {t("Postpone")}
      </Small>
      <Small variant="ghost" onClick={() => setOpen(false)}>
        {t("Cancel")}
      </Small>
    </Flex>
  );
}

/** Something new that is to be done. */
function NewDue({ vehicle }: { vehicle: number }) {
  const { addDue } = useServiceChanges(vehicle);
  const [held, set] = useHeld(`due ${vehicle}`, NOTHING);
  const change = (some: Partial<typeof held>) => set({ ...held, ...some });
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32, marginTop: 8 }}>{t("Add a due item")}</summary>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} mt={1}>
        <TextField
          label={t("Work to be done")}
          value={held.text}
          change={(text) => change({ text })}
          testId="due-text"
        />
        <TextField label={t("On")} type="date" value={held.on} change={(on) => change({ on })} testId="due-on" />
        <TextField
          label={t("At odometer reading")}
          unit="km"
          numeric
          value={held.km}
          change={(km) => change({ km })}
          testId="due-km"
        />
        <TextField label={t("At hours")} unit="h" numeric value={held.hours} change={(hours) => change({ hours })} />
        <TextField
          label={t("Repeat every")}
          unit={t("months")}
          numeric
          value={held.months}
          change={(months) => change({ months })}
        />
        <TextField
          label={t("Repeat every")}
          unit="km"
          numeric
          value={held.every}
          change={(every) => change({ every })}
        />
        <TextField label={t("For (role)")} value={held.who} change={(who) => change({ who })} />
      </Grid>
      <Flex mt={2} gap={3} align="center" wrap="wrap">
        <Small
          disabled={addDue.isPending}
          onClick={() =>
            addDue.mutate(
              {
                text: held.text,
                assigned_to: held.who,
                installation_id: null,
                task_id: null,
                reason: "",
                due: {
                  on: held.on || null,
                  at_km: numberIn(held.km),
                  at_hours: numberIn(held.hours),
                  every_months: numberIn(held.months),
                  every_km: numberIn(held.every),
                  every_hours: null,
                },
              },
              { onSuccess: () => set(NOTHING) },
            )
          }
        >
          {t("Add")}
        </Small>
        {addDue.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(addDue.error)}
          </Text>
        )}
      </Flex>
    </details>
  );
}
