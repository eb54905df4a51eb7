import type { Schemas } from "../api/client";
import { isBad, type State } from "../ui/states";
import { Drawing } from "./Drawing";

type Seen = Schemas["FromAbove"];
type Kind = Schemas["VehicleOut"]["kind"];
/** A place of the grid that a vehicle is drawn in. */
type At = Pick<Seen["wheels"][number], "along" | "across">;
export interface Sensed extends At {
  installation: number;
  state?: State;
}

export const ROW = 92;
export const WIDTH = 132;
const X = { left: 20, centre: 66, right: 112 };
const Y = { front: ROW / 2, middle: 1.5 * ROW, rear: 2.5 * ROW };
const [TYRE_W, TYRE_H] = [15, 46];

/** The vehicle with its front at the top: body, axles, wheels, and a mark where something is sensed. */
export function VehicleBody({
  kind,
  wheels,
  sensed,
  describe,
}: {
  kind: Kind;
  wheels: Seen["wheels"];
  sensed: Sensed[];
  describe: string;
}) {
  const at = (place: At) => sensed.filter((item) => same(item, place));
  const placed = sensed.filter((item) => !wheels.some((wheel) => same(wheel, item)));
  return (
    <Drawing width={WIDTH} height={3 * ROW} describe={describe} max={`${3 * ROW}px`}>
      <Body kind={kind} sidecar={wheels.find((wheel) => wheel.across !== "centre")?.across} />
      {(["front", "rear"] as const).map((along) => (
        <Axle key={along} along={along} wheels={wheels.filter((wheel) => wheel.along === along)} />
      ))}
      {wheels.map((wheel) => (
        <Tyre key={wheel.along + wheel.across} x={X[wheel.across]} y={Y[wheel.along]} sensed={at(wheel)} />
      ))}
      {placed.map((item) => (
        <circle
          key={item.along + item.across}
          cx={X[item.across]}
          cy={Y[item.along]}
          r={9}
          className={isBad(item.state) ? "bad" : "ink"}
        />
      ))}
      {sensed.map((item) => (
        <Leader
          key={item.installation}
          {...item}
          below={wheels.some((wheel) => wheel.along === item.along && wheel.across === "right")}
        />
      ))}
    </Drawing>
  );
}

const same = (one: At, other: At) => one.along === other.along && one.across === other.across;

/** From what is sensed to the words beside the drawing; below a wheel that is in the way. */
function Leader({ along, across, below }: Sensed & { below: boolean }) {
  const [x, y] = [X[across], Y[along]];
  const edge = TYRE_W / 2 + 2;
  if (across === "left") return <path d={`M${x - edge} ${y}H0`} className="leader" />;
  if (across === "right") return <path d={`M${x + edge} ${y}H${WIDTH}`} className="leader" />;
  return (
    <g>
      <circle cx={x} cy={y} r={4} className="actfill" />
      <path d={below ? `M${x} ${y}L${x + 24} ${y + 34}H${WIDTH}` : `M${x} ${y}H${WIDTH}`} className="leader" />
    </g>
  );
}

/** A tyre: thin where nothing is sensed, double where it is verified, with a cross where it is blocked or failed. */
function Tyre({ x, y, sensed }: { x: number; y: number; sensed: Sensed[] }) {
  const states = sensed.map((item) => item.state);
  const bad = states.some(isBad);
  const box = (grow: number, ink: string) => (
    <rect
      x={x - TYRE_W / 2 - grow}
      y={y - TYRE_H / 2 - grow}
      width={TYRE_W + 2 * grow}
      height={TYRE_H + 2 * grow}
      rx={5 + grow}
      className={ink}
    />
  );
  if (sensed.length === 0) return box(0, "thin");
  return (
    <g>
      {box(0, bad ? "bad" : "soft")}
      {!bad && states.every((state) => state === "verified") && box(4, "thin")}
      {bad && <path d={`M${x - 6} ${y - 9}l12 18m0-18l-12 18`} className="bad" />}
    </g>
  );
}

function Axle({ along, wheels }: { along: "front" | "rear"; wheels: Seen["wheels"] }) {
  const sides = wheels.filter((wheel) => wheel.across !== "centre").map((wheel) => X[wheel.across]);
  if (sides.length === 0) return null;
  const inner = sides.length === 2 ? [X.left + TYRE_W / 2, X.right - TYRE_W / 2] : [X.centre, ...sides];
  return <path d={`M${inner[0]} ${Y[along]}H${inner[1]}`} className="thin" />;
}

/** The body as such vehicles look from above, in a line. */
function Body({ kind, sidecar }: { kind: Kind; sidecar?: At["across"] }) {
  if (kind === "boat") return <path className="thin" d={HULL} />;
  if (CYCLES.includes(kind)) return <TwoWheeler />;
  if (kind === "sidecar")
    return (
      <g>
        <TwoWheeler />
        <rect x={sidecar === "left" ? 14 : 82} y={92} width={36} height={120} rx={18} className="thin" />
      </g>
    );
  return <path className="thin" d={BODIES[kind] ?? CAR} />;
}

/** Handlebar, frame and saddle. */
function TwoWheeler() {
  return <path className="thin" d="M46 74H86M66 70V206M60 130Q66 118 72 130L70 168Q66 174 62 168Z" />;
}

const CYCLES: Kind[] = ["motorcycle", "scooter", "bicycle", "e_bike"];
const HULL = "M66 6C100 52 108 110 104 262Q66 270 28 262C24 110 32 52 66 6Z";
const CAR =
  "M40 10Q66 2 92 10Q98 30 96 60V220Q98 250 92 266Q66 272 40 266Q34 250 36 220V60Q34 30 40 10ZM44 92Q66 82 88 92L84 112H48ZM48 206H84L88 222Q66 228 44 222Z";
const KART = "M48 16H84L88 60L82 92V190L92 250H40L50 190V92L44 60ZM54 150Q66 140 78 150V186H54Z";
const YACHT = "M66 8L76 70L84 230Q66 240 48 230L56 70ZM66 60V60M66 90m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0";
const POD = "M66 4C92 30 92 90 86 150C82 210 76 250 66 272C56 250 50 210 46 150C40 90 40 30 66 4ZM54 118H78V150H54Z";
const TRIKE = "M38 14H94V112H38ZM66 112V206M50 138H82M60 176Q66 166 72 176L70 196H62Z";
const BODIES: Partial<Record<Kind, string>> = {
  kart: KART,
  atv: KART,
  land_yacht: YACHT,
  velomobile: POD,
  cargo_trike: TRIKE,
};
