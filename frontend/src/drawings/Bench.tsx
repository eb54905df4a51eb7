import { Grid } from "@chakra-ui/react";
import type { Schemas } from "../api/client";
import { Drawing, tick } from "./Drawing";
import { Handle } from "./Handle";

const WIDTH = 330;
const HEIGHT = 280;
const FACE = { x: WIDTH / 2, y: 146 };
const SIDE = { x: WIDTH / 2, y: 196 };

export type Placed = {
  gap_mm: number;
  sideways_mm: number;
  clocking_deg: number;
  lean_deg: number;
  runout_mm: number;
};
type Field = keyof Placed;

export type BenchParts = {
  detail: Schemas["PlacementDetail"];
  facts: Schemas["Facts"];
  paired: boolean;
  reed: boolean;
  spot: { along_mm: number; across_mm: number; feature: string };
  /** Teeth or poles: pitch, tooth, face and depth; a magnet: its size across and along. */
  row: { pitch: number; tooth: number; face: number; depth: number } | null;
  magnet: { across: number; along: number; length: number; round: boolean } | null;
  second: number | null;
  /** Runout the figures were worked out with. */
  runout_mm: number;
};

/**
 * The sensor before its target, to scale: from the sensor's side, and across the row.
 * Everything that can be set can be dragged, or nudged by the arrow keys.
 */
export function Bench({
  parts,
  placed,
  change,
  done,
  mark,
  passing,
}: {
  parts: BenchParts;
  placed: Placed;
  change: (field: Field, value: number) => void;
  done: () => void;
  /** When the sensing spot is being marked: where on the tip, from its middle. */
  mark?: (along: number, across: number) => void;
  passing: boolean;
}) {
  const { detail } = parts;
  const scale = scaleOf(parts, placed);
  const words = `To scale. The signal is ${detail.strength.toFixed(2)} times what the sensor needs.`;
  const view = { parts, placed, scale, change, done };
  return (
    <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={2}>
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={`Seen from the sensor: ${placed.sideways_mm} mm to the side, turned ${placed.clocking_deg}° from the row. ${words}`}
        handled
      >
        <Passing parts={parts} scale={scale} passing={passing} />
        <FaceView {...view} mark={mark} />
        <Ruler scale={scale} />
        <text className="small" x={WIDTH - 6} y={HEIGHT - 4} textAnchor="end">
          seen from the sensor
        </text>
      </Drawing>
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={`Across the row: gap ${placed.gap_mm} mm, leaning ${placed.lean_deg}°. ${words}`}
        handled
      >
        <SideView {...view} />
        <text className="small" x={8} y={18}>
          across the row
        </text>
      </Drawing>
    </Grid>
  );
}

/** Pixels for a millimetre: all of the sensor and of the face it looks at are seen. */
function scaleOf({ facts, paired, reed, row, magnet }: BenchParts, placed: Placed): number {
  const long = reed ? facts.strip_length_mm + 6 : Math.max(facts.strip_length_mm, paired ? (facts.pair_mm ?? 0) : 0);
  const body = Math.max(facts.body_mm, long);
  const seen = Math.max(
    body * 1.2,
    row ? Math.min(row.face * 1.3, facts.body_mm * 2.5) : 0,
    magnet ? magnet.across * 1.6 : 0,
    2 * Math.abs(placed.sideways_mm) + body,
  );
  return (HEIGHT - 40) / seen;
}

function Ruler({ scale }: { scale: number }) {
  const length = tick(HEIGHT / scale, 5);
  return (
    <g>
      <path className="ink" d={`M8 ${HEIGHT - 6}v-6m0 3h${length * scale}m0 -3v6`} />
      <text className="small" x={14 + length * scale} y={HEIGHT - 4}>
        {length} mm
      </text>
    </g>
  );
}

/** Teeth, poles or a magnet on the way past, seen from the sensor. */
function Passing({ parts, scale, passing }: { parts: BenchParts; scale: number; passing: boolean }) {
  const { row, magnet } = parts;
  const pitch = (row?.pitch ?? WIDTH / scale) * scale;
  const move = passing ? { animation: "pass 1.2s linear infinite", ["--pitch" as string]: `${pitch}px` } : undefined;
  if (magnet) {
    const [w, h] = [magnet.along * scale, magnet.across * scale];
    return (
      <g>
        <path className="ghost" d={`M${FACE.x - 170} ${FACE.y}H${FACE.x + 170}`} />
        <g style={move}>
          {[-1, 0].map((place) => {
            const x = FACE.x + place * pitch;
            return magnet.round ? (
              <circle key={place} className="soft" cx={x} cy={FACE.y} r={h / 2} />
            ) : (
              <rect key={place} className="soft" x={x - w / 2} y={FACE.y - h / 2} width={w} height={h} />
            );
          })}
        </g>
      </g>
    );
  }
  if (!row) return null;
  const many = Math.ceil(WIDTH / 2 / pitch) + 2;
  return (
    <g>
      <rect
        x={FACE.x - 170}
        y={FACE.y - (row.face * scale) / 2}
        width={340}
        height={row.face * scale}
        className="thin"
        style={{ opacity: 0.6 }}
      />
      <g style={move}>
        {Array.from({ length: 2 * many + 1 }, (_, place) => place - many).map((place) => (
          <rect
            key={place}
            className="soft"
            x={FACE.x + place * pitch - (row.tooth * scale) / 2}
            y={FACE.y - (row.face * scale) / 2}
            width={row.tooth * scale}
            height={row.face * scale}
          />
        ))}
      </g>
      <path className="ghost" d={`M${FACE.x - 170} ${FACE.y}H${FACE.x + 170}`} />
    </g>
  );
}

