import { Grid, Stack, Text } from "@chakra-ui/react";
import { api, type Schemas } from "../../api/client";
import { ChoiceField, TextField } from "../../ui/fields";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { numberIn, State, speedOptions, UseIn, useAnswer } from "./shared";

type Wanted = Schemas["DistanceWanted"];

/** A shown distance against a measured one, or one by satellite. */
export function Distance({ recording }: { recording: RecordingOut }) {
  const counted = recording.channels.filter((channel) => channel.quantity === "distance" && !channel.derived);
  const located = recording.channels.some((channel) => channel.quantity === "latitude");
  const speeds = speedOptions(recording);
  const counters = counted.map(({ name }) => ({ code: name, label: t("{0}, as counted", name) }));
  const shownOptions = [...counters, ...speeds.map(({ code }) => ({ code, label: t("{0}, added up", code) }))];
  const trueOptions = [
    ...(located ? [{ code: "places", label: t("along the satellite's places") }] : []),
    { code: "measured", label: t("measured on the ground") },
    ...speeds.map(({ code }) => ({ code, label: t("{0}, added up", code) })),
  ];
  const usual = recording.usual;
  const [held, hold] = useHeld(`distance ${recording.id}`, {
    true: located ? "places" : "measured",
    shown: counters[0]?.code ?? usual?.shown_channel ?? "",
    metres: "",
    within: "1",
    from: "",
    to: "",
  });
  const metres = numberIn(held.metres);
  const measured = held.true === "measured";
  const [from, to] = [numberIn(held.from), numberIn(held.to)];
  const span =
    from === null && to === null
      ? null
      : { from_s: (from ?? 0) + recording.begins_s, to_s: (to ?? recording.seconds) + recording.begins_s };
  const asked: Wanted | null =
    measured && metres === null
      ? null
      : {
          true: held.true,
          shown: held.shown,
          measured_m: measured ? metres : null,
          measured_expanded_m: numberIn(held.within) ?? 1,
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
      {asked === null ? <Text>{t("Enter the measured distance.")}</Text> : <State answer={answer} />}
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
