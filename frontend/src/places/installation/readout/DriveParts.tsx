import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { Suspense, useMemo, useState } from "react";
import type { Schemas } from "../../../api/client";
import { ErrorPicture } from "../../../drawings/ErrorPicture";
import { RecordingPlot } from "../../../drawings/LaterPlot";
import type { Curve } from "../../../drawings/RecordingPlot";
import { type Span, Zoom } from "../../../drawings/Zoom";
import { type Proof, type RecordingOut, usePlot, type Wanted } from "../../../recordings/queries";
import { fixed } from "../../../ui/format";
import { Failing } from "../../../ui/Pending";
import { Small } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { useOverSpeed } from "../bench/queries";
import { useEditing } from "../context";

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
      <Failing asked={plot} />
      <Zoom whole={whole} span={span} zoom={zoom} />
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

const STEPS = 24;

/** How far the display is off over speed or over time, in per cent or in its unit: what counted, ±, the law, what did not. */
export function ErrorOf({ proof, begins_s, readout }: { proof: Proof; begins_s: number; readout: number }) {
  const { evaluated } = useEditing();
  const { scale, speedUnit } = useUnits();
  const [look, see] = useHeld("error picture", { over: "speed", unit: "%" });
  const law = useOverSpeed(evaluated.document, readout).data;
  const { pairs, ratio, offset_kmh, expanded_pct, parts } = proof.check;
  const overTime = look.over === "time";
  const inUnits = look.unit === "speed";
  const off = (true_kmh: number, shown_kmh: number) =>
    inUnits ? (shown_kmh - true_kmh) * scale : 100 * (shown_kmh / true_kmh - 1);
  const most = Math.max(...pairs.map(({ weight }) => weight), 1e-12);
  const points = pairs.map((pair) => ({
    at: overTime ? (pair.from_s + pair.to_s) / 2 - begins_s : pair.true_kmh * scale,
    off: off(pair.true_kmh, pair.shown_kmh),
    share: pair.weight / most,
  }));
  const speeds = pairs.map(({ true_kmh }) => true_kmh);
  const [slowest, fastest] = [Math.min(...speeds), Math.max(...speeds)];
  const margin = Math.max((fastest - slowest) * 0.06, 2);
  const last = parts.at(-1)?.to_s ?? begins_s + 1;
  const [from, to] = overTime ? [0, last - begins_s] : [(slowest - margin) * scale, (fastest + margin) * scale];
  const mean = speeds.reduce((sum, speed) => sum + speed, 0) / Math.max(speeds.length, 1);
  const line = Array.from({ length: STEPS + 1 }, (_, step) => {
    const at = from + ((to - from) * step) / STEPS;
    const kmh = overTime ? mean : at / scale;
    return { at, off: off(kmh, offset_kmh + ratio * kmh), kmh };
  });
  const permitted =
    overTime || !law || law.band?.at_kmh != null
      ? []
      : law.band_true_kmh.map((kmh, place) => ({
          at: kmh * scale,
          low: off(kmh, law.band_low_kmh[place] ?? kmh),
          high: off(kmh, law.band_high_kmh[place] ?? kmh),
        }));
  return (
    <Box data-testid="error-picture">
      <Flex gap={2} wrap="wrap" mb={1} role="group" aria-label={t("Error of the display")}>
        {[
          { code: "speed", label: t("Over speed") },
          { code: "time", label: t("Over time") },
        ].map(({ code, label }) => (
          <Small
            key={code}
            aria-pressed={look.over === code}
            variant={look.over === code ? "solid" : "outline"}
            onClick={() => see({ ...look, over: code })}
          >
            {label}
          </Small>
        ))}
        {[
          { code: "%", label: "%" },
          { code: "speed", label: speedUnit },
        ].map(({ code, label }) => (
          <Small
            key={code}
            aria-pressed={look.unit === code}
            variant={look.unit === code ? "solid" : "outline"}
            onClick={() => see({ ...look, unit: code })}
          >
            {label}
          </Small>
        ))}
      </Flex>
      <ErrorPicture
        points={points}
        line={line}
        within={line.map(({ kmh }) => (inUnits ? (expanded_pct / 100) * kmh * scale : expanded_pct))}
        permitted={permitted}
        leftOut={
          overTime
            ? parts
                .filter((part) => part.reason !== null)
                .map((part) => [part.from_s - begins_s, part.to_s - begins_s] as const)
            : []
        }
        xLabel={overTime ? t("time, s") : t("true, {0}", speedUnit)}
        yLabel={inUnits ? t("shown − true, {0}", speedUnit) : t("error, %")}
        from={from}
        to={to}
      />
      <Flex gap={4} wrap="wrap" fontSize="sm" color="fg.muted">
        <span>{t("● steady parts that counted; the larger, the more")}</span>
        <span>{t("━ what was found, with its ±")}</span>
        {permitted.length > 1 && <span>{t("green: permitted")}</span>}
        {overTime && <span>{t("shaded: left out")}</span>}
      </Flex>
    </Box>
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
