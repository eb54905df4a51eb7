const formats = new Map<string, Intl.NumberFormat>();
let locale = "en";

/** The language in which numbers and dates are written. */
export function formatIn(language: string) {
  locale = language;
  formats.clear();
  moments = undefined;
}

function format(options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const key = JSON.stringify(options);
  const known = formats.get(key) ?? new Intl.NumberFormat(locale, { useGrouping: false, ...options });
  formats.set(key, known);
  return known;
}

/** A number with so many decimal places. */
export const fixed = (value: number, places: number) => {
  const rounded = Number(value.toFixed(places)); // nothing is "−0.00"
  return format({ minimumFractionDigits: places, maximumFractionDigits: places }).format(rounded === 0 ? 0 : value);
};

/** A number with so many significant digits, written out: never as a power of ten. */
export const digits = (value: number, count: number) =>
  format({ minimumSignificantDigits: count, maximumSignificantDigits: count }).format(value);

/** A number with the digits its relative standard uncertainty [%] deserves: one of the uncertainty. */
export function figure(value: number, relativePct = 0): string {
  if (Number.isInteger(value)) return fixed(value, 0);
  const size = Math.floor(Math.log10(Math.abs(value)));
  const unsure = (Math.abs(value) * relativePct) / 100;
  const wanted = unsure > 0 ? -Math.floor(Math.log10(unsure)) : 5 - size;
  const most = Math.min(Math.max(wanted, 0), Math.max(5 - size, 0), 6);
  return format({ minimumFractionDigits: relativePct === 0 ? 0 : most, maximumFractionDigits: most }).format(value);
}

/** With its sign, also where it is a plus; zero has none. */
export function signed(value: number, places = 2): string {
  const text = fixed(Math.abs(value), places);
  if (Math.abs(value) < 0.5 / 10 ** places) return text;
  return `${value > 0 ? "+" : "−"}${text}`;
}

export const percent = (value: number) => (value >= 10 ? fixed(value, 0) : digits(value, 2));

/** Today where this person is, as documents write it. */
export const today = () => new Date().toLocaleDateString("sv");

/** A day, whole or short for an axis that spans weeks or months. */
export function dated(day: Date, across?: "weeks" | "months") {
  const style = {
    whole: { dateStyle: "medium" },
    weeks: { day: "numeric", month: "short" },
    months: { month: "short", year: "numeric" },
  } as const;
  return new Intl.DateTimeFormat(locale === "en" ? undefined : locale, style[across ?? "whole"]).format(day);
}

let moments: Intl.DateTimeFormat | undefined;

/** A date with its time, as this person writes them. */
export function when(iso: string) {
  moments ??= new Intl.DateTimeFormat(locale === "en" ? undefined : locale, {
    dateStyle: "medium",
    timeStyle: "short",
  });
  return moments.format(new Date(iso));
}
