import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { memo, useMemo } from "react";
import type { Schemas } from "../api/client";
import { fixed, percent, signed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const SIZE = 420;
const EDGE = 30;
const STEPS = 5;

/** Where it was driven, on a plain grid in metres; the line is the thicker the further the shown speed is off. */
export const TrackMap = memo(function TrackMap({ track, at }: { track: Schemas["Track"]; at: number | null }) {
  const { east_m, north_m, error_pct, time_s } = track;
  const reach = useMemo(() => {
    const ends = [east_m, north_m].map((values) => [Math.min(...values), Math.max(...values)] as const);
    const half = Math.max(...ends.map(([low, high]) => (high - low) / 2), 5) * 1.05;
    const [east, north] = ends.map(([low, high]) => (low + high) / 2) as [number, number];
    return { half, east, north };
  }, [east_m, north_m]);
  const x = scaleLinear([reach.east - reach.half, reach.east + reach.half], [EDGE, SIZE - EDGE]);
  const y = scaleLinear([reach.north - reach.half, reach.north + reach.half], [SIZE - EDGE, EDGE]);
  const known = error_pct.filter((value) => value !== null);
  const most = Math.max(...known.map(Math.abs), 0.5);
  const parts = useMemo(() => lines(track, most), [track, most]);
  const here = at === null ? -1 : time_s.findIndex((time) => time >= at);
  return (
    <Box>
      <Drawing
        width={SIZE}
        height={SIZE}
        max={`${SIZE}px`}
        describe={t(
          "The track, {0} m long. The shown speed is off by {1} to {2} %.",
          fixed(track.length_m, 0),
          known.length > 0 ? signed(Math.min(...known), 1) : "",
          known.length > 0 ? signed(Math.max(...known), 1) : "",
        )}
      >
        {x.ticks(5).map((east) => (
          <g key={`e${east}`}>
            <path className="thin" d={`M${x(east)} ${EDGE}V${SIZE - EDGE}`} style={{ opacity: 0.3 }} />
            <text className="small" x={x(east)} y={SIZE - 10} textAnchor="middle">
              {fixed(east, 0)}
            </text>
          </g>
        ))}
        {y.ticks(5).map((north) => (
          <path key={`n${north}`} className="thin" d={`M${EDGE} ${y(north)}H${SIZE - EDGE}`} style={{ opacity: 0.3 }} />
        ))}
        {parts.map(({ step, path }) => (
          <path
            key={path.slice(0, 40) + step}
            d={path.replace(
              /(-?[\d.]+),(-?[\d.]+)/g,
              (_, a, b) => `${x(Number(a)).toFixed(1)} ${y(Number(b)).toFixed(1)}`,
            )}
            fill="none"
            stroke={step === null ? "var(--chakra-colors-fg-muted)" : "var(--chakra-colors-signal-fg)"}
            strokeWidth={step === null ? 1.2 : 1.5 + 1.6 * step}
            strokeDasharray={step === null ? "3 4" : undefined}
            strokeLinecap="round"
          />
        ))}
        {here >= 0 && (
          <circle className="actfill" cx={x(east_m[here] ?? 0)} cy={y(north_m[here] ?? 0)} r={8} data-testid="here" />
        )}
      </Drawing>
      <Text fontSize="sm" color="fg.muted">
        {known.length > 0
          ? t(
              "Metres east and north. The thicker the line, the further the shown speed is off: up to {0} %.",
              percent(most),
            )
          : t("Metres east and north.")}
      </Text>
    </Box>
  );
});

/** Runs of the track with about the same error: the places of each, and its step of 0 to 4. */
function lines({ east_m, north_m, error_pct }: Schemas["Track"], most: number) {
  const stepOf = (value: number | null | undefined) =>
    value == null ? null : Math.min(Math.floor((Math.abs(value) / most) * STEPS), STEPS - 1);
  const found: { step: number | null; path: string }[] = [];
  let last: number | null | undefined;
  for (let place = 1; place < east_m.length; place += 1) {
    const step = stepOf(error_pct[place]);
    const to = `${east_m[place]},${north_m[place]}`;
    const tail = found.at(-1);
    if (tail && step === last) tail.path += `L${to}`;
    else found.push({ step, path: `M${east_m[place - 1]},${north_m[place - 1]}L${to}` });
    last = step;
  }
  return found;
}
