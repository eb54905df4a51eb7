import { Box, Grid, Heading, Text } from "@chakra-ui/react";
import { api, type Schemas } from "../../api/client";
import { ChoiceField, TextField } from "../../ui/fields";
import { offer } from "../../ui/files";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { numberIn, Rows, type Speeds, State, useAnswer } from "./shared";

type Axes = Schemas["TractionIn"];
const SPEEDS = ["km/h", "mph", "kn"] as const;

/** A start for the controller's traction table, in the axes that the controller has. */
export function Traction({ recording, speeds }: { recording: RecordingOut; speeds: Speeds }) {
  const { scale, speedUnit } = useUnits();
  const ours = SPEEDS.find((unit) => unit === speedUnit) ?? "km/h";
  const [held, hold] = useHeld(`traction ${recording.id}`, {
    action: "torque",
    most: "30",
    spin_in: "%",
    speed_in: ours as string,
    columns: "6",
    rows: "4",
    least: fixed(10 * scale, 0),
  });
  const set = (name: keyof typeof held) => (value: string) => hold({ ...held, [name]: value });
  const [most, rows, columns, least] = [held.most, held.rows, held.columns, held.least].map(numberIn);
  const asked =
    most == null || rows == null || columns == null || least == null
      ? null
      : ({ ...speeds, ...held, most, rows, columns, least_kmh: least / scale } as Axes & { least?: string });
  if (asked) delete asked.least;
  const answer = useAnswer(recording, "traction", asked, (id) =>
    api.POST("/api/recordings/{recording_id}/traction", {
      params: { path: { recording_id: id } },
      body: asked as Axes,
    }),
  );
  const found = asked === null || answer.error ? undefined : answer.data;
  const actions = [
    { code: "torque", label: t("less torque, %") },
    { code: "retard", label: t("retard, degrees") },
    { code: "cut", label: t("cut, %") },
  ];
  const units = (codes: readonly string[]) => codes.map((code) => ({ code, label: code }));
  return (
    <Box borderTopWidth="1px" pt={2} data-testid="traction">
      <Heading as="h3" size="sm">
        {t("A start for the traction table")}
      </Heading>
      <Text fontSize="sm" color="fg.muted">
        {t(
          "! Keep to what the engine's maker allows: too much retard overheats it. Try it on private ground, with an observer. Less torque is often the better cure.",
        )}
      </Text>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} mt={2}>
        <ChoiceField
          label={t("Cells of the table")}
          value={held.action}
          change={set("action")}
          options={actions}
          testId="traction-action"
        />
        <TextField
          label={t("At most")}
          unit={held.action === "retard" ? "°" : "%"}
          numeric
          value={held.most}
          change={set("most")}
          testId="traction-most"
        />
        <ChoiceField
          label={t("Spin in")}
          value={held.spin_in}
          change={set("spin_in")}
          options={units(["%", ...SPEEDS])}
          testId="traction-spin"
        />
        <ChoiceField
          label={t("Front speed in")}
          value={held.speed_in}
          change={set("speed_in")}
          options={units(SPEEDS)}
          testId="traction-speed"
        />
        <TextField label={t("Columns")} numeric value={held.columns} change={set("columns")} />
        <TextField label={t("Rows")} numeric value={held.rows} change={set("rows")} />
        <TextField
          label={t("Acts from")}
          unit={speedUnit}
          numeric
          value={held.least}
          change={set("least")}
          testId="traction-least"
        />
      </Grid>
      {asked === null ? (
        <Text role="alert" color="bad.fg" fontWeight="600" mt={2}>
          {t("One of the fields holds no number. Enter one in each: most, columns, rows and the least speed.")}
        </Text>
      ) : (
        <State answer={answer} />
      )}
      {found && (
        <>
          <Text fontWeight="600" mt={2}>
            {found.text}
          </Text>
          <Text fontSize="sm" color="fg.muted">
            {t(
              "Down: speed of the front wheels, {0}. Right: spin, {1}. Cells: {2}.",
              found.speed_in,
              found.spin_in,
              actions.find(({ code }) => code === found.action)?.label,
            )}
          </Text>
          <Rows
            heads={["", ...found.spins.map((spin) => fixed(spin, 1))]}
            rows={found.speeds.map((speed, row) => [
              fixed(speed, 0),
              ...(found.cells[row] ?? []).map((cell) => fixed(cell, found.action === "retard" ? 1 : 0)),
            ])}
          />
          <Text>{found.advice}</Text>
          <Small onClick={() => offer(new Blob([found.csv], { type: "text/csv" }), "traction-table.csv")}>
            {t("The table as CSV")}
          </Small>
        </>
      )}
    </Box>
  );
}
