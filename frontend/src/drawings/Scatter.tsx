import { scaleLinear } from "d3-scale";
import { digits, fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const SIZE = 420;
const HEIGHT = 300;
const LEFT = 52;
const RIGHT = 14;
const TOP = 12;
const BOTTOM = 44;

/** Shown against true speed: each pair a dot, the fitted line, and where shown and true are the same. */
export function Scatter({
  points,
  ratio,
  offset,
  unit,
}: {
  points: { true_speed: number; shown: number }[];
  ratio: number;
  offset: number;
  unit: string;
}) {
  const most = Math.max(...points.map((pair) => Math.max(pair.true_speed, pair.shown)), 1) * 1.05;
  const x = scaleLinear([0, most], [LEFT, SIZE - RIGHT]);
  const y = scaleLinear([0, most], [HEIGHT - BOTTOM, TOP]);
  const end = Math.min(most, ratio > 0 ? (most - offset) / ratio : most);
  return (
    <Drawing
      width={SIZE}
      height={HEIGHT}
      describe={t(
        "Shown against true speed, {0} pairs: shown = {1} × true {2} {3}.",
        points.length,
        digits(ratio, 4),
        fixed(offset, 1),
        unit,
      )}
    >
      {y.ticks(5).map((tick) => (
        <g key={tick}>
          <path className="thin" d={`M${LEFT} ${y(tick)}H${SIZE - RIGHT}`} style={{ opacity: 0.35 }} />
          <text className="small" x={LEFT - 6} y={y(tick) + 5} textAnchor="end">
            {fixed(tick, 0)}
          </text>
        </g>
      ))}
      {x.ticks(5).map((tick) => (
        <text key={tick} className="small" x={x(tick)} y={HEIGHT - BOTTOM + 16} textAnchor="middle">
          {fixed(tick, 0)}
        </text>
      ))}
      <path className="thin" d={`M${x(0)} ${y(0)}L${x(most)} ${y(most)}`} strokeDasharray="4 4" />
      <path className="ink" d={`M${x(0)} ${y(Math.max(offset, 0))}L${x(end)} ${y(offset + ratio * end)}`} />
      {points.map((pair, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a pair is its place
        <circle key={at} className="actfill" cx={x(pair.true_speed)} cy={y(pair.shown)} r={4} />
      ))}
      <text className="small" x={LEFT} y={HEIGHT - 4}>
        {t("shown {0}; - - no error", unit)}
      </text>
      <text className="small" x={SIZE - RIGHT} y={HEIGHT - 4} textAnchor="end">
        {t("true {0}", unit)}
      </text>
    </Drawing>
  );
}
