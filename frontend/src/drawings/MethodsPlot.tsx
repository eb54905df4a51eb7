import { useBreakpointValue } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { memo } from "react";
import type { Schemas } from "../api/client";
import { useUnits } from "../ui/units";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const TOP = 14;

/** Every method on one axis, each with its ±, and the inverse-variance mean as a band across them. */
export const MethodsPlot = memo(function MethodsPlot({ result }: { result: Schemas["Comparison"] }) {
  const { show } = useUnits();
  const wide = useBreakpointValue({ base: false, md: true }) ?? true;
  const [width, left, row, right] = wide ? [1000, 330, 46, 40] : [400, 14, 58, 20];
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
  const at = scaleLinear([from, to], [left, width - right]);
  const bottom = TOP + result.lines.length * row;
  const said = result.lines
    .map((line) => `${line.label} ${show(line.circumference_mm, "mm", line.u_pct).join(" ")}`)
    .join("; ");
  return (
    <Drawing
      width={width}
      height={bottom + 44}
      caption={t("{0} per turn, ± covers 95 %", show(result.combined_mm, "mm")[1])}
      describe={t("All methods on one axis, each with plus or minus two standard uncertainties: {0}.", said)}
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
        const y = TOP + place * row + (wide ? row / 2 - 4 : 36);
        const [a, b] = [at(line.circumference_mm - line.expanded_mm), at(line.circumference_mm + line.expanded_mm)];
        return (
          <g key={line.method}>
            <text x="0" y={wide ? y + 6 : y - 18} style={{ fontWeight: line.in_use ? 700 : 400 }}>
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
      <path className="thin" d={`M${left} ${bottom}H${width - right}`} />
      {at.ticks(wide ? 6 : 3).map((mm) => (
        <g key={mm}>
          <path className="thin" d={`M${at(mm)} ${bottom}v8`} />
          <text className="small" x={at(mm)} y={bottom + 28} textAnchor="middle">
            {show(mm, "mm", 0.01)[0].replace(/\.0+$/, "")}
          </text>
        </g>
      ))}
    </Drawing>
  );
});
