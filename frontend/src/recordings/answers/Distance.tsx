import { Grid, Stack, Text } from "@chakra-ui/react";
import { api, type Schemas } from "../../api/client";
import { ChoiceField, TextField } from "../../ui/fields";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { numberIn, State, speedOptions, UseIn, useAnswer } from "./shared";

type Wanted = Schemas["DistanceWanted"];

const COUNTED = "counted";
const COUNTERS: Record<string, number> = { km: 1000, mi: 1609.344, nmi: 1852 };
const digitsOf = (typed: string) => /[.,](\d+)\s*$/.exec(typed)?.[1]?.length ?? 0;

/** A shown distance against a measured one, or one by satellite. */
export function Distance({ recording }: { recording: RecordingOut }) {
  const counted = recording.channels.filter((channel) => channel.quantity === "distance" && !channel.derived);
  const located = recording.channels.some((channel) => channel.quantity === "latitude");
  const speeds = speedOptions(recording);
  const counters = counted.map(({ name }) => ({ code: name, label: t("{0}, as counted", name) }));
  const shownOptions = [
    { code: COUNTED, label: t("read from the display, before and after") },
    ...counters,
    ...speeds.map(({ code }) => ({ code, label: t("{0}, added up", code) })),
  ];
  const trueOptions = [
    ...(located ? [{ code: "places", label: t("along the satellite's places") }] : []),
    { code: "measured", label: t("measured on the ground") },
    ...speeds.map(({ code }) => ({ code, label: t("{0}, added up", code) })),
  ];
  const usual = recording.usual;
  const [held, hold] = useHeld(`distance ${recording.id}`, {
    true: located ? "places" : "measured",
    shown: counters[0]?.code ?? (usual && usual.shown_channel !== usual.true_channel ? usual.shown_channel : COUNTED),
    before: "",
    after: "",
    unit: "km",
    metres: "",
    within: "1",
    from: "",
    to: "",
  });
  const metres = numberIn(held.metres);
  const measured = held.true === "measured";
  const counted_m = COUNTERS[held.unit] ?? 1000;
  const [before, after] = [numberIn(held.before), numberIn(held.after)];
  const read = held.shown === COUNTED;
  const [from, to] = [numberIn(held.from), numberIn(held.to)];
  const span =
    from === null && to === null
      ? null
      : { from_s: (from ?? 0) + recording.begins_s, to_s: (to ?? recording.seconds) + recording.begins_s };
  const asked: Wanted | null =
    (measured && metres === null) || (read && (before === null || after === null))
      ? null
      : {
          true: held.true,
          shown: held.shown,
          measured_m: measured ? metres : null,
          measured_expanded_m: numberIn(held.within) ?? 1,
          counted_before_m: read ? (before ?? 0) * counted_m : 0,
          counted_after_m: read ? (after ?? 0) * counted_m : null,
          counted_step_m: counted_m / 10 ** Math.max(digitsOf(held.before), digitsOf(held.after)),
          span,
        };
  const answer = useAnswer(recording, "distance", asked, (id) =>
    api.POST("/api/recordings/{recording_id}/distance", {
      params: { path: { recording_id: id } },
      body: asked as Wanted,
    }),
  );
  const found = answer.error || asked === null ? undefined : answer.data;
  const change = (some: Partial<typeof held>) => hold({ ...held, ...some });
  return (
    <Stack gap={2} mt={2}>
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3}>
        <ChoiceField
          label={t("Shown distance")}
          value={held.shown}
          change={(shown) => change({ shown })}
          options={shownOptions}
          testId="distance-shown"
        />
        {read && (
          <>
            <TextField
              label={t("Display before")}
              hint={t("with all its digits")}
              numeric
              value={held.before}
              change={(typed) => change({ before: typed })}
              testId="distance-before"
            />
            <TextField
              label={t("Display after")}
              numeric
              value={held.after}
              change={(typed) => change({ after: typed })}
              testId="distance-after"
            />
            <ChoiceField
              label={t("Unit of the display")}
              value={held.unit}
              change={(unit) => change({ unit })}
              options={Object.keys(COUNTERS).map((unit) => ({ code: unit, label: unit }))}
              testId="distance-unit"
            />
          </>
        )}
        <ChoiceField
          label={t("True distance")}
          value={held.true}
          change={(code) => change({ true: code })}
          options={trueOptions}
          testId="distance-true"
        />
        {measured && (
          <>
            <TextField
              label={t("Measured distance")}
              unit="m"
              numeric
              value={held.metres}
              change={(typed) => change({ metres: typed })}
              testId="distance-metres"
            />
            <TextField
              label={t("Measured within ±")}
              unit="m"
              numeric
              value={held.within}
              change={(typed) => change({ within: typed })}
            />
          </>
        )}
        <TextField
          label={t("From")}
          hint={t("empty: the beginning")}
          unit="s"
          numeric
          value={held.from}
          change={(typed) => change({ from: typed })}
        />
        <TextField
          label={t("To")}
          hint={t("empty: the end")}
          unit="s"
          numeric
          value={held.to}
          change={(typed) => change({ to: typed })}
        />
      </Grid>
      {asked === null ? (
        <Text>
          {read && (before === null || after === null)
            ? t("Enter what the display counted before and after the drive.")
            : t("Enter the measured distance.")}
        </Text>
      ) : (
        <State answer={answer} />
      )}
      {found && (
        <>
          <Text fontSize="lg" fontWeight="700" data-testid="distance">
            {found.verdict === "wrong" ? "✕" : "✓"} {found.text}
          </Text>
          {found.advice && <Text>{found.advice}</Text>}
          <Text fontSize="sm" color="fg.muted">
            {t("Shown: {0}. True: {1}. Begin and end standing still, or at marks.", found.shown.how, found.true.how)}
          </Text>
          <UseIn
            recording={recording}
            kind="distance"
            true_kmh={found.at_kmh}
            shown_kmh={found.at_kmh * found.factor}
            within={found.expanded_pct}
          />
        </>
      )}
    </Stack>
  );
}
