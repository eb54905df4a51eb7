import { memo } from "react";
import type { Schemas } from "../api/client";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const SIZE = 440;
const MIDDLE = SIZE / 2;
const RIM = 186;

/** One side of the laced wheel, to scale, with the magnets of a set on their spokes; numbers at the rim. */
export const LacedWheel = memo(function LacedWheel({
  plan,
  set,
}: {
  plan: {
    per_side: number;
    radius_mm: number;
    rim_diameter_mm: number;
    flange_diameter_mm: number;
    magnet_mm: number;
    spokes: { number: number; plane: number; hub: number[]; rim: number[]; at: number[] }[];
  };
  set: Schemas["SpokeSet"] | undefined;
}) {
  const scale = RIM / (plan.rim_diameter_mm / 2);
  const at = ([x, y]: number[]) => [MIDDLE + (x ?? 0) * scale, MIDDLE - (y ?? 0) * scale] as const;
  const taken = new Set(set?.spokes ?? []);
  return (
    <Drawing
      width={SIZE}
      height={SIZE}
      max="430px"
      describe={
        set
          ? t(
              "One side of the wheel with {0} spokes, numbered clockwise at the rim; magnets on {1}. {2}",
              plan.per_side,
              set.spokes.join(", "),
              set.text,
            )
          : t("One side of the wheel with {0} spokes.", plan.per_side)
      }
    >
      <circle className="ink" cx={MIDDLE} cy={MIDDLE} r={RIM} style={{ strokeWidth: 5 }} />
      <circle className="soft" cx={MIDDLE} cy={MIDDLE} r={(plan.flange_diameter_mm / 2) * scale + 3} />
      <circle className="ghost" cx={MIDDLE} cy={MIDDLE} r={plan.radius_mm * scale} />
      {plan.spokes.map((spoke) => {
        const [hx, hy] = at(spoke.hub);
        const [rx, ry] = at(spoke.rim);
        const out = 1 + 15 / RIM;
        return (
          <g key={spoke.number}>
            <path
              className={taken.has(spoke.number) ? "act" : spoke.plane === 0 ? "ink" : "thin"}
              d={`M${hx} ${hy}L${rx} ${ry}`}
              strokeDasharray={spoke.plane === 1 ? "7 3" : undefined}
            />
            <text
              className="small"
              x={MIDDLE + (rx - MIDDLE) * out}
              y={MIDDLE + (ry - MIDDLE) * out + 5}
              textAnchor="middle"
              style={taken.has(spoke.number) ? { fontWeight: 700, fill: "var(--chakra-colors-fg)" } : undefined}
            >
              {spoke.number}
            </text>
          </g>
        );
      })}
      {plan.spokes
        .filter((spoke) => taken.has(spoke.number))
        .map((spoke) => {
          const [x, y] = at(spoke.at);
          return (
            <circle
              key={spoke.number}
              className="actfill"
              cx={x}
              cy={y}
              r={Math.max((plan.magnet_mm / 2) * scale, 6)}
            />
          );
        })}
    </Drawing>
  );
});
