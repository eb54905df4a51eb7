import { useBreakpointValue } from "@chakra-ui/react";
import { type ScaleLogarithmic, scaleLog } from "d3-scale";
import { memo } from "react";
import type { Schemas } from "../api/client";
import { digits } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const ROW = 40;
const TOP = 26;
const GAP = 24;

type Axis = ScaleLogarithmic<number, number>;
const axisOf = (values: number[], from: number, width: number): Axis =>
  scaleLog([Math.min(...values), Math.max(...values)], [from, from + width])
    .nice()
    .clamp(true);
/** Whole powers of ten. */
const decades = (axis: Axis) => axis.ticks().filter((value) => Number.isInteger(Number(Math.log10(value).toFixed(9))));
const [start, end] = [0, 1] as const;
const named = (value: number, units: [string, string]) =>
  value >= 1000 ? `${value / 1000} ${units[1]}` : `${Number(value.toPrecision(1))} ${units[0]}`;
const pulseNamed = (ms: number) => (ms >= 1 ? named(ms, ["ms", "s"]) : named(1000 * ms, ["µs", "ms"]));

/**
 * Every stage from the lowest to the top speed: its frequencies on the left, its pulses on the right, both by powers
 * of ten. A line across the row is the limit, hatched beyond it.
 */
export const RatesView = memo(function RatesView({ rates }: { rates: Schemas["StageRate"][] }) {
  const width = useBreakpointValue({ base: 380, md: 800 }) ?? 800;
  const names = width > 500 ? 140 : 0;
  const half = (width - names - GAP - 16) / 2;
  const hz = axisOf(
    rates.flatMap((item) => [item.lowest_hz, item.top_hz, ...(item.max_frequency_hz ? [item.max_frequency_hz] : [])]),
    names + 6,
    half,
  );
  const ms = axisOf(
    rates.flatMap((item) => [item.shortest_ms, item.longest_ms, ...(item.least_ms ? [item.least_ms] : [])]),
    names + 6 + half + GAP,
    half,
  );
  const row = names ? ROW : ROW + 16;
  const height = TOP + rates.length * row + 26;
  const text = rates
    .map((item) => t("{0} {1} to {2} hertz", item.label, digits(item.lowest_hz, 3), digits(item.top_hz, 3)))
    .join("; ");
  return (
    <Drawing width={width} height={height} describe={t("Frequency and pulse of every stage. {0}.", text)}>
      <text className="small" x={hz.range()[start]} y={14}>
        {t("frequency")}
      </text>
      <text className="small" x={ms.range()[start]} y={14}>
        {t("pulse")}
      </text>
      {[hz, ms].map((axis) =>
        decades(axis).map((value, step, all) => (
          <g key={value}>
            <path className="thin" d={`M${axis(value)} ${TOP - 4}V${height - 22}`} style={{ opacity: 0.3 }} />
            {(names > 0 || step === 0 || step === all.length - 1) && (
              <text
                className="tiny"
                x={axis(value)}
                y={height - 6}
                textAnchor={step === 0 ? "start" : step === all.length - 1 ? "end" : "middle"}
              >
                {axis === hz ? named(value, ["Hz", "kHz"]) : pulseNamed(value)}
              </text>
            )}
          </g>
        )),
      )}
      {rates.map((item, at) => {
        const y = TOP + at * row + (names ? 8 : 22);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: names may be the same, places are not
          <g key={at}>
            <text className="small" x={names ? 2 : hz.range()[start]} y={names ? y + 15 : y - 5}>
              {item.label.length > 17 ? `${item.label.slice(0, 16)}…` : item.label}
            </text>
            <Bar axis={hz} from={item.lowest_hz} to={item.top_hz} y={y} good={item.kept_up} />
            {item.max_frequency_hz !== null && (
              <Limit axis={hz} at={item.max_frequency_hz} y={y} beyond={hz.range()[end] ?? 0} />
            )}
            <Bar axis={ms} from={item.shortest_ms} to={item.longest_ms} y={y} good={item.pulse_seen} />
            {item.least_ms !== null && <Limit axis={ms} at={item.least_ms} y={y} beyond={ms.range()[start] ?? 0} />}
          </g>
        );
      })}
    </Drawing>
  );
});

function Bar({ axis, from, to, y, good }: { axis: Axis; from: number; to: number; y: number; good: boolean }) {
  const x = axis(from);
  return (
    <rect className={good ? "actfill" : "bad"} x={x} y={y + 3} width={Math.max(axis(to) - x, 3)} height={14} rx={3} />
  );
}

function Limit({ axis, at, y, beyond }: { axis: Axis; at: number; y: number; beyond: number }) {
  const x = axis(at);
  return (
    <g>
      <path className="ink" d={`M${x} ${y - 3}v26`} />
      <path className="ghost" d={`M${x} ${y + 10}H${beyond}`} />
    </g>
  );
}
