import { scaleLinear } from "d3-scale";
import { figure, fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const WIDTH = 640;
const HEIGHT = 280;
const LEFT = 56;
const RIGHT = 24;
const TOP = 12;
const BOTTOM = 44;

/** Seconds spent at each value of a channel. */
export function HistogramView({
  edges,
  seconds,
  name,
  unit,
}: {
  edges: readonly number[];
  seconds: readonly number[];
  name: string;
  unit: string;
}) {
  const [first, last] = [edges[0] ?? 0, edges.at(-1) ?? 1];
  const most = Math.max(...seconds, 0.001);
  const x = scaleLinear([first, last], [LEFT, WIDTH - RIGHT]);
  const y = scaleLinear([0, most], [HEIGHT - BOTTOM, TOP]);
  const top = seconds.indexOf(most);
  const longest = `${figure(edges[top] ?? first, 0.5)} – ${figure(edges[top + 1] ?? last, 0.5)} ${unit}`;
  return (
    <Drawing
      width={WIDTH}
      height={HEIGHT}
      max="100%"
      describe={t("How long {0} was at each value; longest at {1}: {2} s.", name, longest, fixed(most, 1))}
    >
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <path className="thin" d={`M${LEFT} ${y(tick)}H${WIDTH - RIGHT}`} style={{ opacity: 0.35 }} />
          <text className="small" x={LEFT - 6} y={y(tick) + 5} textAnchor="end">
            {fixed(tick, most < 4 ? 1 : 0)}
          </text>
        </g>
      ))}
      {x.ticks(8).map((tick) => (
        <text key={tick} className="small" x={x(tick)} y={HEIGHT - BOTTOM + 16} textAnchor="middle">
          {Number(tick.toFixed(3))}
        </text>
      ))}
      {seconds.map((value, at) => (
        <rect
          key={edges[at]}
          className="actfill"
          x={x(edges[at] ?? 0) + 0.5}
          width={Math.max(x(edges[at + 1] ?? 0) - x(edges[at] ?? 0) - 1, 1)}
          y={y(value)}
          height={HEIGHT - BOTTOM - y(value)}
        />
      ))}
      <text className="small" x={LEFT} y={HEIGHT - 6}>
        {t("seconds at each value")}
      </text>
      <text className="small" x={WIDTH - RIGHT} y={HEIGHT - 6} textAnchor="end">
        {name}
        {unit && `, ${unit}`}
      </text>
    </Drawing>
  );
}
