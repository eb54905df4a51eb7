import type { Catalogue, Installation } from "../../api/client";
import { dropKept, keepText, readKept } from "../../ui/device";
import { DRIVE_FIELDS } from "../installation/shape";

export type Given = {
  vehicle: string;
  vehicleName: string;
  kind: string;
  purpose: string;
  marking: string;
  circumference: string;
  sensedAt: string;
  driven: string;
  drive: string;
  gears: Record<string, string>;
  target: string;
  count: string;
  sensor: string;
  encoding: string;
  setPulsesPerTurn: string;
  touched: string[];
};

export const BLANK: Given = {
  vehicle: "",
  vehicleName: "",
  kind: "car",
  purpose: "",
  marking: "",
  circumference: "",
  sensedAt: "not_stated",
  driven: "no",
  drive: "hub",
  gears: {},
  target: "toothed_ring",
  count: "",
  sensor: "hall_gear_tooth",
  encoding: "pulses_per_km",
  setPulsesPerTurn: "1",
  touched: [],
};

/** What is not created yet is kept in the tab, for the account that entered it. */
const keyOf = (account: string) => `wheelometron.new.${encodeURIComponent(account)}`;

export const keepGiven = (account: string, given: Given) => keepText("session", keyOf(account), JSON.stringify(given));
export const dropGiven = (account: string) => dropKept("session", keyOf(account));

/** What this account had entered; what is not of the form's own shape counts as nothing. */
export function keptGiven(account: string): Given {
  try {
    const kept = JSON.parse(readKept("session", keyOf(account)) ?? "{}");
    const names = Object.keys(BLANK) as (keyof Given)[];
    const same = names.every(
      (name) =>
        kept[name] === undefined ||
        (kept[name] !== null &&
          typeof kept[name] === typeof BLANK[name] &&
          Array.isArray(kept[name]) === Array.isArray(BLANK[name])),
    );
    return same ? { ...BLANK, ...kept } : BLANK;
  } catch {
    return BLANK;
  }
}

export const driveFields = (kind: string) =>
  kind === "axle_ratio" ? [{ name: "ratio", label: "Axle ratio", hint: "3.73, 41/11" }] : (DRIVE_FIELDS[kind] ?? []);

/** What was typed, as an installation document. */
export function documentOf(given: Given): Installation {
  const onWater = given.kind === "boat";
  const entries = Object.fromEntries(driveFields(given.drive).map(({ name }) => [name, given.gears[name] ?? ""]));
  const driven = given.driven === "yes";
  const drive = { kind: given.drive, driven, ...(given.drive === "hub" ? {} : { [given.drive]: entries }) };
  const wheel = onWater
    ? { method: "paddle", paddle: { pulses_per_nautical_mile: given.circumference || "20000" } }
    : given.marking === "" && given.circumference !== ""
      ? { method: "entered", entered: { circumference_mm: given.circumference } }
      : { method: "marking", marking: { text: given.marking } };
  return {
    name: "Speed",
    purpose: given.purpose || "true_speed",
    vehicle_kind: given.kind,
    sensed_at: onWater ? "hull" : given.sensedAt,
    check_speed_kmh: onWater ? "10 kn" : "100",
    wheel,
    drive,
    target: { kind: given.target, count: given.count },
    sensor: { kind: given.sensor },
    readouts: [{ name: "Display", encoding: given.encoding, set_pulses_per_turn: given.setPulsesPerTurn }],
  } as unknown as Installation;
}

/** Where a new installation on this kind of vehicle starts from, as the core's catalogue says. */
export function usual(catalogue: Catalogue, kind: string): Partial<Given> {
  const start = catalogue.starts.find((one) => one.vehicle_kind === kind);
  return start ? { kind, target: start.target_kind, sensor: start.sensor_kind, encoding: start.encoding } : { kind };
}
