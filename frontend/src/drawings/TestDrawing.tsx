import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const W = 300;
const H = 120;

/** Where a test is done: at the sensor, with a meter at its wires, at the wheel, at the display, or on the water. */
type Place = "sensor" | "wires" | "wheel" | "display" | "water";
type Target = Schemas["FaultOut"]["drawn"];
type Shown = { place: Place; mark: ReactNode };

const arrow = (x1: number, y1: number, x2: number, y2: number) => {
  const length = Math.hypot(x2 - x1, y2 - y1);
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length];
  const wing = (side: number) => `${x2 - 9 * ux + 5 * side * uy} ${y2 - 9 * uy - 5 * side * ux}`;
  return <path className="act" d={`M${x1} ${y1}L${x2} ${y2}M${wing(1)}L${x2} ${y2}L${wing(-1)}`} />;
};
const turn = (x: number, y: number, r: number) => (
  <>
    <path className="act" d={`M${x - r} ${y}A${r} ${r} 0 0 1 ${x + r} ${y}`} />
    {arrow(x + r - 1, y - 4, x + r, y + 6)}
  </>
);
const both = (x: number, y: number, half: number) => (
  <>
    {arrow(x, y, x - half, y)}
    {arrow(x, y, x + half, y)}
  </>
);
/** A meter between two places. */
const meter = (x1: number, y1: number, x2: number, y2: number, text: string) => (
  <>
    <path className="act" d={`M${x1} ${y1}L${x1} 88L205 100M${x2} ${y2}L${x2} 80L205 92`} />
    <rect className="soft" x={205} y={78} width={58} height={34} rx={5} />
    <text className="small" x={234} y={100} textAnchor="middle">
      {text}
    </text>
  </>
);

/** Pins of the connector: supply, ground, signal. */
const PIN = { supply: 90, ground: 115, signal: 140 };
const TESTS: Record<string, Shown> = {
  look: { place: "sensor", mark: <circle className="act" cx={150} cy={66} r={34} /> },
  align: { place: "sensor", mark: <path className="act" d="M150 14V112" strokeDasharray="5 4" /> },
  gap: { place: "sensor", mark: <path className="act" d="M118 62H182M118 70H182" /> },
  quarter_turn: { place: "sensor", mark: turn(150, 30, 26) },
  shift: { place: "sensor", mark: both(150, 30, 44) },
  bracket: { place: "sensor", mark: both(150, 20, 60) },
  kind: { place: "sensor", mark: <path className="act" d="M150 52V74M132 40h36" /> },
  magnet: {
    place: "sensor",
    mark: (
      <>
        <path className="soft" d="M196 62h62v12h-62z" />
        <path className="act" d="M196 62h16v12h-16z" />
        {arrow(228, 50, 190, 50)}
      </>
    ),
  },
  swap_sensor: { place: "sensor", mark: arrow(150, 52, 150, 8) },
  swap_corners: { place: "sensor", mark: both(150, 30, 60) },
  clean: { place: "sensor", mark: <path className="act" d="M130 74l6 6M160 72l8 6M145 78l4 8" /> },
  poles: {
    place: "sensor",
    mark: (
      <text className="small" x={150} y={104} textAnchor="middle">
        N · N · N · S ?
      </text>
    ),
  },
  wiggle: { place: "wires", mark: both(115, 20, 40) },
  unplug: { place: "wires", mark: arrow(115, 48, 115, 8) },
  pins: { place: "wires", mark: <path className="act" d="M90 30V14M115 30V14M140 30V14" /> },
  supply: { place: "wires", mark: meter(PIN.supply, 62, PIN.ground, 62, "V") },
  output: { place: "wires", mark: meter(PIN.signal, 62, PIN.ground, 62, "V") },
  pulled_up: { place: "wires", mark: meter(PIN.signal, 62, PIN.ground, 62, "V") },
  ground: { place: "wires", mark: meter(PIN.ground, 62, 180, 62, "mV") },
  resistance: { place: "wires", mark: meter(PIN.supply, 62, PIN.ground, 62, "Ω") },
  lead: { place: "wires", mark: meter(PIN.signal, 62, 180, 62, "Ω") },
  shield: { place: "wires", mark: meter(180, 40, PIN.ground, 62, "Ω") },
  conditioner: { place: "wires", mark: meter(PIN.signal, 62, PIN.ground, 62, "~") },
  threshold: { place: "wires", mark: meter(PIN.signal, 62, PIN.ground, 62, "V") },
  polarity: { place: "wires", mark: <path className="act" d="M90 66L115 90M115 66L90 90" /> },
  tie: { place: "wires", mark: arrow(180, 40, 240, 40) },
  feed: {
    place: "wires",
    mark: (
      <>
        <rect className="soft" x={205} y={78} width={58} height={34} rx={5} />
        <path className="act" d="M214 100h8v-10h10v10h10v-10h10M140 62V95H205" />
      </>
    ),
  },
  spin: { place: "wheel", mark: turn(110, 60, 54) },
  count: { place: "wheel", mark: <path className="act" d="M110 6V24" strokeWidth={5} /> },
  roll_out: { place: "wheel", mark: arrow(170, 108, 280, 108) },
  tyre: { place: "wheel", mark: <path className="act" d="M80 26A46 46 0 0 1 140 26" /> },
  other_wheel: { place: "wheel", mark: <circle className="act" cx={240} cy={60} r={40} /> },
  channel: { place: "wheel", mark: turn(110, 60, 54) },
  setting: { place: "display", mark: <path className="act" d="M92 78h116" /> },
  range: { place: "display", mark: <path className="act" d="M200 20V84" /> },
  battery: { place: "display", mark: <path className="act" d="M40 44h26v30H40zM46 38h14v6H46z" /> },
  pair: { place: "display", mark: <path className="act" d="M40 60a14 14 0 0 1 0-20M30 66a24 24 0 0 1 0-32" /> },
  speeds: { place: "display", mark: arrow(60, 108, 240, 108) },
  engine_off: { place: "display", mark: <path className="act" d="M250 40l-12 18h14l-12 20" /> },
  straight: { place: "water", mark: <path className="act" d="M60 100H200C240 100 250 80 240 50" /> },
  seat: { place: "water", mark: <path className="act" d="M30 60H270" strokeDasharray="5 4" /> },
};