type ViewProps = {
  parts: BenchParts;
  placed: Placed;
  scale: number;
  change: (field: Field, value: number) => void;
  done: () => void;
};

function FaceView({
  parts,
  placed,
  scale,
  change,
  done,
  mark,
}: ViewProps & { mark?: (along: number, across: number) => void }) {
  const { facts, spot } = parts;
  // Across the row is up in the drawing.
  const x = FACE.x;
  const y = FACE.y - placed.sideways_mm * scale;
  const at = { x: x + spot.along_mm * scale, y: y - spot.across_mm * scale };
  const body = (facts.body_mm / 2) * scale;
  const target = FACE.y - parts.detail.target_sideways_mm * scale;
  const turn = -placed.clocking_deg;
  const reach = (parts.reed ? (facts.strip_length_mm / 2 + 3) * scale : body) + 14;
  const angle = (placed.clocking_deg * Math.PI) / 180;
  return (
    <g>
      <path className="act" d={`M${x - 150} ${target}h26m248 0h26`} />
      {parts.second !== null && (
        <g>
          <circle className="ghost" cx={x + parts.second * scale} cy={y} r={body} />
          <text className="small" x={x + parts.second * scale} y={y + 5} textAnchor="middle">
            2
          </text>
        </g>
      )}
      <Handle
        label="Sideways offset of the sensor"
        text={`${placed.sideways_mm} millimetres`}
        value={placed.sideways_mm}
        low={-60}
        high={60}
        step={0.1}
        keys="upright"
        read={(_, now, start) => start.value - (now - start.y) / scale}
        change={(value) => change("sideways_mm", value)}
        done={done}
        press={mark && ((px, py) => mark((px - x) / scale, (y - py) / scale))}
      >
        {parts.reed ? (
          <rect
            className="panel"
            x={at.x - (facts.strip_length_mm / 2 + 3) * scale}
            y={at.y - body}
            width={(facts.strip_length_mm + 6) * scale}
            height={2 * body}
            rx={body / 2}
            transform={`rotate(${turn} ${at.x} ${at.y})`}
            style={{ fillOpacity: 0.45 }}
          />
        ) : (
          <circle className="panel" cx={x} cy={y} r={body} style={{ fillOpacity: 0.45 }} />
        )}
        <path className="thin" d={`M${x - 6} ${y}h12M${x} ${y - 6}v12`} />
      </Handle>
      {spot.feature === "unknown" && facts.strip_offset_mm > 0 && (
        <circle className="ghost" cx={at.x} cy={at.y} r={facts.strip_offset_mm * scale} pointerEvents="none" />
      )}
      <SpotMark feature={spot.feature} at={at} size={Math.max(body / 3, 9)} />
      <g transform={`rotate(${turn} ${at.x} ${at.y})`} pointerEvents="none">
        {parts.paired ? (
          <Pair at={at} apart={(facts.pair_mm ?? facts.body_mm / 5) * scale} size={facts.strip_length_mm * scale} />
        ) : (
          <rect
            className="actfill"
            x={at.x - (facts.strip_length_mm / 2) * scale}
            y={at.y - Math.max((facts.strip_width_mm / 2) * scale, 1.5)}
            width={facts.strip_length_mm * scale}
            height={Math.max(facts.strip_width_mm * scale, 3)}
          />
        )}
      </g>
      <Handle
        label="Clocking: turn of the element from the row"
        text={`${placed.clocking_deg} degrees`}
        value={placed.clocking_deg}
        low={-180}
        high={180}
        step={1}
        keys="level"
        read={(px, py) => Math.round((Math.atan2(at.y - py, px - at.x) * 180) / Math.PI)}
        change={(value) => change("clocking_deg", Math.round(value))}
        done={done}
      >
        <path
          className="thin"
          d={`M${at.x} ${at.y}L${at.x + reach * Math.cos(angle)} ${at.y - reach * Math.sin(angle)}`}
        />
        <circle className="hit" cx={at.x + reach * Math.cos(angle)} cy={at.y - reach * Math.sin(angle)} r={22} />
        <circle className="grip" cx={at.x + reach * Math.cos(angle)} cy={at.y - reach * Math.sin(angle)} r={10} />
      </Handle>
    </g>
  );
}

