import type { Catalogue, Fit } from "../../api/client";
import { DRIVE_FIELDS } from "../fit/shape";

export const KEPT = "wheelometron.new";

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
  told: string;
  touched: string[];
};

export const BLANK: Given = {
  vehicle: "",
  vehicleName: "",
  kind: "car",
  purpose: "",
  marking: "",
  circumference: "",
  sensedAt: "unsaid",
  driven: "no",
  drive: "hub",
  gears: {},
  target: "toothed_ring",
  count: "",
  sensor: "hall_gear_tooth",
  encoding: "pulses_per_km",
  told: "1",
  touched: [],
};

export const driveFields = (kind: string) =>
  kind === "axle_ratio" ? [{ name: "ratio", label: "Axle ratio", hint: "3.73, 41/11" }] : (DRIVE_FIELDS[kind] ?? []);

/** What was typed, as a fit document. */
export function documentOf(given: Given): Fit {
  const onWater = given.kind === "boat";
  const entries = Object.fromEntries(driveFields(given.drive).map(({ name }) => [name, given.gears[name] ?? ""]));
  const driven = given.driven === "yes";
  const drive = { kind: given.drive, driven, ...(given.drive === "hub" ? {} : { [given.drive]: entries }) };
  const wheel = onWater
    ? { method: "paddle", paddle: { pulses_per_nautical_mile: given.circumference || "20000" } }
    : given.marking === "" && given.circumference !== ""
      ? { method: "typed", typed: { circumference_mm: given.circumference } }
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
    readouts: [{ name: "Display", encoding: given.encoding, told_pulses_per_turn: given.told }],
  } as unknown as Fit;
}

/** Where a new fit on this kind of vehicle starts from, as the core's catalogue says. */
export function usual(catalogue: Catalogue, kind: string): Partial<Given> {
  const start = catalogue.starts.find((one) => one.vehicle_kind === kind);
  return start ? { kind, target: start.target_kind, sensor: start.sensor_kind, encoding: start.encoding } : { kind };
}
