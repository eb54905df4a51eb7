import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const GROUND = 220;
const TOP: Record<string, number> = { roll_out: 84 };

const WORDS: Record<string, string> = {
  roll_out: t(
    "A wheel with a chalk mark rolls straight ahead until the mark has come down three times; the tape lies from mark to mark.",
  ),
  taped_diameter: t("A tape stands upright from the floor to a level straight edge on top of the tyre."),
  axle_height: t("A tape stands from the floor to the middle of the axle, under load."),
  taped_circumference: t("A tape lies once round the middle of the tread of a lifted wheel."),
};

/** Where the tape goes. */
export function Measuring({ method }: { method: string }) {
  const text = WORDS[method];
  if (!text) return null;
  return (
    <Drawing width={900} height={256} top={TOP[method] ?? 0} describe={text} max="220px">
      <rect className="road" x="0" y={GROUND} width="900" height="14" />
      {method === "roll_out" ? <RollOut /> : <Standing method={method} />}
    </Drawing>
  );
}

function Wheel({ x, y, mark }: { x: number; y: number; mark: number }) {
  const r = 34;
  return (
    <g>
      <circle className="soft" cx={x} cy={y} r={r} />
      <circle className="thin" cx={x} cy={y} r={r * 0.7} />
      <line
        className="act"
        x1={x + r * 0.7 * Math.sin(mark)}
        y1={y + r * 0.7 * Math.cos(mark)}
        x2={x + r * Math.sin(mark)}
        y2={y + r * Math.cos(mark)}
      />
    </g>
  );
}

function RollOut() {
  const r = 34;
  const turn = 2 * Math.PI * r;
  const start = 70;
  return (
    <g>
      {[0, 1, 2, 3].map((turns) => (
        <g key={turns} opacity={turns === 0 || turns === 3 ? 1 : 0.45}>
          <Wheel x={start + turns * turn} y={GROUND - r} mark={0} />
          <path className="act" d={`M${start + turns * turn} ${GROUND}v14`} />
          <text className="small" x={start + turns * turn} y={GROUND - 2 * r - 12} textAnchor="middle">
            {turns === 0 ? t("start") : turns}
          </text>
        </g>
      ))}
      <path className="ink" d={`M${start} ${GROUND + 26}h${3 * turn}m0 -6v12m-${3 * turn} -12v12`} />
      <text x={start + 1.5 * turn} y={GROUND - 2 * r - 50} textAnchor="middle">
        {t("tape from mark to mark, straight ahead")}
      </text>
    </g>
  );
}

function Standing({ method }: { method: string }) {
  const lifted = method === "taped_circumference";
  const r = 88;
  const [x, y] = [400, GROUND - r - (lifted ? 26 : 0)];
  return (
    <g>
      {lifted && <path className="ink" d={`M${x - 30} ${GROUND}l30 -60l30 60`} />}
      <ellipse className="soft" cx={x} cy={lifted ? y : y + 3} rx={r + (lifted ? 0 : 3)} ry={lifted ? r : r - 3} />
      <circle className="thin" cx={x} cy={y} r={r * 0.68} />
      <circle className="solid" cx={x} cy={y} r="9" />
      {method === "taped_diameter" && (
        <path className="act" d={`M${x - 40} ${GROUND - 2 * r}h190M${x + 130} ${GROUND - 2 * r}V${GROUND}m-10 0h20`} />
      )}
      {method === "axle_height" && <path className="act" d={`M${x} ${y}h140M${x + 130} ${y}V${GROUND}m-10 0h20`} />}
      {lifted && <circle className="act" cx={x} cy={y} r={r + 5} />}
      <text x={x + 170} y={y + 10}>
        {{ taped_diameter: "floor to top", axle_height: "floor to axle", taped_circumference: "once round" }[method]}
      </text>
    </g>
  );
}
