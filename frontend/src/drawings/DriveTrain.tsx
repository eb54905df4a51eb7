import type { Fit } from "../api/client";
import { Drawing } from "./Drawing";

/** Where the target turns, seen from the wheel; sprockets are drawn in the proportion of their teeth. */
export function DriveTrain({ drive, ratio }: { drive: Fit["drive"]; ratio: number }) {
  const kind = drive?.kind ?? "hub";
  const turns = Number(ratio.toFixed(4));
  return (
    <Drawing width={700} height={330} describe={`One turn of the wheel is ${turns} turns of the target.`} max="330px">
      {kind === "sprockets" ? <Chain ratio={ratio} /> : <Shaft direct={kind === "hub"} />}
      <text x="350" y="318" textAnchor="middle">
        1 turn of the wheel = {turns} {turns === 1 ? "turn" : "turns"} of the target
      </text>
    </Drawing>
  );
}

function Chain({ ratio }: { ratio: number }) {
  const big = ratio >= 1 ? 120 : 120 * ratio;
  const small = ratio >= 1 ? 120 / ratio : 120;
  const [x1, x2, y] = [200, 540, 145];
  const lean = (big - small) / (x2 - x1);
  const rise = Math.sqrt(1 - lean * lean);
  const side = (sign: number) =>
    `M${x1 + big * lean} ${y + sign * big * rise}L${x2 + small * lean} ${y + sign * small * rise}`;
  return (
    <g>
      <circle className="soft" cx={x1} cy={y} r={big} />
      <circle className="soft" cx={x2} cy={y} r={small} />
      <path className="ink" d={side(-1) + side(1)} strokeDasharray="7 4" />
      <circle className="actfill" cx={x2} cy={y} r="7" />
      <circle className="solid" cx={x1} cy={y} r="7" />
      <text className="small" x={x1} y={y + 34} textAnchor="middle">
        wheel
      </text>
      <text className="small" x={x2} y={y + small + 26} textAnchor="middle">
        target
      </text>
    </g>
  );
}

function Shaft({ direct }: { direct: boolean }) {
  return (
    <g>
      <circle className="soft" cx="200" cy="145" r="120" />
      <circle className="ink" cx="200" cy="145" r="86" style={{ fill: "var(--chakra-colors-bg-panel)" }} />
      {direct ? (
        <>
          <circle className="act" cx="200" cy="145" r="40" strokeDasharray="8 5" />
          <circle className="solid" cx="200" cy="145" r="8" />
          <text x="360" y="150">
            the target sits on the wheel's own hub
          </text>
        </>
      ) : (
        <>
          <circle className="solid" cx="200" cy="145" r="16" />
          <path className="ink" d="M216 137h284M216 153h284" />
          <ellipse className="act" cx="470" cy="145" rx="14" ry="46" strokeDasharray="8 5" />
          <rect className="soft" x="500" y="105" width="90" height="80" rx="6" />
          <text className="small" x="470" y="215" textAnchor="middle">
            target on the shaft
          </text>
        </>
      )}
    </g>
  );
}
