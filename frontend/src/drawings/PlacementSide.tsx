import { useUnits } from "../ui/units";
import { t } from "../ui/words";
import { Handle } from "./Handle";
import { HEIGHT, type ViewProps, WIDTH } from "./placementParts";

const SIDE = { x: WIDTH / 2, y: 196 };

/** Looking along the travel: the target's section below, the tip above it with its gap and lean. */
export function SideView({ parts, placed, scale, change, done }: ViewProps) {
  const { facts, detail, row, magnet } = parts;
  const { show } = useUnits();
  const top = SIDE.y;
  const face = (row?.face ?? magnet?.across ?? 4) * scale;
  const deep = Math.min((row?.depth ?? magnet?.length ?? 3) * scale, 60);
  const across = Math.abs(Math.sin((placed.clocking_angle_deg * Math.PI) / 180));
  const body =
    (parts.reed
      ? facts.body_diameter_mm + (facts.element_length_mm + 6 - facts.body_diameter_mm) * across
      : facts.body_diameter_mm) * scale;
  const x = SIDE.x + placed.lateral_offset_mm * scale;
  const gap = placed.air_gap_mm * scale;
  const tip = top - gap;
  const lean = placed.tilt_deg;
  const pivot = lean >= 0 ? x + body / 2 : x - body / 2;
  const moves = (detail.moves_mm + (placed.runout_mm - parts.runout_mm) / 2) * scale;
  const low = top - detail.lowest_gap_mm * scale;
  const high = top - Math.min(Math.max(detail.highest_gap_mm, 0) * scale, 190);
  const height = 112;
  const element = Math.max(
    (parts.paired ? (facts.element_spacing_mm ?? 2) : facts.element_length_mm) *
      scale *
      Math.abs(Math.sin((placed.clocking_angle_deg * Math.PI) / 180)),
    4,
  );
  return (
    <g>
      {detail.possible && detail.highest_gap_mm > detail.lowest_gap_mm && (
        <g>
          <rect className="good" x={SIDE.x - 150} y={high} width={300} height={low - high} />
          <path className="thin" d={`M${SIDE.x - 150} ${high}h300M${SIDE.x - 150} ${low}h300`} />
        </g>
      )}
      <rect className="soft" x={SIDE.x - face / 2} y={top} width={face} height={deep} />
      <rect
        className="soft"
        x={SIDE.x - face / 2}
        y={top + deep}
        width={face}
        height={HEIGHT - top - deep}
        style={{ opacity: 0.5 }}
      />
      <Handle
        label={t("Runout of the target")}
        text={t("{0} millimetres in all", placed.runout_mm)}
        value={placed.runout_mm}
        low={0}
        high={5}
        step={0.05}
        keys="upright"
        read={(_, now, start) => start.value - (2 * (now - start.y)) / scale}
        change={(value) => change("runout_mm", value)}
        done={done}
      >
        <path
          className="ghost"
          d={`M${SIDE.x - face / 2 - 12} ${top - moves}h${face + 24}M${SIDE.x - face / 2 - 12} ${top + moves}h${face + 24}`}
        />
        <circle className="hit" cx={SIDE.x - face / 2 - 24} cy={top - moves + 14} r={22} />
        <circle className="grip" cx={SIDE.x - face / 2 - 24} cy={top - moves + 14} r={7} />
        <text className="small" x={SIDE.x - face / 2 - 36} y={top - moves + 19} textAnchor="end">
          {t("runout")}
        </text>
      </Handle>
      <Handle
        label={t("Air gap")}
        text={t("{0} millimetres", placed.air_gap_mm)}
        value={placed.air_gap_mm}
        low={0}
        high={40}
        step={0.05}
        keys="upright"
        read={(_, now, start) => start.value - (now - start.y) / scale}
        change={(value) => change("air_gap_mm", value)}
        done={done}
      >
        <g transform={`rotate(${lean} ${pivot} ${tip})`}>
          <rect
            className="panel"
            x={x - body / 2}
            y={tip - height}
            width={body}
            height={height}
            style={{ fillOpacity: 0.75 }}
          />
          <rect
            className="actfill"
            x={x + parts.spot.across_mm * scale - element / 2}
            y={tip - Math.max(facts.depth_mm * scale, 3) - 4}
            width={element}
            height={4}
          />
        </g>
        <circle className="hit" cx={x} cy={tip - 34} r={22} />
        <circle className="grip" cx={x} cy={tip - 34} r={10} />
        <text className="small" x={x + 14} y={tip - 42}>
          {t("gap")}
        </text>
      </Handle>
      <Handle
        label={t("Tilt of the sensor")}
        text={t("{0} degrees", lean)}
        value={lean}
        low={-30}
        high={30}
        step={0.5}
        keys="level"
        read={(px, _, start) => start.value + (px - start.x) / 4}
        change={(value) => change("tilt_deg", Math.round(value * 2) / 2)}
        done={done}
      >
        <g transform={`rotate(${lean} ${pivot} ${tip})`}>
          <circle className="hit" cx={x} cy={tip - height + 18} r={22} />
          <circle className="grip" cx={x} cy={tip - height + 18} r={8} />
          <text className="small" x={x + 14} y={tip - height + 23}>
            {t("tilt")}
          </text>
        </g>
      </Handle>
      <path className="act" d={`M${SIDE.x + 128} ${top}v${-gap}m-5 0h10m-5 ${gap}m-5 0h10`} />
      <text x={SIDE.x + 150} y={top + 24} textAnchor="end">
        {show(placed.air_gap_mm, "mm", 2).join(" ")}
      </text>
    </g>
  );
}
