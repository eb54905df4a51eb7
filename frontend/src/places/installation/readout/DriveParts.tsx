import { Box, Flex, Grid, Table, Text } from "@chakra-ui/react";
import { Suspense, useMemo, useState } from "react";
import type { Schemas } from "../../../api/client";
import { RecordingPlot } from "../../../drawings/LaterPlot";
import type { Curve, Span } from "../../../drawings/RecordingPlot";
import { Residuals } from "../../../drawings/Residuals";
import { Scatter } from "../../../drawings/Scatter";
import { type Proof, type RecordingOut, usePlot, type Wanted } from "../../../recordings/queries";
import { fixed } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";

type TimeSpan = Schemas["TimeSpan"];
type Part = Proof["check"]["parts"][number];

const REASONS: Record<NonNullable<Part["reason"]>, string> = {
  not_recorded: t("not recorded"),
  slow: t("slow"),
  speed_changes: t("speed changes"),
  turn: t("turn"),
  poor_fix: t("poor fix"),
  short: t("short"),
  by_hand: t("left out by hand"),
};

export type CheckedProps = {
  recording: RecordingOut;
  wanted: Wanted;
  hold: (some: Partial<Wanted>) => unknown;
  proof: Proof | null;
  readout: number;
};

const OTHER = ({ from_s, to_s }: TimeSpan) => ({
  than: (span: TimeSpan) => span.to_s <= from_s || span.from_s >= to_s,
});

/** Use or leave out a span, whatever was decided of it before. */
function decided(wanted: Wanted, span: TimeSpan, use: boolean): Partial<Wanted> {
  const [left_out, used] = [wanted.left_out ?? [], wanted.used ?? []].map((spans) =>
    spans.filter(OTHER(span).than),
  ) as [TimeSpan[], TimeSpan[]];
  return use ? { left_out, used: [...used, span] } : { left_out: [...left_out, span], used };
}

/** Both speeds over time, with what is left out; a span is marked by hand. */
export function DrawnDrive({ recording, wanted, hold, proof }: Omit<CheckedProps, "readout">) {
  const { scale, speedUnit } = useUnits();
  const whole = useMemo(() => [0, Math.max(recording.seconds, 0.01)] as const, [recording.seconds]);
  const [span, zoom] = useState<Span>(whole);
  const [marking, mark] = useState<"use" | "leave" | null>(null);
  const all = span[0] <= whole[0] && span[1] >= whole[1];
  const names = [...new Set([wanted.shown_channel, wanted.true_channel])];
  const plot = usePlot(recording.id, names, all ? null : span, JSON.stringify(recording.channels));
  const curves: Curve[] = (plot.data?.curves ?? []).map((curve) => ({
    label: curve.name,
    look: curve.name === wanted.true_channel ? "true" : "ours",
    time_s: curve.time_s,
    values: curve.values.map((value) => (value === null ? null : value * scale)),
  }));
  const begins = recording.begins_s;
  const leftOut = useMemo(
    () =>
      (proof?.check.parts ?? [])
        .filter((part) => part.reason !== null)
        .map((part) => [part.from_s - begins, part.to_s - begins] as const),
    [proof, begins],
  );
  return (
    <Box>
      <Suspense fallback={<Text minH="340px">{t("Drawing …")}</Text>}>
        <RecordingPlot
          curves={curves}
          yLabel={speedUnit}
          describe={t("Shown and true speed over time. {0}", proof?.text)}
          whole={whole}
          span={span}
          zoom={zoom}
          leftOut={leftOut}
          mark={
            marking &&
            (([from, to]) => {
              hold(decided(wanted, { from_s: from + begins, to_s: to + begins }, marking === "use"));
              mark(null);
            })
          }
        />
      </Suspense>
      <Flex gap={2} wrap="wrap" align="center" mt={2}>
        {(["leave", "use"] as const).map((kind) => (
          <Small
            key={kind}
            aria-pressed={marking === kind}
            variant={marking === kind ? "solid" : "outline"}
            colorPalette={marking === kind ? "signal" : undefined}
            onClick={() => mark(marking === kind ? null : kind)}
          >
            {kind === "leave" ? t("Leave out a span") : t("Use a span")}
          </Small>
        ))}
        <Text fontSize="sm" color="fg.muted">
          {marking ? t("Drag over the span in the drawing.") : t("━ shown, ┈ true; what is left out is shaded")}
        </Text>
      </Flex>
    </Box>
  );
}

