import { memo } from "react";
import type { Installation } from "../api/client";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const [X1, X2, Y] = [200, 540, 145];

/** Where the target turns, seen from the wheel; wheels, gears and sprockets are in the proportion of their teeth. */
export const DriveTrain = memo(function DriveTrain({
  drive,
  ratio,
  stand,
}: {
  drive: Installation["drive"];
  ratio: number;
  stand: boolean;
}) {
  const kind = drive?.kind ?? "hub";
  const turns = Number(ratio.toFixed(4));
  const text =
    turns === 1
      ? t("1 turn of the wheel = 1 turn of the target")
      : t("1 turn of the wheel = {0} turns of the target", turns);
  return (
    <Drawing
      width={kind === "hub" || kind === "hub_motor" ? 400 : 700}
      height={292}
      describe={`${SAID[kind]} ${text}. ${stand ? ON_STAND : ""}`}
      caption={`${text}${kind === "hub_motor" ? `; ${motorSays(drive?.hub_motor)}` : ""}${kind === "axle_ratio" ? `. ${HELD}` : ""}`}
      max="292px"
    >
      {kind === "hub" && <Hub />}
      {kind === "sprockets" && <Chain ratio={ratio} />}
      {kind === "axle_ratio" && <Axle ratio={ratio} />}
      {kind === "transfer_box" && <TransferBox box={drive?.transfer_box} />}
      {kind === "hub_motor" && <HubMotor motor={drive?.hub_motor} />}
      {kind === "cable" && <Cable cable={drive?.cable} />}
    </Drawing>
  );
});

const HELD = t(
  "On a stand with one wheel held, the other turns twice for the same shaft: the display shows half of its speed.",
);
const ON_STAND = t("With one wheel held on a stand the shaft turns half as much.");
const SAID: Record<string, string> = {
  hub: t("The target sits on the wheel's own hub."),
  sprockets: t("A chain or belt joins the wheel and the sensed shaft."),
  axle_ratio: t("Both wheels turn a shaft through the differential."),
  transfer_box: t("A transfer box sits between gearbox and axle."),
  hub_motor: t("A hub motor's rotor turns the wheel through gears."),
  cable: t("A drive gear on the shaft turns a driven gear on the cable."),
};

/** Two round parts in proportion that fill the same room: radii for teeth a and b. */
const pairOf = (a: number, b: number, room: number): [number, number] => [(room * a) / (a + b), (room * b) / (a + b)];

function Hub() {
  return (
    <g>
      <circle className="soft" cx={X1} cy={Y} r="120" />
      <circle className="ink" cx={X1} cy={Y} r="86" style={{ fill: "var(--chakra-colors-bg-panel)" }} />
      <circle className="act" cx={X1} cy={Y} r="40" strokeDasharray="8 5" />
      <circle className="solid" cx={X1} cy={Y} r="8" />
    </g>
  );
}

function Chain({ ratio }: { ratio: number }) {
  const big = ratio >= 1 ? 120 : 120 * ratio;
  const small = ratio >= 1 ? 120 / ratio : 120;
  const lean = (big - small) / (X2 - X1);
  const rise = Math.sqrt(1 - lean * lean);
  const side = (sign: number) =>
    `M${X1 + big * lean} ${Y + sign * big * rise}L${X2 + small * lean} ${Y + sign * small * rise}`;
  return (
    <g>
      <circle className="soft" cx={X1} cy={Y} r={big} />
      <circle className="soft" cx={X2} cy={Y} r={small} />
      <path className="ink" d={side(-1) + side(1)} strokeDasharray="7 4" />
      <circle className="actfill" cx={X2} cy={Y} r="7" />
      <circle className="solid" cx={X1} cy={Y} r="7" />
      <text className="small" x={X1} y={Y + 34} textAnchor="middle">
        {t("wheel")}
      </text>
      <text className="small" x={X2} y={Y + small + 26} textAnchor="middle">
        {t("target")}
      </text>
    </g>
  );
}

/** Both wheels, the crown wheel and the pinion in proportion, and the case of one wheel held. */
function Axle({ ratio }: { ratio: number }) {
  const y = 147;
  const crown = 60;
  const pinion = Math.min(crown / ratio, 60);
  return (
    <g>
      {[4, 214].map((top) => (
        <rect key={top} className="soft" x="70" y={top} width="60" height="76" rx="12" />
      ))}
      <path className="ink" d="M96 80V214M104 80V214" />
      <ellipse className="soft" cx="118" cy={y} rx="12" ry={crown} />
      <path
        className="soft"
        d={`M132 ${y - pinion}h26l14 ${0.35 * pinion}v${1.3 * pinion}l-14 ${0.35 * pinion}h-26z`}
      />
      <path className="ink" d={`M172 ${y - 5}H560M172 ${y + 5}H560`} />
      <ellipse className="act" cx="500" cy={y} rx="12" ry="40" strokeDasharray="8 5" />
      <text className="small" x="500" y={y + 64} textAnchor="middle">
        {t("target on the shaft")}
      </text>
      <text className="small" x="190" y={y + 44}>
        {t("crown : pinion = {0} : 1", Number(ratio.toFixed(3)))}
      </text>
    </g>
  );
}

