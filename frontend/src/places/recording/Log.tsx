import { Box, Flex, Text } from "@chakra-ui/react";
import { Suspense, useEffect, useMemo, useState } from "react";
import { RecordingPlot } from "../../drawings/LaterPlot";
import type { Curve } from "../../drawings/RecordingPlot";
import { type Span, Zoom } from "../../drawings/Zoom";
import { between } from "../../recordings/between";
import { type RecordingOut, usePlot } from "../../recordings/queries";
import { useAddressed } from "../../ui/address";
import { figure, fixed } from "../../ui/format";
import { Failing } from "../../ui/Pending";
import { type Pointer, usePointed } from "../../ui/pointer";
import { useUnits } from "../../ui/units";
import { useSettled } from "../../ui/useSettled";
import { t } from "../../ui/words";
import type { Group } from "./groups";

export const PLOT = "plot";
const AROUND_S = 5;
const LOOKS = ["ours", "true", "limit"] as const;
const OVER = ["over", "over2", "over"] as const;
const SIGNS: Record<Curve["look"], string> = { ours: "━", true: "┈", limit: "╌", over: "⋯", over2: "-·", edge: "" };
const NO_CHANNELS: string[] = [];

/** Times of a recording, and the distance covered then. */
export type Along = { time_s: (number | null)[]; distance_m: (number | null)[] };
/** Another recording in the same strips: what is added to its time to have ours. */
export type Other = { recording: RecordingOut; shift_s: number; along?: Along };

type Props = {
  recording: RecordingOut;
  groups: readonly Group[];
  /** Without it the drawing is over time. */
  along?: Along;
  other?: Other;
  pointer: Pointer;
  point: (at: number | null) => void;
  press: (at: number) => void;
};

/** Below what a time of a recording stands, and back. */
function axisOf(along: Along | undefined, shift_s: number, ours?: Along) {
  if (!along || !ours) return { toX: (time: number) => time + shift_s, toTime: (x: number) => x - shift_s };
  const [times, ways] = [along.time_s, along.distance_m] as [number[], number[]];
  // both have covered the same where the later one begins
  const meets_s = Math.max(0, shift_s);
  const ahead_m =
    between(ours.time_s as number[], ours.distance_m as number[], meets_s) - between(times, ways, meets_s - shift_s);
  return {
    toX: (time: number) => between(times, ways, time) + ahead_m,
    toTime: (x: number) => between(ways, times, x - ahead_m),
  };
}

/** The channels of another recording that belong into a strip: of the same names, or of the same quantity. */
function partners(group: Group, other: RecordingOut) {
  const names = new Set(group.channels.map(({ name }) => name));
  const same = other.channels.filter(({ name }) => names.has(name));
  if (same.length > 0) return same;
  const quantity = group.channels[0]?.quantity;
  return quantity === "other"
    ? []
    : other.channels.filter((channel) => channel.quantity === quantity).slice(0, OVER.length);
}

