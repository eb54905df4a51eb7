import "./fromAbove.css";
import { Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useCatalogue } from "../../api/hooks";
import { VehicleBody } from "../../drawings/VehicleBody";
import { figure as written } from "../../ui/format";
import { isOtherwise, useShownNow } from "../../ui/shownNow";
import { isBad, STATES, type State } from "../../ui/states";
import { useUnits } from "../../ui/units";
import { listed, t } from "../../ui/words";
import { labelAt } from "../installation/schema";

type Out = Schemas["VehicleSheetOut"];
type Row = Out["sheet"]["rows"][number];
type Sensor = Out["from_above"]["sensors"][number];

const MOST_AT_A_PLACE = 2;
const ROWS = ["front", "middle", "rear"] as const;

/** The vehicle from above: what is sensed where, how that stands, and what its display shows at the speed of the sheet. */
export function FromAbove({ result }: { result: Out }) {
  const { sheet, vehicle, from_above: seen } = result;
  const says = useSays();
  const states = new Map(vehicle.installations?.map((item) => [item.id, item.state]));
  const rows = new Map(sheet.rows.map((row) => [row.installation, row]));
  const known = (sensor: Sensor) => rows.get(sensor.installation);
  const elsewhere = sheet.rows.filter((row) => !seen.sensors.some((item) => item.installation === row.installation));
  const at = (along: Sensor["along"], left: boolean) =>
    seen.sensors
      .filter((item) => item.along === along && (item.across === "left") === left)
      .map(known)
      .filter((row) => row !== undefined);
  return (
    <div data-testid="from-above">
      <div className="from-above">
        {ROWS.map((along) => (
          <Beside key={along} rows={at(along, true)} states={states} side="left" />
        ))}
        <div className="from-above-body">
          <VehicleBody
            kind={vehicle.kind}
            wheels={seen.wheels}
            sensed={seen.sensors.map((item) => ({ ...item, state: states.get(item.installation) }))}
            describe={t(
              "{0} from above, front at the top. {1}",
              vehicle.name,
              listed(...sheet.rows.map((row) => says(row, states.get(row.installation)))),
            )}
          />
        </div>
        {ROWS.map((along) => (
          <Beside key={along} rows={at(along, false)} states={states} side="right" />
        ))}
      </div>
      {elsewhere.length > 0 && (
        <Text fontSize="sm" color="fg.muted" mt={1}>
          {t("Not in the picture, as the sensed place is not stated: {0}", listed(...elsewhere.map((row) => row.name)))}
        </Text>
      )}
    </div>
  );
}

/** What stands beside one row of the vehicle. */
function Beside({ rows, states, side }: { rows: Row[]; states: Map<number, State>; side: "left" | "right" }) {
  return (
    <div className={`beside-${side}`} data-many={rows.length > 1 || undefined}>
      {rows.slice(0, MOST_AT_A_PLACE).map((row) => (
        <Sensing key={row.installation} row={row} state={states.get(row.installation)} />
      ))}
      {rows.length > MOST_AT_A_PLACE && (
        <span className="beside-small">{t("and {0} more, in the table", rows.length - MOST_AT_A_PLACE)}</span>
      )}
    </div>
  );
}

function Sensing({ row, state }: { row: Row; state?: State }) {
  const figure = useFigure();
  const [mark, word] = STATES[state ?? "unverified"];
  const display = row.displays[0];
  const [shown, unit] = display ? figure(row, display) : ["–", ""];
  return (
    <Link to={`/installation/${row.installation}/wheel`} className="beside" data-state={state}>
      <span className="beside-figure" data-bad={isOtherwise(display?.shown_now) || undefined}>
        {shown} <small>{unit}</small>
      </span>
      <span className="beside-name">{row.name}</span>
      <span className="beside-small" data-bad={isBad(state) || undefined}>
        {mark} {row.driven ? t("{0}, driven", word) : word}
      </span>
    </Link>
  );
}

function useFigure() {
  const { show } = useUnits();
  const really = useShownNow();
  return (row: Row, display: Row["displays"][number]): [shown: string, unit: string] => {
    if (isOtherwise(display.shown_now)) return really(display.shown_now);
    if (!display.shows_speed) return [written(row.pulses_per_turn_of_wheel), t("pulses per turn")];
    return show(display.shown_kmh, "km/h", row.expanded_uncertainty_pct / 2);
  };
}

/** One installation in words, for those who do not see the picture. */
function useSays() {
  const figure = useFigure();
  const catalogue = useCatalogue().data;
  return (row: Row, state?: State) =>
    t(
      "{0}, {1}: {2}, {3}",
      row.name,
      catalogue ? labelAt(catalogue, "sensed_at", row.sensed_at) : "",
      row.displays[0] ? figure(row, row.displays[0]).join(" ").trim() : "–",
      STATES[state ?? "unverified"][1],
    );
}