/** Each pair of speeds: shown against true, and how far it is off the line. */
export function Pairs({ proof }: { proof: Proof }) {
  const { scale, speedUnit } = useUnits();
  const { pairs, ratio, offset_kmh } = proof.check;
  const points = pairs.map((pair) => ({
    speed: pair.true_kmh * scale,
    off: (pair.shown_kmh - offset_kmh - ratio * pair.true_kmh) * scale,
  }));
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32 }} data-testid="pairs-shown">
        {t("Pairs of speeds: {0}; how far each is off the line", pairs.length)}
      </summary>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={3}>
        <Scatter
          points={pairs.map((pair) => ({ true_speed: pair.true_kmh * scale, shown: pair.shown_kmh * scale }))}
          ratio={ratio}
          offset={offset_kmh * scale}
          unit={speedUnit}
        />
        <Residuals points={points} unit={speedUnit} />
      </Grid>
    </details>
  );
}

/** Every part of the drive: used, or left out and why; a person may decide otherwise. */
export function Parts({ proof, hold, wanted }: { proof: Proof } & Pick<CheckedProps, "hold" | "wanted">) {
  const { scale, speedUnit } = useUnits();
  const { parts, pairs } = proof.check;
  const begins = parts[0]?.from_s ?? 0;
  const decide = ({ from_s, to_s }: Part, use: boolean) => hold(decided(wanted, { from_s, to_s }, use));
  const meanOf = (part: Part) => {
    const inside = pairs.filter((pair) => pair.from_s >= part.from_s - 0.01 && pair.to_s <= part.to_s + 0.01);
    const sum = (name: "true_kmh" | "shown_kmh") => inside.reduce((total, pair) => total + pair[name], 0);
    return inside.length > 0 ? ([sum("true_kmh") / inside.length, sum("shown_kmh") / inside.length] as const) : null;
  };
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32 }} data-testid="parts-shown">
        {t(
          "Parts of the drive: {0} used, {1} left out",
          parts.filter((part) => part.reason === null).length,
          parts.filter((part) => part.reason !== null).length,
        )}
      </summary>
      <TableRoot variant="line" data-testid="parts">
        <Table.Header>
          <Table.Row>
            {[t("From, s"), t("To, s"), t("true, {0}", speedUnit), t("shown, {0}", speedUnit), t("Use")].map((head) => (
              <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {parts.map((part) => {
            const mean = part.reason === null ? meanOf(part) : null;
            return (
              <Table.Row key={part.from_s}>
                <Table.Cell>{fixed(part.from_s - begins, 0)}</Table.Cell>
                <Table.Cell>{fixed(part.to_s - begins, 0)}</Table.Cell>
                <Table.Cell>{mean && fixed(mean[0] * scale, 1)}</Table.Cell>
                <Table.Cell>{mean && fixed(mean[1] * scale, 1)}</Table.Cell>
                <Table.Cell whiteSpace="nowrap">
                  {part.reason === null ? (
                    <Small onClick={() => decide(part, false)}>{t("Leave out")}</Small>
                  ) : part.reason === "not_recorded" ? (
                    REASONS[part.reason]
                  ) : (
                    <>
                      <Small onClick={() => decide(part, true)}>{t("Use")}</Small> {REASONS[part.reason]}
                    </>
                  )}
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </TableRoot>
    </details>
  );
}