/** Strips of channels below each other over one time or distance, with one pointer, and another recording over them. */
export function Log({ recording, groups, along, other, pointer, point, press }: Props) {
  const { scale, speedUnit } = useUnits();
  const { toX, toTime } = useMemo(() => axisOf(along, 0, along), [along]);
  const others = useMemo(() => axisOf(other?.along, other?.shift_s ?? 0, along), [other?.along, other?.shift_s, along]);
  const end = along ? Math.max(along.distance_m.at(-1) ?? 0, 1) : Math.max(recording.seconds, 0.01);
  const whole = useMemo(() => [0, end] as const, [end]);
  const [span, zoom] = useState<Span>(whole);
  const [shown_at] = useAddressed("at");
  useEffect(() => {
    const [begin = NaN, finish = NaN] = (shown_at ?? "").split(":").map(Number);
    if (!Number.isFinite(begin) || !Number.isFinite(finish) || along) return;
    const around = Math.max(AROUND_S, 2 * (finish - begin));
    zoom([Math.max(begin - around, 0), Math.min(finish + around, end)]);
    document.getElementById(PLOT)?.scrollIntoView({ block: "nearest" });
  }, [shown_at, end, along]);
  const settled = useSettled(span);
  const all = settled[0] <= whole[0] && settled[1] >= whole[1];
  const asked = (axis: typeof others) => (all ? null : ([axis.toTime(settled[0]), axis.toTime(settled[1])] as const));
  const names = groups.flatMap(({ channels }) => channels.map(({ name }) => name));
  const plot = usePlot(recording.id, names, asked({ toX, toTime }), JSON.stringify(recording.channels));
  const theirs = useMemo(() => groups.map((group) => (other ? partners(group, other.recording) : [])), [groups, other]);
  const over = usePlot(
    other?.recording.id ?? 0,
    other ? [...new Set(theirs.flat().map(({ name }) => name))] : NO_CHANNELS,
    asked(others),
    JSON.stringify(other?.recording.channels),
  );
  const strips = useMemo(() => {
    const [mine, laid] = [plot.data, over.data].map((found) => new Map(found?.curves.map((item) => [item.name, item])));
    const known = recording.channels.concat(other?.recording.channels ?? []);
    const drawn = (found: NonNullable<typeof plot.data>["curves"][number], look: Curve["look"], moved: boolean) => {
      const by = known.find(({ name }) => name === found.name)?.quantity === "speed" ? scale : 1;
      const place = moved ? others.toX : toX;
      return {
        label: moved ? t("{0}, {1}", found.name, other?.recording.name) : found.name,
        look,
        time_s: moved || along ? found.time_s.map(place) : found.time_s,
        values: by === 1 ? found.values : found.values.map((value) => (value === null ? null : value * by)),
      };
    };
    return groups.map((group, place) => ({
      group,
      unit: group.channels[0]?.quantity === "speed" ? speedUnit : (group.channels[0]?.unit ?? ""),
      curves: [
        ...group.channels.flatMap(({ name }, line) => {
          const found = mine?.get(name);
          return found ? [drawn(found, LOOKS[line] ?? "limit", false)] : [];
        }),
        ...(theirs[place] ?? []).flatMap(({ name }, line) => {
          const found = other && laid?.get(name);
          return found ? [drawn(found, OVER[line] ?? "over", true)] : [];
        }),
      ],
    }));
  }, [plot.data, over.data, groups, theirs, scale, speedUnit, others, toX, along, recording.channels, other]);
  const marks = useMemo(() => recording.marks.map((mark) => toX(mark.at_s)), [recording.marks, toX]);
  const follow = useMemo<Pointer>(() => {
    const get = () => {
      const at = pointer.get();
      return at === null ? null : toX(at);
    };
    return { get, subscribe: pointer.subscribe };
  }, [pointer, toX]);
  const height = groups.length === 1 ? 280 : groups.length === 2 ? 190 : 150;
  return (
    <>
      {strips.map(({ group, unit, curves }, place) => {
        const last = place === strips.length - 1;
        const listed = group.channels.map(({ name }) => name).join(", ");
        return (
          <Box key={group.code} data-testid={`strip-${group.code}`}>
            <Suspense fallback={<Text minH={`${height}px`}>{t("Drawing …")}</Text>}>
              <RecordingPlot
                curves={curves}
                xLabel={last ? (along ? t("distance, m") : undefined) : null}
                yLabel={unit}
                describe={
                  along
                    ? t("{0} over distance: {1}. Zoom with + and −, move with the arrows.", group.title, listed)
                    : t("{0} over time: {1}. Zoom with + and −, move with the arrows.", group.title, listed)
                }
                whole={whole}
                span={span}
                zoom={zoom}
                pointer={follow}
                point={(next) => point(next === null ? null : toTime(next))}
                press={(next) => press(toTime(next))}
                marks={marks}
                height={last ? height + 28 : height}
              />
            </Suspense>
            <Legend curves={curves} unit={unit} pointer={follow} />
          </Box>
        );
      })}
      <Flex gap={3} wrap="wrap" align="center">
        <Failing asked={plot} />
        <Zoom whole={whole} span={span} zoom={zoom} />
        <At pointer={pointer} toX={along && toX} />
      </Flex>
    </>
  );
}

const GREY = { opacity: 0.75 };

/** What each line is, and its value where it is pointed at. */
function Legend({ curves, unit, pointer }: { curves: Curve[]; unit: string; pointer: Pointer }) {
  const x = usePointed(pointer);
  return (
    <div className="legend" data-testid="legend">
      {curves.map((curve) => (
        <span key={curve.label}>
          <span style={GREY}>
            {SIGNS[curve.look]} {curve.label}
          </span>
          {x !== null && <code>{` ${figureAt(curve, x)} ${unit}`}</code>}
        </span>
      ))}
    </div>
  );
}

/** The time, and the distance covered, where it is pointed at. */
function At({ pointer, toX }: { pointer: Pointer; toX?: (time: number) => number }) {
  const at = usePointed(pointer);
  return (
    <code className="legend" data-testid="pointed">
      {at !== null && (toX ? t("{0} m, {1} s", fixed(toX(at), 0), fixed(at, 2)) : t("{0} s", fixed(at, 2)))}
    </code>
  );
}

/** The value of a curve next to a place below it. */
function figureAt({ time_s, values }: Curve, at: number) {
  let low = 0;
  let high = time_s.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((time_s[middle] ?? 0) < at) low = middle + 1;
    else high = middle;
  }
  const value = values[low];
  return value == null ? "–" : figure(value, 0.5);
}
