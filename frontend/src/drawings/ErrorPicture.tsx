import { scaleLinear } from "d3-scale";
import { fixed, signed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const WIDTH = 720;
const HEIGHT = 300;
const LEFT = 78;
const RIGHT = 14;
const TOP = 14;
const BOTTOM = 46;

export type ErrorPoint = { at: number; off: number; share: number };
export type Range = { at: number; low: number; high: number };

/** How far a display is off, point by point: the line that was found with its ±, what is permitted, what was left out. */
export function ErrorPicture({
  points,
  line,
  within,
  permitted,
  leftOut,
  xLabel,
  yLabel,
  from,
  to,
  now,
  describe,
}: {
  points: readonly ErrorPoint[];
  /** The error that was found, over the axis. */
  line: readonly { at: number; off: number }[];
  /** ± of it, at each of its points. */
  within: readonly number[];
  permitted: readonly Range[];
  leftOut: readonly (readonly [number, number])[];
  xLabel: string;
  yLabel: string;
  from: number;
  to: number;
  /** Where things stand today, on the axis. */
  now?: number | null;
  describe?: string;
}) {
  const ends = line.flatMap(({ off }, place) => [off - (within[place] ?? 0), off + (within[place] ?? 0)]);
  const all = [...points.map(({ off }) => off), ...ends, 0];
  const room = Math.max((Math.max(...all) - Math.min(...all)) * 0.15, 0.05);
  const [low, high] = [Math.min(...all) - room, Math.max(...all) + room];
  const x = scaleLinear([from, to], [LEFT, WIDTH - RIGHT]);
  const y = scaleLinear([low, high], [HEIGHT - BOTTOM, TOP]);
  const inside = (off: number) => Math.min(Math.max(off, low), high);
  const shape = (pairs: readonly (readonly [number, number])[]) =>
    pairs.map(([at, off], place) => `${place ? "L" : "M"}${x(at).toFixed(1)} ${y(inside(off)).toFixed(1)}`).join("");
  const around = (upper: readonly (readonly [number, number])[], lower: readonly (readonly [number, number])[]) =>
    `${shape([...upper, ...[...lower].reverse()])}Z`;
  const ticks = y.ticks(5);
  const places = Math.max(0, Math.ceil(-Math.log10(Math.abs((ticks[1] ?? 1) - (ticks[0] ?? 0)) + 1e-12)));
  const shown = permitted.filter(({ at }) => at >= from && at <= to);
  const mean = line[Math.floor(line.length / 2)];
  const half = within[Math.floor(line.length / 2)] ?? 0;
  return (
    <Drawing
      width={WIDTH}
      height={HEIGHT}
      max="100%"
      describe={
        describe ??
        t(
          "{0} points: shown less true, {1}; found {2}, ± {3}.",
          points.length,
          yLabel,
          signed(mean?.off ?? 0, 2),
          fixed(half, 2),
        )
      }
    >
      {shown.length > 1 && (
        <path
          className="good"
          d={around(
            shown.map((item) => [item.at, item.high] as const),
            shown.map((item) => [item.at, item.low] as const),
          )}
        />
      )}
      {leftOut.map(([begin, end]) => (
        <rect
          key={begin}
          fill="currentColor"
          x={x(Math.max(begin, from))}
          width={Math.max(x(Math.min(end, to)) - x(Math.max(begin, from)), 0)}
          y={TOP}
          height={HEIGHT - BOTTOM - TOP}
          style={{ opacity: 0.12 }}
        />
      ))}
      {ticks.map((off) => (
        <g key={off}>
          <path
            className={off === 0 ? "ink" : "thin"}
            d={`M${LEFT} ${y(off)}H${WIDTH - RIGHT}`}
            style={{ opacity: off === 0 ? 1 : 0.35 }}
          />
          <text className="small" x={LEFT - 6} y={y(off) + 5} textAnchor="end">
            {off === 0 ? "0" : signed(off, places)}
          </text>
        </g>
      ))}
      {x.ticks(5).map((at) => (
        <text key={at} className="small" x={x(at)} y={HEIGHT - BOTTOM + 18} textAnchor="middle">
          {Number(at.toFixed(2))}
        </text>
      ))}
      {line.length > 0 && (
        <path
          className="unsure"
          d={around(
            line.map(({ at, off }, place) => [at, off + (within[place] ?? 0)] as const),
            line.map(({ at, off }, place) => [at, off - (within[place] ?? 0)] as const),
          )}
        />
      )}
      {line.length > 0 && <path className="act" d={shape(line.map(({ at, off }) => [at, off] as const))} fill="none" />}
      {points.map((point) => (
        <circle
          key={`${point.at} ${point.off}`}
          className="actfill"
          cx={x(point.at)}
          cy={y(point.off)}
          r={3 + 4 * Math.sqrt(point.share)}
          style={{ opacity: 0.8 }}
        />
      ))}
      {now != null && now >= from && now <= to && (
        <g>
          <path className="ghost" d={`M${x(now)} ${TOP}V${HEIGHT - BOTTOM}`} />
          <text className="small" x={x(now) - 6} y={TOP + 12} textAnchor="end">
            {t("now")}
          </text>
        </g>
      )}
      <text className="small" x={LEFT} y={HEIGHT - 6}>
        {yLabel}
      </text>
      <text className="small" x={WIDTH - RIGHT} y={HEIGHT - 6} textAnchor="end">
        {xLabel}
      </text>
    </Drawing>
  );
}
