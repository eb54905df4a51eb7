/** A number with the digits its relative standard uncertainty [%] deserves: one of the uncertainty. */
export function figure(value: number, relativePct = 0): string {
  if (Number.isInteger(value)) return String(value);
  const size = Math.floor(Math.log10(Math.abs(value)));
  const unsure = (Math.abs(value) * relativePct) / 100;
  const digits = unsure > 0 ? -Math.floor(Math.log10(unsure)) : 5 - size;
  const shown = Math.min(Math.max(digits, 0), Math.max(5 - size, 0), 6);
  const text = value.toFixed(shown);
  return shown > 0 && relativePct === 0 ? text.replace(/\.?0+$/, "") : text;
}

export const signed = (value: number, digits = 2) => {
  const text = Math.abs(value).toFixed(digits);
  if (Number(text) === 0) return text;
  return `${value > 0 ? "+" : "−"}${text}`;
};

export const percent = (value: number) => (value >= 10 ? value.toFixed(0) : value.toPrecision(2));

/** Today where this person is, as documents write it. */
export const today = () => new Date().toLocaleDateString("sv");

export const when = (iso: string) =>
  new Date(iso).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
