import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Suspense, useEffect, useMemo, useState } from "react";
import { HistogramView } from "../../drawings/HistogramView";
import { RecordingPlot } from "../../drawings/LaterPlot";
import type { Curve, Span } from "../../drawings/RecordingPlot";
import { TrackMap } from "../../drawings/TrackMap";
import { between } from "../../recordings/between";
import { Derive } from "../../recordings/Derive";
import { type RecordingOut, useAlong, useHistogram, usePlot, useTrack } from "../../recordings/queries";
import { useAddressed } from "../../ui/address";
import { figure, fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";
import { groupsOf } from "./groups";

const PLOT = "plot";
const AROUND_S = 5;
const LOOKS = ["ours", "true", "limit"] as const;
const VIEWS = ["time", "distance", "histogram"] as const;
type View = (typeof VIEWS)[number];

/** Channels over time or distance, or how long they were at each value, and the track, with one pointer for both. */
export function Look({ recording }: { recording: RecordingOut }) {
  const located = recording.channels.some((channel) => channel.quantity === "latitude");
  const groups = groupsOf(recording.channels);
  const [chosen, choose] = useState("");
  const group = groups.find((item) => item.code === chosen) ?? groups[0];
  const [view, see] = useState<View>("time");
  const [at, point] = useState<number | null>(null);
  const track = useTrack(recording.id, recording.usual, located);
  const of = JSON.stringify(recording.channels);
  const along = useAlong(recording.id, view === "distance" && recording.usual != null, of);
  const views: Record<View, string> = {
    time: t("Over time"),
    distance: t("Over distance"),
    histogram: t("Histogram"),
  };
  if (!group) return null;
  const seen = view === "distance" && !recording.usual ? "time" : view;
  return (
    <Grid templateColumns={{ base: "1fr", lg: located ? "2fr 1fr" : "1fr" }} gap={4} mt={2}>
      <Box id={PLOT} bg="bg.panel" p={3} borderRadius="md" minW={0} scrollMarginTop="8px">
        <Flex gap={2} wrap="wrap" mb={2} role="group" aria-label={t("Channels")}>
          {groups.map((item) => (
            <Small
              key={item.code}
              aria-pressed={item === group}
              variant={item === group ? "solid" : "outline"}
              colorPalette={item === group ? "signal" : undefined}
              onClick={() => choose(item.code)}
            >
              {item.title}
            </Small>
          ))}
        </Flex>
        <Flex gap={2} wrap="wrap" mb={1} role="group" aria-label={t("How it is drawn")}>
          {VIEWS.filter((item) => item !== "distance" || recording.usual).map((item) => (
            <Small
              key={item}
              size="xs"
              aria-pressed={item === seen}
              variant={item === seen ? "solid" : "ghost"}
              onClick={() => see(item)}
            >
              {views[item]}
            </Small>
          ))}
        </Flex>
        {seen === "histogram" ? (
          <Times recording={recording} channel={group.channels[0]} of={of} />
        ) : seen === "distance" && !along.data ? (
          <Text minH="340px">{along.error ? along.error.message : t("Drawing …")}</Text>
        ) : (
          <Over
            key={seen}
            recording={recording}
            group={group}
            along={seen === "distance" ? along.data : undefined}
            at={at}
            point={point}
          />
        )}
        <Derive recording={recording} />
      </Box>
      {located && (
        <Box bg="bg.panel" p={3} borderRadius="md" minW={0}>
          {track.data && <TrackMap track={track.data} at={at} />}
          {track.error && <Text>{track.error.message}</Text>}
        </Box>
      )}
    </Grid>
  );
}

type OverProps = {
  recording: RecordingOut;
  group: ReturnType<typeof groupsOf>[number];
  /** Times, and the distance covered then; without it the drawing is over time. */
  along?: { time_s: (number | null)[]; distance_m: (number | null)[] };
  at: number | null;
  point: (at: number | null) => void;
};

/** Channels over time or distance; the pointer is a time in either. */
function Over({ recording, group, along, at, point }: OverProps) {
  const { scale, speedUnit } = useUnits();
  const [times, ways] = useMemo(() => [along?.time_s ?? [], along?.distance_m ?? []] as [number[], number[]], [along]);
  const [toX, toTime] = along
    ? [(time: number) => between(times, ways, time), (way: number) => between(ways, times, way)]
    : [(time: number) => time, (time: number) => time];
  const end = along ? Math.max(ways.at(-1) ?? 0, 1) : Math.max(recording.seconds, 0.01);
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
  const all = span[0] <= whole[0] && span[1] >= whole[1];
  const shown = group.channels.slice(0, LOOKS.length);
  const names = shown.map((channel) => channel.name);
  const asked = all ? null : ([toTime(span[0]), toTime(span[1])] as const);
  const plot = usePlot(recording.id, names, asked, JSON.stringify(recording.channels));
  const isSpeed = shown[0]?.quantity === "speed";
  const factor = isSpeed ? scale : 1;
  const unit = isSpeed ? speedUnit : (shown[0]?.unit ?? "");
  const curves: Curve[] = (plot.data?.curves ?? []).map((curve, place) => ({
    label: curve.name,
    look: LOOKS[place] ?? "limit",
    time_s: along ? curve.time_s.map(toX) : curve.time_s,
    values: factor === 1 ? curve.values : curve.values.map((value) => (value === null ? null : value * factor)),
  }));
  const x = at === null ? null : toX(at);
  const here = x === null ? [] : curves.map((curve) => `${curve.label} ${figureAt(curve, x)} ${unit}`);
  return (
    <>
      <Suspense fallback={<Text minH="340px">{t("Drawing …")}</Text>}>
        <RecordingPlot
          curves={curves}
          xLabel={along ? t("distance, m") : undefined}
          yLabel={unit}
          describe={
            along
              ? t("{0} over distance: {1}. Zoom with + and −, move with the arrows.", group.title, names.join(", "))
              : t("{0} over time: {1}. Zoom with + and −, move with the arrows.", group.title, names.join(", "))
          }
          whole={whole}
          span={span}
          zoom={zoom}
          at={x}
          point={(next) => point(next === null ? null : toTime(next))}
        />
      </Suspense>
      <Flex gap={4} wrap="wrap" fontSize="sm" color="fg.muted" mt={1}>
        {names.map((name, place) => (
          <span key={name}>
            {["━", "┈", "╌"][place]} {name}
          </span>
        ))}
      </Flex>
      <Text fontSize="sm" fontFamily="mono" minH="1.5em" data-testid="pointed">
        {at !== null &&
          (along
            ? t("{0} m, {1} s: {2}", fixed(toX(at), 0), fixed(at, 2), here.join(", "))
            : t("{0} s: {1}", fixed(at, 2), here.join(", ")))}
      </Text>
    </>
  );
}

/** How long the first of the channels was at each value. */
function Times({
  recording,
  channel,
  of,
}: {
  recording: RecordingOut;
  channel: RecordingOut["channels"][number] | undefined;
  of: string;
}) {
  const { scale, speedUnit } = useUnits();
  const found = useHistogram(recording.id, channel?.name, of);
  if (!found.data || !channel) return <Text minH="340px">{found.error ? found.error.message : t("Drawing …")}</Text>;
  const isSpeed = channel.quantity === "speed";
  const edges = isSpeed ? found.data.edges.map((edge) => edge * scale) : found.data.edges;
  return (
    <HistogramView
      edges={edges}
      seconds={found.data.seconds}
      name={channel.name}
      unit={isSpeed ? speedUnit : channel.unit}
    />
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
