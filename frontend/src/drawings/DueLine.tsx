import { scaleTime } from "d3-scale";
import { dated } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

export interface DueMark {
  /** Its place in the list. */
  number: number;
  on: Date;
  /** ± of a day that is forecast. */
  within_days: number;
  state: "overdue" | "soon" | "later";
}

const [WIDTH, SIDE, TOP, ROW] = [560, 40, 34, 28];
const DAY_MS = 86_400_000;
/** As many as a phone has room for. */
const MOST_DAYS = 4;

/** What is due, over time: a row each, with its ±, and today. */
export function DueLine({ marks, today }: { marks: DueMark[]; today: Date }) {
  const ends = marks.flatMap(({ on, within_days }) => [+on - within_days * DAY_MS, +on + within_days * DAY_MS]);
  const [first, last] = [Math.min(+today, ...ends), Math.max(+today, ...ends)];
  const room = Math.max((last - first) * 0.04, 3 * DAY_MS);
  const x = scaleTime([first - room, last + room], [SIDE, WIDTH - SIDE]);
  const ticks = x.ticks(MOST_DAYS);
  const every = Math.ceil(ticks.length / MOST_DAYS);
  const height = TOP + ROW * marks.length + 26;
  const bottom = height - 26;
  return (
    <Drawing
      width={WIDTH}
      height={height}
      max="100%"
      describe={t(
        "{0} items over time, from {1} to {2}; the list says the same.",
        marks.length,
        dated(new Date(first)),
        dated(new Date(last)),
      )}
    >
      {ticks.map((at, place) => (
        <g key={+at}>
          <path className="thin" d={`M${x(at)} ${TOP}V${bottom}`} style={{ opacity: 0.3 }} />
          {place % every === 0 && (
            <text className="small" x={x(at)} y={height - 6} textAnchor="middle">
              {dated(at, last - first > 150 * DAY_MS ? "months" : "weeks")}
            </text>
          )}
        </g>
      ))}
      <path className="act" d={`M${x(today)} ${TOP - 8}V${bottom}`} />
      <text className="small" x={x(today)} y={TOP - 14} textAnchor="middle">
        {t("today")}
      </text>
      {marks.map((mark, row) => (
        <Mark key={mark.number} {...mark} y={TOP + ROW * (row + 0.5)} at={(ms) => x(ms)} />
      ))}
    </Drawing>
  );
}

function Mark({ number, on, within_days, state, y, at }: DueMark & { y: number; at: (ms: number) => number }) {
  const [low, mid, high] = [-within_days, 0, within_days].map((days) => at(+on + days * DAY_MS)) as [
    number,
    number,
    number,
  ];
  return (
    <g>
      {within_days > 0 && <path className="thin" d={`M${low} ${y - 5}v10M${low} ${y}H${high}M${high} ${y - 5}v10`} />}
      {state === "overdue" ? (
        <path className="bad" d={`M${mid - 6} ${y - 6}l12 12m0-12l-12 12`} />
      ) : (
        <circle className={state === "soon" ? "actfill" : "ink"} cx={mid} cy={y} r={6} />
      )}
      <text className="small" x={Math.max(high, mid + 8) + 6} y={y + 5}>
        {number}
      </text>
    </g>
  );
}
