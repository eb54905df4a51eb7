import type { Schemas } from "../api/client";
import { useUnits } from "../ui/units";
import { Drawing, roundStep } from "./Drawing";

const WIDTH = 1000;
const ROW = 46;
const LEFT = 330;
const RIGHT = 40;
const TOP = 14;

/** Every method on one axis, each with its ±, and the inverse-variance mean as a band across them. */
export function MethodsPlot({ result }: { result: Schemas["Comparison"] }) {
  const { show } = useUnits();
  const ends = [
    ...result.lines.flatMap((line) => [
      line.circumference_mm - line.expanded_mm,
      line.circumference_mm + line.expanded_mm,
    ]),
    result.combined_mm - result.combined_expanded_mm,
    result.combined_mm + result.combined_expanded_mm,
  ];
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const span = Math.max(high - low, 1);
  const [from, to] = [low - 0.06 * span, high + 0.06 * span];
  const at = (mm: number) => LEFT + ((mm - from) / (to - from)) * (WIDTH - LEFT - RIGHT);
  const step = roundStep(to - from, 6);
  const first = Math.ceil(from / step) * step;
  const ticks = Array.from({ length: Math.floor((to - first) / step) + 1 }, (_, place) => first + place * step);
  const bottom = TOP + result.lines.length * ROW;
  const said = result.lines
    .map((line) => `${line.label} ${show(line.circumference_mm, "mm", line.u_pct).join(" ")}`)
    .join("; ");
  return (
    <Drawing
      width={WIDTH}
      height={bottom + 44}
      describe={`All methods on one axis, each with plus or minus two standard uncertainties: ${said}.`}
    >
      <rect
        className="unsure"
        x={at(result.combined_mm - result.combined_expanded_mm)}
        width={Math.max(
          at(result.combined_mm + result.combined_expanded_mm) - at(result.combined_mm - result.combined_expanded_mm),
          2,
        )}
        y={TOP - 8}
        height={bottom - TOP + 8}
      />
      {result.lines.map((line, place) => {
        const y = TOP + place * ROW + ROW / 2 - 4;
        const [a, b] = [at(line.circumference_mm - line.expanded_mm), at(line.circumference_mm + line.expanded_mm)];
        return (
          <g key={line.method}>
            <text x="0" y={y + 6} style={{ fontWeight: line.in_use ? 700 : 400, fontSize: "19px" }}>
              {line.in_use ? "▸ " : "  "}
              {line.label}
            </text>
            <path className={line.in_use ? "act" : "ink"} d={`M${a} ${y}H${b}M${a} ${y - 8}v16M${b} ${y - 8}v16`} />
            {line.in_use ? (
              <circle className="actfill" cx={at(line.circumference_mm)} cy={y} r="8" />
            ) : (
              <circle className="solid" cx={at(line.circumference_mm)} cy={y} r="6" />
            )}
          </g>
        );
      })}
      <path className="thin" d={`M${LEFT} ${bottom}H${WIDTH - RIGHT}`} />
      {ticks.map((mm) => (
        <g key={mm}>
          <path className="thin" d={`M${at(mm)} ${bottom}v8`} />
          <text className="small" x={at(mm)} y={bottom + 28} textAnchor="middle" style={{ fontSize: "17px" }}>
            {show(mm, "mm", 0.01)[0].replace(/\.0+$/, "")}
          </text>
        </g>
      ))}
      <text className="small" x="0" y={bottom + 28} style={{ fontSize: "17px" }}>
        {show(result.combined_mm, "mm")[1]} a turn, ± covers 95 %
      </text>
    </Drawing>
  );
}
