import { Box, chakra, Flex, Grid, Table, Text } from "@chakra-ui/react";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { data, type Schemas } from "../../api/client";
import { useSheet } from "../../api/hooks";
import { type Work, worked } from "../../api/work";
import { ChoiceField } from "../../ui/fields";
import { TableRoot } from "../../ui/TableRoot";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { type RecordingOut, recordingKeys } from "../queries";
import { refusalOf } from "../sending";

export type Speeds = Schemas["SpeedsIn"];
const Go = chakra(Link);
type Ask = (id: number) => Promise<{ data?: Work }>;

/** What was typed as a number, in either way of writing decimals; null where it is none. */
export const numberIn = (typed: string) =>
  /^\s*\d+([.,]\d+)?\s*$/.test(typed) ? Number(typed.replace(",", ".")) : null;

/** The same with a sign before it. */
export const signedIn = (typed: string) => {
  const [, sign = "", rest = ""] = /^\s*([-−+]?)(.*)$/.exec(typed) ?? [];
  const value = numberIn(rest);
  return value === null ? null : sign === "" || sign === "+" ? value : -value;
};

/** The speeds of a recording, to choose from. */
export const speedOptions = (recording: RecordingOut) =>
  recording.channels.filter((channel) => channel.quantity === "speed").map(({ name }) => ({ code: name, label: name }));

/** The answer to one question; the same question again is answered at once. */
export function useAnswer<
  Key extends "health" | "slip" | "traction" | "tune_change" | "reciprocal" | "distance" | "coast_down" | "ring_change",
>(recording: RecordingOut, key: Key, asked: unknown, ask: Ask) {
  const client = useQueryClient();
  return useQuery({
    queryKey: ["recordings", recording.id, key, recording.channels, asked],
    enabled: recording.state === "ready" && asked !== null,
    queryFn: async ({ signal }) => {
      const found = (await worked(data(ask(recording.id)), signal))[key];
      client.invalidateQueries({ queryKey: recordingKeys.results(recording.id) });
      return found as NonNullable<Work[Key]>;
    },
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

/** Two of the recording's speeds, each to be chosen. */
export function useSpeeds(recording: RecordingOut, name: string, start?: Speeds) {
  const usual = start ?? recording.usual ?? { true_channel: "", shown_channel: "" };
  const [held, hold] = useHeld<Speeds>(`${name} ${recording.id}`, usual);
  return [held, hold] as const;
}

export function SpeedFields({
  recording,
  asked,
  hold,
  labels,
}: {
  recording: RecordingOut;
  asked: Speeds;
  hold: (next: Speeds) => void;
  labels: { true_channel: string; shown_channel: string };
}) {
  const options = recording.channels
    .filter((channel) => channel.quantity === "speed")
    .map(({ name }) => ({ code: name, label: name }));
  return (
    <Grid templateColumns="repeat(auto-fit, minmax(180px, 1fr))" gap={3} mt={2}>
      {(["true_channel", "shown_channel"] as const).map((name) => (
        <ChoiceField
          key={name}
          label={labels[name]}
          value={asked[name]}
          change={(channel) => hold({ ...asked, [name]: channel })}
          options={options}
          testId={name}
        />
      ))}
    </Grid>
  );
}

/** A table of figures. */
export function Rows({ heads, rows }: { heads: string[]; rows: (string | undefined)[][] }) {
  const cells = (of: (string | undefined)[], cell: (text: string | undefined, place: number) => ReactNode) =>
    of.map((text, place) => cell(text, place));
  return (
    <Box overflowX="auto" tabIndex={0} role="group" aria-label={t("Table")}>
      <TableRoot>
        <Table.Header>
          <Table.Row>
            {cells(heads, (head, place) => (
              <Table.ColumnHeader key={place}>{head}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((row, line) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two rows may say the same
            <Table.Row key={line}>
              {cells(row, (cell, place) => (
                <Table.Cell key={place} fontFamily="mono">
                  {cell}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
    </Box>
  );
}

/** The vehicle's installations, one beside the other, each leading on to where this is used. */
export function ToInstallations({
  recording,
  lead,
  to,
  name = (row) => row.name,
}: {
  recording: RecordingOut;
  lead: string;
  to: (installation: number) => string;
  name?: (row: { name: string }) => string;
}) {
  const rows = useSheet(recording.vehicle).data?.sheet.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <Flex gap={4} wrap="wrap" align="baseline">
      {lead && <Text>{lead}</Text>}
      {rows.map((row) => (
        <Go key={row.installation} to={to(row.installation)} textDecoration="underline" color="signal.fg" py={1}>
          {name(row)}
        </Go>
      ))}
    </Flex>
  );
}

/** Shown against true of a whole recording, to be used by one of the vehicle's installations. */
export function UseIn(props: {
  recording: RecordingOut;
  kind: "distance" | "there_and_back";
  true_kmh: number;
  shown_kmh: number;
  within: number;
}) {
  const { recording, kind, true_kmh, shown_kmh, within } = props;
  const asked = `view=speeds&kind=${kind}&seen=${true_kmh.toFixed(3)}:${shown_kmh.toFixed(3)}&within=${within.toFixed(3)}&recording=${recording.sha256}`;
  return (
    <ToInstallations
      recording={recording}
      lead={t("Use it for the setting of:")}
      to={(installation) => `/installation/${installation}/readout?${asked}`}
    />
  );
}

export function State({ answer }: { answer: { error: Error | null; isPending: boolean } }) {
  if (answer.error)
    return (
      <Text role="alert" color="bad.fg" fontWeight="600" mt={2}>
        {refusalOf(answer.error)}
      </Text>
    );
  return answer.isPending ? (
    <Text role="status" mt={2}>
      {t("Working …")}
    </Text>
  ) : null;
}
