import { scaleLinear } from "d3-scale";
import { fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const WIDTH = 420;
const HEIGHT = 190;
const LEFT = 52;
const TOP = 12;
const BOTTOM = 40;

/** How far each reading lies off the fitted line: a dot on a stalk from zero. */
export function Residuals({
  points,
  unit,
}: {
  /** True speed and how far the reading is off the line, both in the person's unit. */
  points: { speed: number; off: number }[];
  unit: string;
}) {
  const most = Math.max(...points.map((item) => Math.abs(item.off)), 0.5) * 1.2;
  const far = Math.max(...points.map((item) => item.speed), 1) * 1.05;
  const x = scaleLinear([0, far], [LEFT, WIDTH - 10]);
  const y = scaleLinear([-most, most], [HEIGHT - BOTTOM, TOP]);
  const text = points.map((item) => `${fixed(item.speed, 0)}: ${fixed(item.off, 1)}`).join(", ");
  return (
    <Drawing width={WIDTH} height={HEIGHT} describe={t("Readings off the fitted line, in {0}: {1}.", unit, text)}>
      {y.ticks(4).map((off) => (
        <g key={off}>
          <path
            className={off === 0 ? "ink" : "thin"}
            d={`M${LEFT} ${y(off)}H${WIDTH - 10}`}
            style={{ opacity: off === 0 ? 1 : 0.35 }}
          />
          <text className="small" x={LEFT - 6} y={y(off) + 5} textAnchor="end">
            {Number(off.toFixed(2))}
          </text>
        </g>
      ))}
      {x.ticks(6).map((speed) => (
        <text key={speed} className="small" x={x(speed)} y={HEIGHT - 18} textAnchor="middle">
          {Number(speed.toFixed(1))}
        </text>
      ))}
      <text className="small" x={WIDTH - 10} y={HEIGHT - 3} textAnchor="end">
        {t("true {0}", unit)}
      </text>
      {points.map((item) => (
        <g key={item.speed}>
          <path className="thin" d={`M${x(item.speed)} ${y(0)}V${y(item.off)}`} />
          <circle className="actfill" cx={x(item.speed)} cy={y(item.off)} r={6} />
        </g>
      ))}
    </Drawing>
  );
}
