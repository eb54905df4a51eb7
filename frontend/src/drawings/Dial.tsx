import { scaleLinear } from "d3-scale";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const SIZE = 190;
const MIDDLE = { x: SIZE / 2, y: SIZE / 2 + 4 };
const RADIUS = 82;
const FROM = -220;
const TO = 40;

/** A gauge: its needle, and the number it would show. */
export function Dial({
  needle,
  shown,
  end,
  unit,
  name,
}: {
  needle: number;
  shown: string;
  end: number;
  unit: string;
  name: string;
}) {
  const scale = scaleLinear([0, end], [FROM, TO]).clamp(true);
  const angle = (value: number) => (scale(value) * Math.PI) / 180;
  const point = (value: number, radius: number) => {
    const way = angle(value);
    return `${(MIDDLE.x + radius * Math.cos(way)).toFixed(1)} ${(MIDDLE.y + radius * Math.sin(way)).toFixed(1)}`;
  };
  return (
    <Drawing width={SIZE} height={SIZE - 14} describe={t("{0} shows {1} {2}.", name, shown, unit)} max="150px">
      <path className="ink" d={`M${point(0, RADIUS)}A${RADIUS} ${RADIUS} 0 1 1 ${point(end, RADIUS)}`} />
      {scale.ticks(6).map((value) => (
        <g key={value}>
          <path className="ink" d={`M${point(value, RADIUS)}L${point(value, RADIUS - 9)}`} />
          <text
            className="tiny"
            textAnchor="middle"
            x={MIDDLE.x + (RADIUS - 21) * Math.cos(angle(value))}
            y={MIDDLE.y + 4 + (RADIUS - 21) * Math.sin(angle(value))}
          >
            {Number(value.toFixed(1))}
          </text>
        </g>
      ))}
      <path className="act" d={`M${MIDDLE.x} ${MIDDLE.y}L${point(needle, RADIUS - 12)}`} />
      <circle className="solid" cx={MIDDLE.x} cy={MIDDLE.y} r={6} />
      <text className="mid" x={MIDDLE.x} y={MIDDLE.y + 50} textAnchor="middle">
        {shown}
      </text>
      <text className="small" x={MIDDLE.x} y={MIDDLE.y + 68} textAnchor="middle">
        {unit}
      </text>
    </Drawing>
  );
}
