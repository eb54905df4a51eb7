import { percent } from "../ui/format";
import { t } from "../ui/words";

const [LENGTH, HALF] = [56, 11];
/** From where a wedge is a line to where it is as wide as it can be, ± %; in between its width follows the logarithm. */
const [FINEST, COARSEST] = [0.05, 20];

/** How wide a wedge of so much uncertainty opens, of its full height. */
export function opening(pct: number) {
  const share = Math.log(pct / FINEST) / Math.log(COARSEST / FINEST);
  return Math.min(Math.max(share, 0.06), 1);
}

/** The uncertainty as a wedge that narrows when something is measured: as it is, and inside it after the next step. */
export function Wedge({ now_pct, after_pct }: { now_pct: number; after_pct: number }) {
  const narrower = after_pct < 0.95 * now_pct;
  const side = (pct: number) => ({ transform: `scaleY(${opening(pct).toFixed(3)})` });
  return (
    <svg
      className="wedge"
      viewBox={`0 ${-HALF} ${LENGTH} ${2 * HALF}`}
      width={LENGTH}
      height={2 * HALF}
      role="img"
      aria-label={
        narrower
          ? t("Uncertainty ± {0} %; after the next step ± {1} %", percent(now_pct), percent(after_pct))
          : t("Uncertainty ± {0} %", percent(now_pct))
      }
    >
      <path className="wedge-now" d={`M0 0L${LENGTH} ${-HALF}V${HALF}Z`} style={side(now_pct)} />
      {narrower && <path className="wedge-after" d={`M0 0L${LENGTH} ${-HALF}V${HALF}Z`} style={side(after_pct)} />}
    </svg>
  );
}
