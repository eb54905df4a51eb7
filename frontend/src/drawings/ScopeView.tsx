import { useBreakpointValue } from "@chakra-ui/react";
import { memo } from "react";
import type { Schemas } from "../api/client";
import { fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const RAW = { top: 14, height: 88 };
const OUT = { top: 112, height: 22 };
const HEIGHT = 156;

/** The signal of a turn as a scope shows it: raw with the levels at which it switches, and what comes out. */
export const ScopeView = memo(function ScopeView({ scope }: { scope: Schemas["Scope"] }) {
  const width = useBreakpointValue({ base: 330, md: 660 }) ?? 660;
  const most = Math.max(...scope.raw.map(Math.abs), scope.switches_at) * 1.1;
  const least = scope.releases_at < 0 ? -most : -0.15 * most;
  const span = scope.time_ms.at(-1) ?? 1;
  const x = (time: number) => 6 + ((width - 12) * time) / span;
  const y = (raw: number) => RAW.top + (RAW.height * (most - raw)) / (most - least);
  const raw = scope.raw.map((value, place) => `${x(scope.time_ms[place] ?? 0).toFixed(1)} ${y(value).toFixed(1)}`);
  const out = scope.high.flatMap((value, place) => {
    const now = x(scope.time_ms[place] ?? 0).toFixed(1);
    const level = (high: number) => OUT.top + (high ? 0 : OUT.height);
    const last = scope.high[place - 1] ?? value;
    return last === value ? [`${now} ${level(value)}`] : [`${now} ${level(last)}`, `${now} ${level(value)}`];
  });
  return (
    <Drawing
      width={width}
      height={HEIGHT}
      describe={t(
        "Signal over {0} milliseconds: {1}. Raw signal above, with the levels at which it switches; counted pulses below.",
        fixed(span, 1),
        scope.text,
      )}
    >
      <path className="ghost" d={`M6 ${y(scope.switches_at)}H${width - 6}M6 ${y(scope.releases_at)}H${width - 6}`} />
      <path className="thin" d={`M${raw.join("L")}`} />
      <path className="act" d={`M${out.join("L")}`} style={{ strokeWidth: 2 }} />
      <text className="small" x={6} y={HEIGHT - 4}>
        {scope.text}
      </text>
      <text className="small" x={width - 6} y={HEIGHT - 4} textAnchor="end">
        {t("{0} ms", span < 10 ? fixed(span, 2) : fixed(span, 0))}
      </text>
    </Drawing>
  );
});
