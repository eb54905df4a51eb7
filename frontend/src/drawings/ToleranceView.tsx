import { Box } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { fixed } from "../ui/format";
import { useTheme } from "../ui/theme";
import { useUnits } from "../ui/units";
import { t } from "../ui/words";
import { Drawing } from "./Drawing";

const LEFT = 58;
const TOP = 10;
const SIZE = { width: 420, height: 250 };
const WIDTH = LEFT + SIZE.width + 14;
const HEIGHT = TOP + SIZE.height + 48;

const ink = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`);

/**
 * Strength over sideways offset and clocking. Enough is filled, the fuller the surer; a line bounds it, so that
 * colour alone says nothing; where a reed would count twice it is hatched.
 */
export function ToleranceView({
  map,
  choose,
}: {
  map: Schemas["ToleranceMap"];
  choose: (sideways: number, clocking: number) => void;
}) {
  const theme = useTheme();
  const { own, show } = useUnits();
  const [unit, mm] = own("mm");
  const canvas = useRef<HTMLCanvasElement>(null);
  const reach = map.lateral_offset_mm.at(-1) ?? 1;
  const x = (sideways: number) => LEFT + (SIZE.width * (sideways + reach)) / (2 * reach);
  const y = (clocking: number) => TOP + (SIZE.height * (90 - clocking)) / 180;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the inks are those of the theme
  useEffect(() => {
    const place = canvas.current;
    const paint = place?.getContext("2d");
    if (!place || !paint) return;
    const columns = map.lateral_offset_mm.length;
    const rows = map.clocking_angle_deg.length;
    const left = (column: number) => Math.round((column * place.width) / columns);
    const under = (row: number) => place.height - Math.round((row * place.height) / rows);
    paint.clearRect(0, 0, place.width, place.height);
    const good = (row: number, column: number) => (map.ratio[row]?.[column] ?? 0) >= 1 && !map.double[row]?.[column];
    for (let row = 0; row < rows; row++) {
      for (let column = 0; column < columns; column++) {
        const ratio = map.ratio[row]?.[column] ?? 0;
        const [px, py] = [left(column), under(row + 1)];
        const [w, h] = [left(column + 1) - px, under(row) - py];
        if (good(row, column)) {
          paint.globalAlpha = Math.min(0.25 + 0.22 * (ratio - 1), 0.85);
          paint.fillStyle = ink("signal-fg");
          paint.fillRect(px, py, w, h);
        } else if (map.double[row]?.[column]) {
          paint.globalAlpha = 0.7;
          paint.strokeStyle = ink("fg");
          paint.beginPath();
          paint.moveTo(px, py + h);
          paint.lineTo(px + w, py);
          paint.stroke();
        }
        paint.globalAlpha = 1;
        paint.strokeStyle = ink("fg");
        paint.lineWidth = 2;
        if (column > 0 && good(row, column) !== good(row, column - 1)) line(paint, px, py, px, py + h);
        if (row > 0 && good(row, column) !== good(row - 1, column)) line(paint, px, py + h, px + w, py + h);
      }
    }
  }, [map, theme]);
  const here = { x: x(map.at_sideways_mm), y: y(map.at_clocking_deg) };
  return (
    <Box position="relative" maxW="620px" data-testid="tolerance">
      <canvas
        ref={canvas}
        width={SIZE.width * 2}
        height={SIZE.height * 2}
        aria-hidden
        style={{
          position: "absolute",
          pointerEvents: "none",
          left: `${(100 * LEFT) / WIDTH}%`,
          top: `${(100 * TOP) / HEIGHT}%`,
          width: `${(100 * SIZE.width) / WIDTH}%`,
          height: `${(100 * SIZE.height) / HEIGHT}%`,
        }}
      />
      <Drawing
        width={WIDTH}
        height={HEIGHT}
        describe={t(
          "Tolerance map: enough signal on {0} % of it. The sensor is at {1} to the side and {2} degrees.",
          fixed(map.share_pct, 0),
          show(map.at_sideways_mm, "mm", 5).join(" "),
          fixed(map.at_clocking_deg, 0),
        )}
      >
        {/* biome-ignore lint/a11y/noStaticElementInteractions: the keyboard has the handles and the fields */}
        <rect
          x={LEFT}
          y={TOP}
          width={SIZE.width}
          height={SIZE.height}
          className="ink"
          style={{ fill: "transparent", cursor: "crosshair" }}
          onClick={(event) => {
            const matrix = event.currentTarget.getScreenCTM()?.inverse();
            const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
            choose(((point.x - LEFT) / SIZE.width) * 2 * reach - reach, 90 - ((point.y - TOP) / SIZE.height) * 180);
          }}
        />
        {[-90, -45, 0, 45, 90].map((angle) => (
          <text key={angle} className="small" x={LEFT - 6} y={y(angle) + 5} textAnchor="end">
            {angle}°
          </text>
        ))}
        {scaleLinear([-reach / mm, reach / mm], [0, 1])
          .ticks(4)
          .map((shown) => [shown, shown * mm] as const)
          .map(([shown, offset]) => (
            <text key={shown} className="small" x={x(offset)} y={TOP + SIZE.height + 18} textAnchor="middle">
              {shown}
            </text>
          ))}
        <text className="small" x={LEFT + SIZE.width / 2} y={HEIGHT - 8} textAnchor="middle">
          {t("lateral offset, {0}; up: clocking angle", unit)}
        </text>
        <g pointerEvents="none">
          <circle className="panel" cx={here.x} cy={here.y} r={8} />
          <path className="ink" d={`M${here.x - 14} ${here.y}h28M${here.x} ${here.y - 14}v28`} />
          <text
            x={here.x + (here.x > LEFT + SIZE.width / 2 ? -14 : 14)}
            y={here.y + (here.y < TOP + 30 ? 26 : -10)}
            textAnchor={here.x > LEFT + SIZE.width / 2 ? "end" : "start"}
            style={{ paintOrder: "stroke", stroke: "var(--chakra-colors-bg-panel)", strokeWidth: 4 }}
          >
            {t("position now")}
          </text>
        </g>
      </Drawing>
    </Box>
  );
}

function line(paint: CanvasRenderingContext2D, x1: number, y1: number, x2: number, y2: number) {
  paint.beginPath();
  paint.moveTo(x1, y1);
  paint.lineTo(x2, y2);
  paint.stroke();
}
