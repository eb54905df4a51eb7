import type { Catalogue, Installation } from "../../api/client";

type Entries = Record<string, Record<string, unknown>>;

/** The entries a method, a kind of drive or a way of typing needs, empty: nothing is made up to be overlooked. */
export const EMPTY: Record<string, Entries> = {
  wheel: {
    marking: { text: "" },
    chart: { label: "", circumference_mm: "" },
    taped_diameter: { diameter_mm: "" },
    taped_circumference: { circumference_mm: "" },
    axle_height: { axle_height_mm: "" },
    roll_out: { turns: 3, distance_mm: "" },
    speed_derived: { set_circumference_mm: "", basis: "satellite_speed" },
    entered: { circumference_mm: "" },
    paddle: { pulses_per_nautical_mile: 20000 },
    corrections: {},
    measured: {},
  },
  sensor: { needs: {} },
  target: { ring: { diameter_mm: "" }, magnets: {}, spokes: {}, cut: {} },
  signal: {
    vr: { measured_vpp: "", at_hz: "" },
    measured: { low_v: "", high_v: "" },
    lead: {},
    conditioner: { kind: "comparator" },
    converter: { target_pulses_per_km: "" },
    analogue: {},
  },
  drive: {
    axle_ratio: { ratio: "" },
    sprockets: { wheel_teeth: "", shaft_teeth: "" },
    transfer_box: { axle_ratio: "", low_ratio: "" },
    hub_motor: { gear_ratio: 1 },
    cable: { axle_ratio: "", drive_teeth: "", driven_teeth: "" },
  },
};

/** What a way of typing the setting in needs beside the number. */
export const READOUT_NEEDS: Record<string, Record<string, unknown>> = {
  percent_correction: { base_pulses_per_km: "" },
  frequency_table: { table: [{ speed_kmh: 40 }, { speed_kmh: 80 }, { speed_kmh: 120 }] },
  chart_code: { codes: [{ code: "1", circumference_mm: "" }] },
  custom: { custom: { label: "Custom", direct: true, scale: 1 } },
};

export type EntryField = { name: string; label: string; unit?: string; hint?: string; nudge?: number };

/** The quantities of each kind of drive. */
export const DRIVE_FIELDS: Record<string, EntryField[]> = {
  sprockets: [
    { name: "wheel_teeth", label: "Teeth at the wheel" },
    { name: "shaft_teeth", label: "Teeth at the sensed shaft" },
  ],
  transfer_box: [
    { name: "axle_ratio", label: "Axle ratio", nudge: 0.01, hint: "3.73, 41/11" },
    { name: "low_ratio", label: "Low range ratio", nudge: 0.01, hint: "2.72" },
  ],
  hub_motor: [{ name: "gear_ratio", label: "Rotor turns per wheel turn", nudge: 0.1, hint: "1 without gears inside" }],
  cable: [
    { name: "axle_ratio", label: "Axle ratio", nudge: 0.01, hint: "3.73, 41/11" },
    { name: "drive_teeth", label: "Drive gear, teeth" },
    { name: "driven_teeth", label: "Driven gear, teeth" },
  ],
};

/** The methods that make sense on this kind of vehicle, and those that have entries all the same. */
export const methodsFor = (catalogue: Catalogue, { vehicle_kind, wheel }: Installation) =>
  catalogue.wheel_methods.filter(
    ({ code, vehicle_kinds }) =>
      code !== "combined" &&
      (vehicle_kinds.includes(vehicle_kind) || (wheel as unknown as Record<string, unknown>)[code] != null),
  );

/** The change that writes one field, making the entries it belongs to where there are none yet. */
export function grown(document: unknown, path: string, value: unknown): [string, unknown] {
  const [stage, part, field, ...rest] = path.split(".");
  const blank = stage && part ? EMPTY[stage]?.[part] : undefined;
  const held = (document as Record<string, Record<string, unknown> | undefined>)[stage ?? ""]?.[part ?? ""];
  if (!blank || !field || rest.length > 0 || held) return [path, value];
  return [`${stage}.${part}`, { ...blank, [field]: value }];
}