/** Gears of the low range in proportion; in high range the shaft goes straight through. */
function TransferBox({ box }: { box?: NonNullable<Installation["drive"]>["transfer_box"] }) {
  const low = Number(box?.low_ratio ?? 2) || 2;
  const geared = box?.range === "low";
  const [a, b] = pairOf(1, low, 100);
  const into = 90;
  const out = geared ? into + 100 : into;
  const [x, y] = box?.sensed === "gearbox" ? [185, into] : [530, out];
  return (
    <g>
      <rect className="soft" x="30" y={into - 40} width="90" height="80" rx="6" />
      <text className="small" x="75" y={into + 5} textAnchor="middle">
        {t("gearbox")}
      </text>
      <rect className="thin" x="250" y="30" width="180" height="250" rx="8" />
      <path className="ink" d={`M120 ${into - 4}H340M120 ${into + 4}H340M340 ${out - 4}H610M340 ${out + 4}H610`} />
      <circle className="soft" cx="340" cy={into} r={a} opacity={geared ? 1 : 0.35} />
      <circle className="soft" cx="340" cy={into + a + b} r={b} opacity={geared ? 1 : 0.35} />
      {!geared && <path className="act" d={`M250 ${into}H430`} />}
      <ellipse className="act" cx={x} cy={y} rx="10" ry="36" strokeDasharray="8 5" />
      <text className="small" x={x} y={y + 58} textAnchor="middle">
        {t("target")}
      </text>
      <rect className="soft" x="610" y={out - 48} width="36" height="96" rx="10" />
      <text className="small" x="628" y={out + 70} textAnchor="middle">
        {t("axle")}
      </text>
      <text className="small" x="340" y="20" textAnchor="middle">
        {geared ? t("low range, {0} : 1", low) : t("high range, straight through")}
      </text>
    </g>
  );
}

type Motor = NonNullable<Installation["drive"]>["hub_motor"];

function motorSays(motor?: Motor) {
  const geared = Number(motor?.gear_ratio ?? 1) > 1;
  const parts = [
    geared ? t("rotor in the middle, shell outside") : t("no gears: the rotor is the shell"),
    motor?.sensed === "wheel" ? t("target on the wheel") : t("target on the rotor"),
  ];
  if (geared && motor?.sensed !== "wheel" && motor?.freewheel !== false)
    parts.push(t("it stops while the wheel coasts"));
  return parts.join("; ");
}

function HubMotor({ motor }: { motor?: Motor }) {
  const gear = Math.max(Number(motor?.gear_ratio ?? 1) || 1, 1);
  const ring = 112;
  const sun = gear > 1 ? ring / gear : ring * 0.6;
  const planet = (ring - sun) / 2;
  const onRotor = motor?.sensed !== "wheel";
  return (
    <g>
      <circle className="soft" cx={X1} cy={Y} r="128" />
      <circle className="ink" cx={X1} cy={Y} r={ring} style={{ fill: "var(--chakra-colors-bg-panel)" }} />
      {gear > 1 &&
        [0, 120, 240].map((angle) => {
          const [x, y] = [
            X1 + (sun + planet) * Math.sin((angle * Math.PI) / 180),
            Y - (sun + planet) * Math.cos((angle * Math.PI) / 180),
          ];
          return <circle key={angle} className="soft" cx={x} cy={y} r={planet} />;
        })}
      <circle
        className={onRotor ? "act" : "ink"}
        cx={X1}
        cy={Y}
        r={sun}
        strokeDasharray={onRotor ? "8 5" : undefined}
      />
      {!onRotor && <circle className="act" cx={X1} cy={Y} r="128" strokeDasharray="8 5" />}
      <circle className="solid" cx={X1} cy={Y} r="6" />
    </g>
  );
}

function Cable({ cable }: { cable?: NonNullable<Installation["drive"]>["cable"] }) {
  const drive = Number(cable?.drive_teeth) || 10;
  const driven = Number(cable?.driven_teeth) || 20;
  const [a, b] = pairOf(drive, driven, 112);
  return (
    <g>
      <path className="ink" d={`M20 141H${160 - a}M20 149H${160 - a}`} />
      <Gear x={160} y={145} radius={a} teeth={drive} act={false} turned={Math.PI / 2} />
      <Gear x={160 + a + b} y={145} radius={b} teeth={driven} act turned={-Math.PI / 2 + Math.PI / driven} />
      <path className="act" d={`M${160 + a + b} 145c120 0 100 110 220 110h60`} />
      <circle className="soft" cx="610" cy="215" r="62" />
      <path className="act" d="M610 215l32 -38" />
      <text className="small" x="610" y="252" textAnchor="middle">
        {t("gauge")}
      </text>
      <text className="small" x="20" y="176">
        {t("shaft")}
      </text>
      <text className="small" x={160} y={145 - Math.max(a, b) - 14} textAnchor="middle">
        {drive}
      </text>
      <text className="small" x={160 + a + b} y={145 - Math.max(a, b) - 14} textAnchor="middle">
        {driven}
      </text>
    </g>
  );
}

/** A gear with every tooth, its pitch circle to scale. */
function Gear({
  x,
  y,
  radius,
  teeth,
  act,
  turned,
}: {
  x: number;
  y: number;
  radius: number;
  teeth: number;
  act: boolean;
  /** Where one tooth stands, so that two gears mesh. */
  turned: number;
}) {
  const depth = Math.min((2.25 * 2 * radius) / teeth / 2, radius / 3);
  const count = Math.min(Math.round(teeth), 200);
  const at = (r: number, angle: number) =>
    `${(x + r * Math.sin(angle)).toFixed(1)} ${(y - r * Math.cos(angle)).toFixed(1)}`;
  const step = (2 * Math.PI) / count;
  const points = Array.from({ length: count }, (_, place) => {
    const middle = turned + place * step;
    return [
      at(radius - depth, middle - 0.32 * step),
      at(radius + depth, middle - 0.16 * step),
      at(radius + depth, middle + 0.16 * step),
      at(radius - depth, middle + 0.32 * step),
    ].join("L");
  });
  return (
    <g>
      <path className="soft" d={`M${points.join("L")}z`} />
      <circle className={act ? "actfill" : "solid"} cx={x} cy={y} r="6" />
    </g>
  );
}
