import type { StageName } from "../api/client";
import { STAGES, stageLabel } from "../speedline/stages";
import { fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

interface Move {
  stage: StageName;
  minutes: number;
}

const [WIDTH, LEFT, RIGHT, TOP, ROW, BAR] = [560, 96, 16, 10, 34, 11];

/** Moves one after the other: when each began, and how long it took. */
function inTime(moves: readonly Move[]) {
  let begin = 0;
  return moves.map(({ stage, minutes }) => {
    begin += minutes;
    return { stage, minutes, begin: begin - minutes };
  });
}

/** Where the minutes of a search went, stage by stage: one's own way, and below it in each row an expert's. */
export function Ways({
  own,
  expert = [],
  afloat,
}: {
  own: readonly Move[];
  expert?: readonly Move[];
  afloat: boolean;
}) {
  const total = (moves: readonly Move[]) => moves.reduce((sum, move) => sum + move.minutes, 0);
  const [mine, theirs] = [total(own), total(expert)];
  const longest = Math.max(mine, theirs, 1);
  const x = (minutes: number) => LEFT + ((WIDTH - LEFT - RIGHT) * minutes) / longest;
  const height = TOP + ROW * STAGES.length + 30;
  const bars = (moves: readonly Move[], ink: string, below: number) =>
    inTime(moves).map(({ stage, minutes, begin }) => (
      <rect
        key={begin}
        className={ink}
        x={x(begin)}
        width={Math.max(x(begin + minutes) - x(begin) - 2, 2)}
        y={TOP + ROW * STAGES.indexOf(stage) + 4 + below}
        height={BAR}
        rx={2}
      />
    ));
  return (
    <Drawing
      width={WIDTH}
      height={height}
      max="100%"
      describe={
        expert.length > 0
          ? t("Your way took {0} min, an expert's {1} min.", fixed(mine, 0), fixed(theirs, 0))
          : t("Your way so far: {0} min.", fixed(mine, 0))
      }
    >
      {STAGES.map((name, row) => (
        <g key={name}>
          <text className="small" x={LEFT - 8} y={TOP + ROW * (row + 0.5) + 5} textAnchor="end">
            {stageLabel(name, afloat)}
          </text>
          <path className="thin" d={`M${LEFT} ${TOP + ROW * (row + 1)}H${WIDTH - RIGHT}`} style={{ opacity: 0.35 }} />
        </g>
      ))}
      {bars(own, "solid", 0)}
      {bars(expert, "actfill", BAR + 2)}
      <text className="small" x={LEFT} y={height - 8}>
        0
      </text>
      <text className="small" x={WIDTH - RIGHT} y={height - 8} textAnchor="end">
        {t("{0} min", fixed(longest, 0))}
      </text>
    </Drawing>
  );
}
