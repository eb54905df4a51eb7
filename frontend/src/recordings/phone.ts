import { dropKept, keepText, readKept } from "../ui/device";

/** One fix of the phone, and one press of "the display shows … now". */
export type Fix = {
  at_s: number;
  kmh: number | null;
  lat: number;
  lon: number;
  accuracy: number;
  course: number | null;
};
export type Mark = { at_s: number; kmh: number };
export type Kept = { vehicle: number; begun: string; fixes: Fix[]; marks: Mark[] };

const KEPT = "wheelometron.phone";
const KEEP_EVERY = 5;
const HELD_S = 3;

/** What is kept on this device: it outlives a reload, and a network that is away. */
export function keptRecording(): Kept | null {
  try {
    return JSON.parse(readKept("local", KEPT) ?? "null");
  } catch {
    return null;
  }
}

/** Keep it, now and then while it grows. */
export function keepRecording(kept: Kept | null, now = false) {
  if (kept === null) dropKept("local", KEPT);
  else if (now || kept.fixes.length % KEEP_EVERY === 0) keepText("local", KEPT, JSON.stringify(kept));
}

export function fixOf({ coords, timestamp }: GeolocationPosition): Fix {
  return {
    at_s: timestamp / 1000,
    kmh: coords.speed === null ? null : coords.speed * 3.6,
    lat: coords.latitude,
    lon: coords.longitude,
    accuracy: coords.accuracy,
    course: coords.heading === null || Number.isNaN(coords.heading) ? null : coords.heading,
  };
}

/** The recording as a table; what the display showed counts for some seconds around each press, while it was held. */
export function asTable({ fixes, marks }: Kept): string {
  const shownAt = (at: number) => marks.find((mark) => Math.abs(mark.at_s - at) <= HELD_S)?.kmh;
  const text = (value: number | null | undefined, places: number) => (value == null ? "" : value.toFixed(places));
  const lines = fixes.map((fix) =>
    [
      text(fix.at_s, 3),
      text(fix.kmh, 3),
      text(shownAt(fix.at_s), 2),
      text(fix.course, 1),
      text(fix.accuracy, 1),
      text(fix.lat, 7),
      text(fix.lon, 7),
    ].join(","),
  );
  const head =
    "time [s],satellite speed [km/h],display [km/h],course [deg],accuracy [m],latitude [deg],longitude [deg]";
  return `${[head, ...lines].join("\n")}\n`;
}