/** A schematic of where a test is done and what is moved or measured. */
export function TestDrawing({ test, title, target }: { test: string; title: string; target: Target }) {
  const shown = TESTS[test];
  if (!shown) return null;
  return (
    <Drawing width={W} height={H} describe={t("Where to do it: {0}", title)} max="360px">
      {shown.place === "sensor" ? atSensor(target) : GROUND[shown.place]}
      {shown.mark}
    </Drawing>
  );
}

const teeth = [0, 1, 2, 3, 4].map((place) => `M${62 + place * 40} 96V74h22V96`).join("");
const along = (of: (x: number) => string) => [0, 1, 2, 3, 4].map((place) => of(73 + place * 40)).join("");
/** What passes the sensor, as it is fitted. */
const TARGETS: Record<Target, ReactNode> = {
  teeth: <path className="ink" d={`M30 96H270${teeth}`} />,
  slots: <path className="ink" d={`M30 74H270V96H30Z${along((x) => `M${x - 6} 79V91H${x + 6}V79Z`)}`} />,
  holes: <path className="ink" d={`M30 74H270V96H30Z${along((x) => `M${x - 7} 85a7 7 0 1 0 14 0a7 7 0 1 0 -14 0`)}`} />,
  poles: <path className="ink" d={`M30 74H270V96H30Z${along((x) => `M${x - 20} 74V96M${x} 74V96`)}`} />,
  bolts: <path className="ink" d={`M30 96H270${along((x) => `M${x - 13} 96L${x - 10} 76H${x + 10}L${x + 13} 96`)}`} />,
  magnet: (
    <>
      <path className="ink" d="M30 96H270" />
      <path className="soft" d="M134 74h32v22h-32z" />
      <path className="ink" d="M134 74h32v22h-32z" />
    </>
  ),
  paddle: (
    <path
      className="ink"
      d="M150 92m-18 0a18 18 0 1 0 36 0a18 18 0 1 0 -36 0M150 74V62M168 92h12M132 92h-12M150 110v8"
    />
  ),
  none: <path className="ink" d="M30 74H270M30 96H270M110 74V96M190 74V96" />,
};
const atSensor = (target: Target) => (
  <>
    {TARGETS[target]}
    <path className="soft" d="M132 8h36v46h-36z" />
    <path className="ink" d="M150 8V0" />
  </>
);
const GROUND: Record<Exclude<Place, "sensor">, ReactNode> = {
  wires: (
    <>
      <rect className="soft" x={74} y={34} width={82} height={28} rx={4} />
      {Object.values(PIN).map((x) => (
        <path key={x} className="ink" d={`M${x} 34V14M${x} 62V70`} />
      ))}
      <path className="thin" d="M156 48H280" />
    </>
  ),
  wheel: (
    <>
      <circle className="ink" cx={110} cy={60} r={46} />
      <circle className="thin" cx={110} cy={60} r={20} />
      <path className="soft" d="M102 80h16v14h-16z" />
      <circle className="thin" cx={240} cy={60} r={36} />
    </>
  ),
  display: (
    <>
      <rect className="soft" x={80} y={16} width={140} height={72} rx={8} />
      <text x={150} y={66} textAnchor="middle" fontSize={36}>
        50
      </text>
    </>
  ),
  water: (
    <>
      <path className="soft" d="M50 44H210Q262 60 210 76H50z" />
      <rect className="ink" x={110} y={54} width={20} height={12} />
    </>
  ),
};
