import type { Catalogue, Installation } from "../../api/client";
import { dropKept, keepText, readKept } from "../../ui/device";
import { begun, fieldAt } from "../installation/schema";

export type Inputs = {
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
  /** Counts per turn that a reader accepts which compares them; empty: the usual ones. */
  leastCounts: string;
  mostCounts: string;
  /** Where a circumference that was typed is from. */
  source: string;
  touched: string[];
};

export const BLANK: Inputs = {
  vehicle: "",
  vehicleName: "",
  kind: "car",
  purpose: "",
  marking: "",
  circumference: "",
  sensedAt: "not_stated",
  driven: "false",
  drive: "hub",
  gears: {},
  target: "toothed_ring",
  count: "",
  sensor: "hall_gear_tooth",
  encoding: "pulses_per_km",
  setPulsesPerTurn: "1",
  leastCounts: "",
  mostCounts: "",
  source: "measured_elsewhere",
  touched: [],
};

/** What is not created yet is kept in the tab, for the account that entered it. */
const keyOf = (account: string) => `wheelometron.new.${encodeURIComponent(account)}`;

export const keepInputs = (account: string, inputs: Inputs) =>
  keepText("session", keyOf(account), JSON.stringify(inputs));
export const dropInputs = (account: string) => dropKept("session", keyOf(account));

/** What this account had entered; what is not of the form's own shape counts as nothing. */
export function keptInputs(account: string): Inputs {
  try {
    const kept = JSON.parse(readKept("session", keyOf(account)) ?? "{}");
    const names = Object.keys(BLANK) as (keyof Inputs)[];
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

/** The quantities that a kind of drive needs. */
export const driveFields = (catalogue: Catalogue, kind: string) =>
  (kind === "axle_ratio" ? ["ratio"] : Object.keys(begun(catalogue, `drive.${kind}`))).flatMap((name) => {
    const field = fieldAt(catalogue, `drive.${kind}.${name}`);
    return field ? [{ ...field, name }] : [];
  });

/** Whether a format asks for teeth and a gear ratio. */
export const isGeared = (catalogue: Catalogue, inputs: Inputs) =>
  catalogue.encodings.some((item) => item.code === inputs.encoding && item.geared);

/** Pulses per turn set in the reader: as typed; a reader that is set to teeth has those of the target. */
export const pulsesSet = (catalogue: Catalogue, inputs: Inputs) =>
  isGeared(catalogue, inputs) && !inputs.touched.includes("setPulsesPerTurn")
    ? inputs.count || "1"
    : inputs.setPulsesPerTurn;

/** Whether the reader of such a reading has no setting and compares the wheels' counts. */
export const comparesCounts = (catalogue: Catalogue, inputs: Inputs) =>
  catalogue.purposes.find((item) => item.code === inputs.purpose)?.entry === "counts";

/** What a field starts from where nothing is entered. */
export const usualAt = (catalogue: Catalogue, path: string) => fieldAt(catalogue, path)?.usual ?? "";

const startOf = (catalogue: Catalogue, kind: string) => catalogue.starts.find((item) => item.vehicle_kind === kind);

/** The usual constant of a paddle. */
export const usualPaddle = (catalogue: Catalogue) =>
  fieldAt(catalogue, "wheel.paddle.pulses_per_nautical_mile")?.usual ?? "";

/** What was typed, as an installation document; speeds start at round numbers of the person's own unit. */
export function documentOf(catalogue: Catalogue, inputs: Inputs, speedUnit: string): Installation {
  const onWater = inputs.kind === "boat";
  const start = startOf(catalogue, inputs.kind);
  const inMiles = speedUnit === "mph";
  const entries = Object.fromEntries(
    driveFields(catalogue, inputs.drive).map(({ name, usual }) => [name, inputs.gears[name] ?? usual]),
  );
  const driven = inputs.driven === "true";
  const drive = { kind: inputs.drive, driven, ...(inputs.drive === "hub" ? {} : { [inputs.drive]: entries }) };
  const wheel = onWater
    ? { method: "paddle", paddle: { pulses_per_nautical_mile: inputs.circumference || usualPaddle(catalogue) } }
    : inputs.marking === "" && inputs.circumference !== ""
      ? { method: "entered", entered: { circumference_mm: inputs.circumference, source: inputs.source } }
      : { method: "marking", marking: { text: inputs.marking } };
  return {
    name: "Speed",
    purpose: inputs.purpose || "true_speed",
    vehicle_kind: inputs.kind,
    sensed_at: onWater ? "hull" : inputs.sensedAt,
    check_speed_kmh: inMiles ? start?.check_speed_mph : start?.check_speed,
    wheel,
    drive,
    target: { kind: inputs.target, count: inputs.count },
    sensor: { kind: inputs.sensor },
    readouts: [
      {
        name: comparesCounts(catalogue, inputs) ? "Brake-control unit" : "Display",
        ...(comparesCounts(catalogue, inputs)
          ? {
              entry: "counts",
              least_pulses_per_turn: inputs.leastCounts || usualAt(catalogue, "readouts.0.least_pulses_per_turn"),
              most_pulses_per_turn: inputs.mostCounts || usualAt(catalogue, "readouts.0.most_pulses_per_turn"),
            }
          : {}),
        encoding: inputs.encoding,
        display_step_kmh: inMiles ? start?.display_step_mph : start?.display_step,
        set_pulses_per_turn: pulsesSet(catalogue, inputs),
        ...(isGeared(catalogue, inputs) && inputs.drive === "axle_ratio"
          ? { set_gear_ratio: inputs.gears.ratio || "1" }
          : {}),
      },
    ],
  } as unknown as Installation;
}

/** Where a new installation on this kind of vehicle starts from, as the core's catalogue says. */
export function usual(catalogue: Catalogue, kind: string): Partial<Inputs> {
  const start = startOf(catalogue, kind);
  if (!start) return { kind };
  const { target_kind: target, sensor_kind: sensor, encoding } = start;
  return { kind, target, sensor, encoding, sensedAt: "not_stated" };
}
