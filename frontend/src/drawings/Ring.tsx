import { memo } from "react";
import type { Schemas } from "../api/client";
import { useUnits } from "../ui/units";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const SIZE = 440;
const MIDDLE = SIZE / 2;
const OUTER = 190;
const LABELLED = 120;

const at = (radius: number, angle: number) => [MIDDLE + radius * Math.sin(angle), MIDDLE - radius * Math.cos(angle)];
const point = (radius: number, angle: number) =>
  at(radius, angle)
    .map((n) => n.toFixed(2))
    .join(" ");

/** The target with every tooth, pole or magnet drawn, so that it can be compared with the one in the hand. */
export const Ring = memo(function Ring({
  kind,
  count,
  text,
  shape,
  missing = 0,
}: {
  kind: string;
  count: number;
  text: string;
  /** Its measured shape: the teeth are then drawn to scale. */
  shape?: Schemas["RingShape"] | null;
  missing?: number;
}) {
  const { show } = useUnits();
  const step = (2 * Math.PI) / (count + missing);
  const places = Array.from({ length: count }, (_, place) => place);
  const round = ["magnets", "paddle_magnets", "bolt_heads", "drilled_rotor"].includes(kind);
  const every = count <= 12 ? 1 : count <= LABELLED ? (count > 60 ? 10 : 5) : 0;
  return (
    <Drawing
      width={SIZE}
      height={SIZE}
      max="400px"
      describe={t(
        "{0} with {1} drawn {2} around one turn; the first is marked, count clockwise.",
        text,
        count,
        shape ? t("to scale") : t("evenly"),
      )}
    >
      {round ? (
        <Rounds places={places} step={step} count={count} />
      ) : (
        <Teeth places={places} step={step} kind={kind} shape={shape} />
      )}
      <path className="actfill" d={`M${MIDDLE} ${MIDDLE - OUTER - 4}l-8 -16h16z`} />
      {places
        .filter((place) => every > 0 && (place === 0 || (place + 1) % every === 0))
        .map((place) => {
          const [x, y] = at(OUTER - 42, place * step);
          return (
            <text key={place} className="small" x={x} y={(y ?? 0) + 5} textAnchor="middle">
              {place + 1}
            </text>
          );
        })}
      <text className="big" x={MIDDLE} y={MIDDLE + 4} textAnchor="middle">
        {count}
      </text>
      <text className="small" x={MIDDLE} y={MIDDLE + 28} textAnchor="middle">
        {t("per turn")}
      </text>
      {shape && (
        <text className="small" x={MIDDLE} y={MIDDLE + 50} textAnchor="middle">
          ⌀ {show(shape.diameter_mm, "mm", 0.05).join(" ")}
        </text>
      )}
    </Drawing>
  );
});

function Teeth({
  places,
  step,
  kind,
  shape,
}: {
  places: number[];
  step: number;
  kind: string;
  shape?: Schemas["RingShape"] | null;
}) {
  if (kind === "multipole_ring") {
    return (
      <g>
        {places.map((place) => (
          <path
            key={place}
            d={`M${point(OUTER, (place - 0.25) * step)}L${point(OUTER, (place + 0.25) * step)}L${point(OUTER - 24, (place + 0.25) * step)}L${point(OUTER - 24, (place - 0.25) * step)}z`}
            className={place === 0 ? "actfill" : "solid"}
          />
        ))}
        <circle className="ink" cx={MIDDLE} cy={MIDDLE} r={OUTER} />
        <circle className="ink" cx={MIDDLE} cy={MIDDLE} r={OUTER - 24} />
      </g>
    );
  }
  const scale = shape ? OUTER / (shape.diameter_mm / 2) : 0;
  const usual = Math.min(24, Math.max(8, (2 * Math.PI * OUTER) / places.length));
  const root = OUTER - (shape ? Math.min((shape.depth_mm ?? shape.pitch_mm / 2) * scale, 90) : usual);
  const tip = shape ? shape.tooth_mm / shape.pitch_mm / 2 : 0.22;
  const foot = shape && !shape.gear ? tip * (OUTER / root) : shape ? Math.min(tip + 0.18, 0.45) : 0.3;
  const tooth = (place: number) =>
    `${point(root, (place - foot) * step)}L${point(OUTER, (place - tip) * step)}L${point(OUTER, (place + tip) * step)}L${point(root, (place + foot) * step)}`;
  return (
    <g>
      <path className="soft" d={`M${places.map(tooth).join("L")}z`} />
      <path className="actfill" d={`M${tooth(0)}z`} />
      <circle className="ink" cx={MIDDLE} cy={MIDDLE} r={90} style={{ fill: "var(--chakra-colors-bg-panel)" }} />
    </g>
  );
}

function Rounds({ places, step, count }: { places: number[]; step: number; count: number }) {
  const size = Math.min(12, (Math.PI * (OUTER - 14)) / count / 1.3);
  return (
    <g>
      <circle className="ink" cx={MIDDLE} cy={MIDDLE} r={OUTER} />
      <circle className="thin" cx={MIDDLE} cy={MIDDLE} r={60} />
      {count <= 12 &&
        places.map((place) => (
          <path key={place} className="thin" d={`M${point(60, place * step)}L${point(OUTER, place * step)}`} />
        ))}
      {places.map((place) => {
        const [x, y] = at(OUTER - 18, place * step);
        return <circle key={place} cx={x} cy={y} r={size} className={place === 0 ? "actfill" : "solid"} />;
      })}
    </g>
  );
}
