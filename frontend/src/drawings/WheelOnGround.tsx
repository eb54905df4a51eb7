import { useBreakpointValue } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { memo } from "react";
import type { Evaluation } from "../api/client";
import { useUnits } from "../ui/units";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const HEIGHT = 288;
const GROUND = 238;

/** The wheel to scale on its ground, and one turn of it laid out as a measured road. */
export const WheelOnGround = memo(function WheelOnGround({
  stage,
  onWater,
}: {
  stage: Evaluation["stages"][number];
  onWater: boolean;
}) {
  const circumference = stage.figures[0]?.value ?? 0;
  const diameter = circumference / Math.PI;
  const relative = stage.relative_standard_uncertainty_pct;
  const wide = useBreakpointValue({ base: false, md: true }) ?? true;
  const width = wide ? 1000 : 560;
  const scale = (width - 170) / (circumference + diameter);
  const radius = (diameter / 2) * scale;
  const start = 90 + radius;
  const end = start + circumference * scale;
  const unsure = 2 * (relative / 100) * circumference * scale;
  const along = scaleLinear([0, circumference], [start, end]);
  const { show } = useUnits();
  const [run, unit] = show(circumference, "mm", relative);
  const [across] = show(diameter, "mm", relative);
  const [spread] = show(((2 * relative) / 100) * circumference, "mm", 10);
  return (
    <Drawing
      width={width}
      height={HEIGHT}
      caption={t("one turn = {0} {1} ± {2} {3}", run, unit, spread, unit)}
      describe={t(
        "To scale: {0}, {1} {2} across as it rolls, and one turn laid out: {3} {4}, plus or minus {5} {6}.",
        onWater ? t("the paddle") : t("the wheel"),
        across,
        unit,
        run,
        unit,
        spread,
        unit,
      )}
    >
      <rect className="road" x="0" y={GROUND} width={width} height="46" />
      {onWater && <path className="thin" d={wave()} />}
      <circle className="ghost" cx={end} cy={GROUND - radius} r={radius} />
      {onWater ? <Paddle x={start} radius={radius} /> : <Wheel x={start} radius={radius} />}
      <line className="act" x1={start} x2={end} y1={GROUND + 1} y2={GROUND + 1} />
      <rect className="unsure" x={end - unsure} y={GROUND - 26} width={Math.max(2 * unsure, 1)} height="26" />
      {along.ticks(10).map((at) => (
        <line key={at} className="chalk" x1={along(at)} x2={along(at)} y1={GROUND + 4} y2={GROUND + 14} />
      ))}
      {along.ticks(wide ? 5 : 3).map((at) => (
        <text key={at} className="onroad" x={along(at)} y={GROUND + 36} textAnchor="middle">
          {show(at, "mm")[0]}
        </text>
      ))}
      <path className="act" d={`M${start} ${GROUND - 14}v14M${end} ${GROUND - 14}v14`} />
      <g>
        <path
          className="thin"
          d={`M38 ${GROUND - 2 * radius}h24M38 ${GROUND}h24M50 ${GROUND - 2 * radius}V${GROUND}`}
        />
        <text
          className="small"
          x="32"
          y={GROUND - radius}
          textAnchor="middle"
          transform={`rotate(-90 32 ${GROUND - radius})`}
        >
          ⌀ {across} {unit}
        </text>
      </g>
    </Drawing>
  );
});

function Wheel({ x, radius }: { x: number; radius: number }) {
  const y = GROUND - radius;
  const spokes = Array.from({ length: 10 }, (_, place) => (place * Math.PI) / 5 + Math.PI / 10);
  return (
    <g>
      <circle className="soft" cx={x} cy={y} r={radius} />
      <circle
        cx={x}
        cy={y}
        r={radius * 0.74}
        fill="var(--chakra-colors-bg-panel)"
        className="ink"
        style={{ fill: "var(--chakra-colors-bg-panel)" }}
      />
      {spokes.map((angle) => (
        <line
          key={angle}
          className="thin"
          x1={x + Math.cos(angle) * radius * 0.12}
          y1={y + Math.sin(angle) * radius * 0.12}
          x2={x + Math.cos(angle) * radius * 0.74}
          y2={y + Math.sin(angle) * radius * 0.74}
        />
      ))}
      <circle className="solid" cx={x} cy={y} r={radius * 0.12} />
      <line className="act" x1={x} x2={x} y1={GROUND - radius * 0.26} y2={GROUND} />
    </g>
  );
}

function Paddle({ x, radius }: { x: number; radius: number }) {
  const y = GROUND - radius;
  return (
    <g>
      <circle className="soft" cx={x} cy={y} r={radius} opacity="0.5" />
      {[45, 135, 225, 315].map((angle) => (
        <rect
          key={angle}
          className="soft"
          x={x + radius * 0.2}
          y={y - radius * 0.16}
          width={radius * 0.76}
          height={radius * 0.32}
          rx="4"
          transform={`rotate(${angle} ${x} ${y})`}
        />
      ))}
      <circle className="solid" cx={x} cy={y} r={radius * 0.2} />
      <line className="act" x1={x} x2={x} y1={GROUND - radius * 0.26} y2={GROUND} />
    </g>
  );
}

function wave() {
  const humps = Array.from({ length: 25 }, () => "q10 -8 20 0t20 0").join("");
  return `M0 ${GROUND}${humps}`;
}
