import { useBreakpointValue } from "@chakra-ui/react";
import type { Schemas } from "../api/client";
import { digits } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";
import { Handle } from "./Handle";

const LEFT = 88;
const RIGHT = 12;
const RAW = { top: 8, height: 116 };
const OUT = { top: 138, height: 30 };
const COUNTED = { top: 182, height: 18 };
const BEHIND = { top: 212, height: 18 };

export type Cursors = [number, number];

/** The scope: raw signal with the levels it switches at, what is made of it, the edges counted; two cursors. */
export function BenchScope({
  scope,
  cursors,
  move,
  text,
}: {
  scope: Schemas["ScopeFrame"];
  /** Places of the cursors, in percent of the width. */
  cursors: Cursors;
  move: (cursors: Cursors) => void;
  text: string;
}) {
  const width = useBreakpointValue({ base: 380, md: 820 }) ?? 820;
  const behind = scope.converted_ms.length > 0;
  const height = (behind ? BEHIND.top + BEHIND.height : COUNTED.top + COUNTED.height) + 34;
  const most = Math.max(...scope.raw.map(Math.abs), Math.abs(scope.switches_at)) * 1.1;
  const least = scope.releases_at < 0 || Math.min(...scope.raw) < -0.1 * most ? -most : -0.15 * most;
  const span = width - LEFT - RIGHT;
  const samples = scope.raw.length - 1;
  const x = (place: number) => (LEFT + (span * place) / samples).toFixed(1);
  const at = (ms: number) => LEFT + (span * ms) / scope.span_ms;
  const y = (raw: number) => (RAW.top + (RAW.height * (most - raw)) / (most - least)).toFixed(1);
  const raw = scope.raw.map((value, place) => `${x(place)} ${y(value)}`).join("L");
  const level = (high: number | undefined) => OUT.top + (high ? 0 : OUT.height);
  const out = scope.high
    .flatMap((high, place) =>
      place > 0 && high !== scope.high[place - 1]
        ? [`${x(place)} ${level(scope.high[place - 1])}`, `${x(place)} ${level(high)}`]
        : place === 0 || place === samples
          ? [`${x(place)} ${level(high)}`]
          : [],
    )
    .join("L");
  const ticks = (times: number[], { top, height: tall }: typeof COUNTED) =>
    times.map((ms) => `M${at(ms).toFixed(1)} ${top + tall}V${top}`).join("");
  const bottom = height - 30;
  return (
    <Drawing width={width} height={height} describe={text} handled>
      <path className="thin" d={`M${LEFT} ${RAW.top}V${bottom}H${width - RIGHT}`} style={{ opacity: 0.5 }} />
      <path
        className="ghost"
        d={`M${LEFT} ${y(scope.switches_at)}H${width - RIGHT}M${LEFT} ${y(scope.releases_at)}H${width - RIGHT}`}
      />
      <path className="thin" d={`M${raw}`} style={{ stroke: "var(--chakra-colors-fg)" }} />
      <path className="act" d={`M${out}`} style={{ strokeWidth: 2.5 }} />
      <path className="ink" d={ticks(scope.counted_ms, COUNTED)} />
      {behind && <path className="act" d={ticks(scope.converted_ms, BEHIND)} />}
      <text className="small" x={2} y={RAW.top + 16}>
        {t("raw")}
      </text>
      <text className="small" x={2} y={RAW.top + 34}>
        {digits(most, 2)} {scope.unit === "V" ? "V" : "×"}
      </text>
      <text className="small" x={2} y={OUT.top + 20}>
        {t("squared")}
      </text>
      <text className="small" x={2} y={COUNTED.top + 14}>
        {t("counted")}
      </text>
      {behind && (
        <text className="small" x={2} y={BEHIND.top + 14}>
          {t("output")}
        </text>
      )}
      <text className="small" x={LEFT} y={height - 8}>
        0
      </text>
      <text className="small" x={width - RIGHT} y={height - 8} textAnchor="end">
        {t("{0} ms", digits(scope.span_ms, 3))}
      </text>
      {cursors.map((place, which) => {
        const here = LEFT + (span * place) / 100;
        const put = (value: number) => move(which === 0 ? [value, cursors[1]] : [cursors[0], value]);
        return (
          <Handle
            // biome-ignore lint/suspicious/noArrayIndexKey: there are two cursors, first and second
            key={which}
            label={t("Cursor {0}", which + 1)}
            text={t("{0} ms", digits((scope.span_ms * place) / 100, 3))}
            value={place}
            low={0}
            high={100}
            step={0.5}
            keys="level"
            read={(px) => (100 * (px - LEFT)) / span}
            change={put}
            done={() => undefined}
          >
            <path className="ghost" d={`M${here} ${RAW.top}V${bottom}`} style={{ strokeDasharray: "2 4" }} />
            <rect className="hit" x={here - 16} y={RAW.top} width={32} height={bottom - RAW.top + 12} />
            <path className="grip" d={`M${here} ${bottom - 12}l9 14h-18z`} />
          </Handle>
        );
      })}
    </Drawing>
  );
}
