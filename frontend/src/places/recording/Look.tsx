import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { HistogramView } from "../../drawings/HistogramView";
import { TrackMap } from "../../drawings/TrackMap";
import { Derive } from "../../recordings/Derive";
import { type RecordingOut, useAlong, useHistogram, useTrack } from "../../recordings/queries";
import { Pending } from "../../ui/Pending";
import { makePointer, type Pointer, usePointed } from "../../ui/pointer";
import { Small } from "../../ui/Small";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { groupsOf } from "./groups";
import { LayOver, useOther } from "./LayOver";
import { Log, PLOT } from "./Log";
import { Marks } from "./Marks";

const VIEWS = ["time", "distance", "histogram"] as const;
type View = (typeof VIEWS)[number];

/** Channels over time or distance, or how long they were at each value, and the track, with one pointer for both. */
export function Look({ recording }: { recording: RecordingOut }) {
  const located = recording.channels.some((channel) => channel.quantity === "latitude");
  const groups = useMemo(() => groupsOf(recording.channels), [recording.channels]);
  const [chosen, choose] = useHeld<string[]>(`strips ${recording.id}`, []);
  const found = useMemo(() => groups.filter((item) => chosen.includes(item.code)), [groups, chosen]);
  const shown = useMemo(() => (found.length > 0 ? found : groups.slice(0, 1)), [found, groups]);
  const [view, see] = useState<View>("time");
  const [pressed, hold] = useState<number | null>(null);
  const [pointer] = useState(makePointer);
  const point = (at: number | null) => pointer.set(at ?? pressed);
  const press = (at: number) => {
    hold(at);
    pointer.set(at);
  };
  const track = useTrack(recording.id, recording.usual, located);
  const of = JSON.stringify(recording.channels);
  const seen = view === "distance" && !recording.usual ? "time" : view;
  const over = useOther(recording);
  const along = useAlong(recording.id, seen === "distance", of);
  const theirs = over.other?.recording;
  const alongOther = useAlong(
    theirs?.id ?? 0,
    seen === "distance" && theirs !== undefined,
    JSON.stringify(theirs?.channels),
  );
  const wait = seen === "distance" && (!along.data || (theirs && !alongOther.data));
  const failed = along.error ?? alongOther.error;
  const views: Record<View, string> = {
    time: t("Over time"),
    distance: t("Over distance"),
    histogram: t("Histogram"),
  };
  const switched = (code: string) => {
    const codes = shown.map((item) => item.code);
    choose(codes.includes(code) ? codes.filter((item) => item !== code) : [...codes, code]);
  };
  const other =
    over.other && (seen !== "distance" || alongOther.data) ? { ...over.other, along: alongOther.data } : undefined;
  if (groups.length === 0) return null;
  return (
    <Grid templateColumns={{ base: "1fr", lg: located ? "2fr 1fr" : "1fr" }} gap={4} mt={2} alignItems="start">
      <Box id={PLOT} bg="bg.panel" p={3} borderRadius="md" minW={0} scrollMarginTop="8px">
        <Flex gap={2} wrap="wrap" mb={2} role="group" aria-label={t("Channels")}>
          {groups.map((item) => (
            <Small
              key={item.code}
              aria-pressed={shown.includes(item)}
              variant={shown.includes(item) ? "solid" : "outline"}
              colorPalette={shown.includes(item) ? "signal" : undefined}
              onClick={() => switched(item.code)}
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
          shown.map((group) => <Times key={group.code} recording={recording} channel={group.channels[0]} of={of} />)
        ) : wait ? (
          <Text minH="340px">{failed ? failed.message : t("Drawing …")}</Text>
        ) : (
          <Log
            key={seen}
            recording={recording}
            groups={shown}
            along={seen === "distance" ? along.data : undefined}
            other={other}
            pointer={pointer}
            point={point}
            press={press}
          />
        )}
        <Stack gap={1} mt={2}>
          <LayOver of={over} />
          <Marks recording={recording} pressed_s={pressed} />
          <Derive recording={recording} />
        </Stack>
      </Box>
      {located && (
        <Box bg="bg.panel" p={3} borderRadius="md" minW={0}>
          {track.data && <Track track={track.data} pointer={pointer} />}
          {track.error && <Text>{track.error.message}</Text>}
        </Box>
      )}
    </Grid>
  );
}

/** Where it was driven, and where the pointer is. */
function Track({ track, pointer }: { track: Schemas["Track"]; pointer: Pointer }) {
  return <TrackMap track={track} at={usePointed(pointer)} />;
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
  if (!found.data || !channel) return <Pending asked={found} text={t("Drawing …")} minH="340px" />;
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
