import { useBreakpointValue } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { memo } from "react";
import type { Schemas } from "../api/client";
import { fixed } from "../ui/format";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const RIGHT = 14;
const ROW = 34;
const TOP = 8;

type Levels = { low_v: number; high_v: number };
type Band = {
  label: string;
  low: number;
  high: number;
  look: "soft" | "unsure" | "ghostband";
  side: "left" | "right";
};

/** Voltages side by side on one scale: what arrives, where it switches, and what the reader takes for low and high. */
export const LevelsView = memo(function LevelsView({
  arriving,
  atReader,
  comparator,
  input,
  reader,
}: {
  arriving: Levels | null;
  atReader: Levels | null;
  comparator: Schemas["SignalDetail"]["comparator"];
  input: { max_low_v?: unknown; min_high_v?: unknown; max_input_v?: unknown } | null;
  reader: string;
}) {
  const width = useBreakpointValue({ base: 400, md: 660 }) ?? 660;
  const names = width > 500 ? 150 : 104;
  const takes = input && {
    low: Number(input.max_low_v),
    high: Number(input.min_high_v),
    most: input.max_input_v == null ? null : Number(input.max_input_v),
  };
  const known = [
    0,
    ...(arriving ? [arriving.low_v, arriving.high_v] : []),
    ...(atReader ? [atReader.low_v, atReader.high_v] : []),
    ...(comparator ? [comparator.rising_high_v, comparator.falling_low_v] : []),
    ...(takes ? [takes.low, takes.high] : []),
  ];
  if (known.length === 1) return null;
  const least = Math.min(...known);
  const most = Math.max(...known, 1) * 1.12;
  const x = scaleLinear([least, most], [names, width - RIGHT]);
  const rows: { label: string; marks: Band[] }[] = [];
  if (arriving) rows.push({ label: t("signal"), marks: [band("", arriving.low_v, arriving.high_v, "soft")] });
  if (comparator)
    rows.push({
      label: t("thresholds"),
      marks: [
        band(t("falls"), comparator.falling_low_v, comparator.falling_high_v, "unsure", "left"),
        band(t("rises"), comparator.rising_low_v, comparator.rising_high_v, "unsure"),
      ],
    });
  if (atReader && atReader !== arriving && comparator)
    rows.push({ label: t("output"), marks: [band("", atReader.low_v, atReader.high_v, "soft")] });
  if (takes)
    rows.push({
      label: reader.slice(0, 14),
      marks: [
        band(t("low"), least, takes.low, "ghostband"),
        band(
          takes.most !== null && takes.most > most ? t("high, to {0} V", takes.most) : t("high"),
          takes.high,
          Math.min(takes.most ?? most, most),
          "ghostband",
        ),
      ],
    });
  const height = TOP + rows.length * ROW + 34;
  const levels = rows
    .map(
      ({ label, marks }) =>
        `${label}: ${marks.map((item) => t("{0} {1} to {2} V", item.label, fixed(item.low, 2), fixed(item.high, 2))).join(", ")}`,
    )
    .join("; ");
  return (
    <Drawing width={width} height={height} describe={t("Levels on one scale. {0}.", levels)}>
      {x.ticks(width > 500 ? 6 : 4).map((volts) => (
        <g key={volts}>
          <path className="thin" d={`M${x(volts)} ${TOP}V${height - 30}`} style={{ opacity: 0.35 }} />
          <text className="small" x={x(volts)} y={height - 12} textAnchor="middle">
            {Number(volts.toFixed(3))} V
          </text>
        </g>
      ))}
      {rows.map(({ label, marks }, place) => (
        <g key={label}>
          <text className="small" x={4} y={TOP + place * ROW + 22}>
            {label}
          </text>
          {marks.map((item) => (
            <g key={item.label}>
              <rect
                className={item.look === "ghostband" ? "soft" : item.look}
                style={item.look === "ghostband" ? { strokeDasharray: "5 4", fill: "none" } : undefined}
                x={x(item.low)}
                y={TOP + place * ROW + 6}
                width={Math.max(x(item.high) - x(item.low), 3)}
                height={22}
              />
              {item.label && <Words mark={item} from={x(item.low)} to={x(item.high)} y={TOP + place * ROW + 22} />}
            </g>
          ))}
        </g>
      ))}
    </Drawing>
  );
});

const band = (label: string, low: number, high: number, look: Band["look"], side: Band["side"] = "right"): Band => ({
  label,
  low,
  high,
  look,
  side,
});

/** The name of a band: inside where there is room, else beside it. */
function Words({ mark, from, to, y }: { mark: Band; from: number; to: number; y: number }) {
  const room = to - from > 9 * mark.label.length + 6;
  const left = mark.side === "left";
  return (
    <text
      className="small"
      x={room ? (from + to) / 2 : left ? from - 5 : to + 5}
      y={y}
      textAnchor={room ? "middle" : left ? "end" : "start"}
    >
      {mark.label}
    </text>
  );
}
