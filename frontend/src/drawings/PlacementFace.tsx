import { memo } from "react";
import { t } from "../ui/words";
import { Handle } from "./Handle";
import { type Placed, type PlacementParts, type ViewProps, WIDTH } from "./placementParts";

const FACE = { x: WIDTH / 2, y: 146 };

/** Teeth, poles or a magnet on the way past, seen from the sensor. */
export const Passing = memo(function Passing({
  parts,
  scale,
  passing,
}: {
  parts: PlacementParts;
  scale: number;
  passing: boolean;
}) {
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
});

/** The tip with what is hidden in it, seen from the sensor. */
export const FaceView = memo(function FaceView({
  parts,
  lateral_offset_mm,
  clocking_angle_deg,
  scale,
  change,
  done,
  mark,
}: Omit<ViewProps, "placed"> &
  Pick<Placed, "lateral_offset_mm" | "clocking_angle_deg"> & { mark?: (along: number, across: number) => void }) {
  const { facts, spot } = parts;
  // Across the row is up in the drawing.
  const x = FACE.x;
  const y = FACE.y - lateral_offset_mm * scale;
  const at = { x: x + spot.along_mm * scale, y: y - spot.across_mm * scale };
  const body = (facts.body_diameter_mm / 2) * scale;
  const target = FACE.y - parts.detail.target_sideways_mm * scale;
  const turn = -clocking_angle_deg;
  const reach = (parts.reed ? (facts.element_length_mm / 2 + 3) * scale : body) + 14;
  const angle = (clocking_angle_deg * Math.PI) / 180;
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
        label={t("Lateral offset of the sensor")}
        text={t("{0} millimetres", lateral_offset_mm)}
        value={lateral_offset_mm}
        low={-60}
        high={60}
        step={0.1}
        keys="upright"
        read={(_, now, start) => start.value - (now - start.y) / scale}
        change={(value) => change("lateral_offset_mm", value)}
        done={done}
        press={mark && ((px, py) => mark((px - x) / scale, (y - py) / scale))}
      >
        {parts.reed ? (
          <rect
            className="panel"
            x={at.x - (facts.element_length_mm / 2 + 3) * scale}
            y={at.y - body}
            width={(facts.element_length_mm + 6) * scale}
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
      {spot.feature === "unknown" && facts.element_offset_mm > 0 && (
        <circle className="ghost" cx={at.x} cy={at.y} r={facts.element_offset_mm * scale} pointerEvents="none" />
      )}
      <SpotMark feature={spot.feature} at={at} size={Math.max(body / 3, 9)} />
      <g transform={`rotate(${turn} ${at.x} ${at.y})`} pointerEvents="none">
        {parts.paired ? (
          <Pair
            at={at}
            apart={(facts.element_spacing_mm ?? facts.body_diameter_mm / 5) * scale}
            size={facts.element_length_mm * scale}
          />
        ) : (
          <rect
            className="actfill"
            x={at.x - (facts.element_length_mm / 2) * scale}
            y={at.y - Math.max((facts.element_width_mm / 2) * scale, 1.5)}
            width={facts.element_length_mm * scale}
            height={Math.max(facts.element_width_mm * scale, 3)}
          />
        )}
      </g>
      <Handle
        label={t("Clocking angle of the element")}
        text={t("{0} degrees", clocking_angle_deg)}
        value={clocking_angle_deg}
        low={-180}
        high={180}
        step={1}
        keys="level"
        read={(px, py) => Math.round((Math.atan2(at.y - py, px - at.x) * 180) / Math.PI)}
        change={(value) => change("clocking_angle_deg", Math.round(value))}
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
});

/** The feature of the body that shows the sensing element, around it. */
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
