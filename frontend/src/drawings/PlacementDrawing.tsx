import { Grid } from "@chakra-ui/react";
import { Drawing, roundStep } from "./Drawing";
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
  const scale = scaleOf(parts, placed);
  const text = `To scale. The signal is ${detail.strength.toFixed(2)} times what the sensor needs.`;
  const view = { parts, placed, scale, change, done };
  return (
    <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={2}>
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={`Seen from the sensor: ${placed.lateral_offset_mm} mm to the side, clocking angle ${placed.clocking_angle_deg}°. ${text}`}
        handled
      >
        <Passing parts={parts} scale={scale} passing={passing} />
        <FaceView {...view} mark={mark} />
        <Ruler scale={scale} />
        <text className="small" x={WIDTH - 6} y={HEIGHT - 4} textAnchor="end">
          from the sensor
        </text>
      </Drawing>
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={`Across the direction of travel: gap ${placed.air_gap_mm} mm, tilt ${placed.tilt_deg}°. ${text}`}
        handled
      >
        <SideView {...view} />
        <text className="small" x={8} y={HEIGHT - 4}>
          across the direction of travel
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
  const length = roundStep(HEIGHT / scale, 5);
  return (
    <g>
      <path className="ink" d={`M8 ${HEIGHT - 6}v-6m0 3h${length * scale}m0 -3v6`} />
      <text className="small" x={14 + length * scale} y={HEIGHT - 4}>
        {length} mm
      </text>
    </g>
  );
}