/** The feature of the body that shows the sensing spot, around it. */
function SpotMark({ feature, at, size }: { feature: string; at: { x: number; y: number }; size: number }) {
  const { x, y } = at;
  if (feature === "round" || feature === "middle")
    return <circle className="thin" cx={x} cy={y} r={size} pointerEvents="none" />;
  const shapes: Record<string, string> = {
    rectangle: `M${x - size} ${y - size * 0.7}h${2 * size}v${1.4 * size}h${-2 * size}z`,
    arrow: `M${x} ${y - 5}l-6 -12h12zM${x} ${y - 17}v-10`,
    lower_edge: `M${x - size * 1.5} ${y + size}h${3 * size}`,
  };
  const shape = shapes[feature];
  return shape ? <path className="thin" d={shape} pointerEvents="none" /> : null;
}

function Pair({ at, apart, size }: { at: { x: number; y: number }; apart: number; size: number }) {
  const side = Math.max(size, 7);
  return (
    <g>
      <path className="act" d={`M${at.x - apart / 2} ${at.y}h${apart}`} />
      {[-1, 1].map((way) => (
        <rect
          key={way}
          className="actfill"
          x={at.x + (way * apart) / 2 - side / 2}
          y={at.y - side / 2}
          width={side}
          height={side}
        />
      ))}
    </g>
  );
}

/** Looking along the travel: the target's section below, the tip above it with its gap and lean. */
function SideView({ parts, placed, scale, change, done }: ViewProps) {
  const { facts, detail, row, magnet } = parts;
  const top = SIDE.y;
  const face = (row?.face ?? magnet?.across ?? 4) * scale;
  const deep = Math.min((row?.depth ?? magnet?.length ?? 3) * scale, 60);
  const across = Math.abs(Math.sin((placed.clocking_deg * Math.PI) / 180));
  const body =
    (parts.reed ? facts.body_mm + (facts.strip_length_mm + 6 - facts.body_mm) * across : facts.body_mm) * scale;
  const x = SIDE.x + placed.sideways_mm * scale;
  const gap = placed.gap_mm * scale;
  const tip = top - gap;
  const lean = placed.lean_deg;
  const pivot = lean >= 0 ? x + body / 2 : x - body / 2;
  const moves = (detail.moves_mm + (placed.runout_mm - parts.runout_mm) / 2) * scale;
  const low = top - detail.lowest_gap_mm * scale;
  const high = top - Math.min(Math.max(detail.highest_gap_mm, 0) * scale, 190);
  const height = 112;
  const element = Math.max(
    (parts.paired ? (facts.pair_mm ?? 2) : facts.strip_length_mm) *
      scale *
      Math.abs(Math.sin((placed.clocking_deg * Math.PI) / 180)),
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
        label="Runout of the target"
        text={`${placed.runout_mm} millimetres in all`}
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
          runout
        </text>
      </Handle>
      <Handle
        label="Air gap"
        text={`${placed.gap_mm} millimetres`}
        value={placed.gap_mm}
        low={0}
        high={40}
        step={0.05}
        keys="upright"
        read={(_, now, start) => start.value - (now - start.y) / scale}
        change={(value) => change("gap_mm", value)}
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
        <text className="small" x={x + 16} y={tip - 29}>
          gap
        </text>
      </Handle>
      <Handle
        label="Lean of the sensor"
        text={`${lean} degrees`}
        value={lean}
        low={-30}
        high={30}
        step={0.5}
        keys="level"
        read={(px, _, start) => start.value + (px - start.x) / 4}
        change={(value) => change("lean_deg", Math.round(value * 2) / 2)}
        done={done}
      >
        <g transform={`rotate(${lean} ${pivot} ${tip})`}>
          <circle className="hit" cx={x} cy={tip - height + 18} r={22} />
          <circle className="grip" cx={x} cy={tip - height + 18} r={8} />
          <text className="small" x={x + 14} y={tip - height + 23}>
            lean
          </text>
        </g>
      </Handle>
      <path className="act" d={`M${SIDE.x + 128} ${top}v${-gap}m-5 0h10m-5 ${gap}m-5 0h10`} />
      <text x={SIDE.x + 150} y={top + 24} textAnchor="end">
        {placed.gap_mm.toFixed(2)} mm
      </text>
    </g>
  );
}
