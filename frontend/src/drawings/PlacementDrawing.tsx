import { Grid } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { fixed } from "../ui/format";
import { useUnits } from "../ui/units";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";
import { FaceView, Passing } from "./PlacementFace";
import { SideView } from "./PlacementSide";
import { type Field, HEIGHT, type Placed, type PlacementParts, WIDTH } from "./placementParts";

/**
 * The sensor before its target, to scale: from the sensor's side, and across the row.
 * Everything that can be set can be dragged, or nudged by the arrow keys.
 */
export function PlacementDrawing({
  parts,
  placed,
  change,
  done,
  mark,
  passing,
}: {
  parts: PlacementParts;
  placed: Placed;
  change: (field: Field, value: number) => void;
  done: () => void;
  /** When the sensing element is being marked: where on the tip, from its middle. */
  mark?: (along: number, across: number) => void;
  passing: boolean;
}) {
  const { detail } = parts;
  const { show } = useUnits();
  const scale = scaleOf(parts, placed);
  const text = t("To scale. The signal is {0} times what the sensor needs.", fixed(detail.strength, 2));
  return (
    <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={2}>
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={t(
          "Seen from the sensor: {0} to the side, clocking angle {1}°. {2}",
          show(placed.lateral_offset_mm, "mm", 2).join(" "),
          placed.clocking_angle_deg,
          text,
        )}
        handled
      >
        <Passing parts={parts} scale={scale} passing={passing} />
        <FaceView
          parts={parts}
          lateral_offset_mm={placed.lateral_offset_mm}
          clocking_angle_deg={placed.clocking_angle_deg}
          scale={scale}
          change={change}
          done={done}
          mark={mark}
        />
        <Ruler scale={scale} />
        <text className="small" x={WIDTH - 6} y={HEIGHT - 4} textAnchor="end">
          {t("from the sensor")}
        </text>
      </Drawing>
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={t(
          "Across the direction of travel: gap {0}, tilt {1}°. {2}",
          show(placed.air_gap_mm, "mm", 2).join(" "),
          placed.tilt_deg,
          text,
        )}
        handled
      >
        <SideView parts={parts} placed={placed} scale={scale} change={change} done={done} />
        <text className="small" x={8} y={HEIGHT - 4}>
          {t("across the direction of travel")}
        </text>
      </Drawing>
    </Grid>
  );
}

/** Pixels for a millimetre: all of the sensor and of the face it looks at are seen. */
function scaleOf({ facts, paired, reed, row, magnet }: PlacementParts, placed: Placed): number {
  const long = reed
    ? facts.element_length_mm + 6
    : Math.max(facts.element_length_mm, paired ? (facts.element_spacing_mm ?? 0) : 0);
  const body = Math.max(facts.body_diameter_mm, long);
  const seen = Math.max(
    body * 1.2,
    row ? Math.min(row.face * 1.3, facts.body_diameter_mm * 2.5) : 0,
    magnet ? magnet.across * 1.6 : 0,
    2 * Math.abs(placed.lateral_offset_mm) + body,
  );
  return (HEIGHT - 40) / seen;
}

function Ruler({ scale }: { scale: number }) {
  const [unit, mm] = useUnits().own("mm");
  const shown = scaleLinear([0, HEIGHT / scale / mm], [0, HEIGHT]).ticks(4)[1] ?? 1;
  const length = shown * mm;
  return (
    <g>
      <path className="ink" d={`M8 ${HEIGHT - 6}v-6m0 3h${length * scale}m0 -3v6`} />
      <text className="small" x={14 + length * scale} y={HEIGHT - 4}>
        {shown} {unit}
      </text>
    </g>
  );
}
