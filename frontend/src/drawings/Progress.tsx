import { fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const [WIDTH, HEIGHT, LEFT, TOP, BOTTOM] = [560, 130, 44, 10, 24];
const MOST = 30;

/** Points of the cases that were ended, the oldest first, and their mean. */
export function Progress({ points, mean }: { points: number[]; mean: number }) {
  const shown = points.slice(-MOST);
  const room = (WIDTH - LEFT) / Math.max(shown.length, 8);
  const y = (value: number) => TOP + (HEIGHT - TOP - BOTTOM) * (1 - value / 100);
  return (
    <Drawing
      width={WIDTH}
      height={HEIGHT}
      max="130px"
      describe={t("Points of the last {0} cases: {1}.", shown.length, shown.join(", "))}
    >
      {[0, 50, 100].map((value) => (
        <g key={value}>
          <path className="thin" d={`M${LEFT} ${y(value)}H${WIDTH}`} style={{ opacity: 0.35 }} />
          <text className="small" x={LEFT - 6} y={y(value) + 5} textAnchor="end">
            {value}
          </text>
        </g>
      ))}
      {shown.map((value, place) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: the same points can come again
          key={place}
          className="solid"
          x={LEFT + room * (place + 0.15)}
          width={room * 0.7}
          y={Math.min(y(value), y(0) - 2)}
          height={Math.max(y(0) - y(value), 2)}
        />
      ))}
      <path className="ghost" d={`M${LEFT} ${y(mean)}H${WIDTH}`} />
      <text className="small" x={LEFT} y={HEIGHT - 4}>
        {t("points, oldest first; dashed: mean {0}", fixed(mean, 0))}
      </text>
    </Drawing>
  );
}
