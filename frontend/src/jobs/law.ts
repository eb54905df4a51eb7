import { t } from "../ui/words";
import type { JobSheet } from "./queue";

type Step = JobSheet["steps"][number];

/** A number as typed, where it is in the step's own unit; what has another unit is computed once it is sent. */
const numberOf = (typed: string, unit: string) => {
  const plain = typed.replace(unit, "").trim().replace(",", ".");
  return /^\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
};

/** The number on the reader's steps, rounded as the law says. */
function rounded(exact: number, { step, rounding, minimum, maximum }: NonNullable<Step["law"]>): number {
  const places = exact / step;
  const whole = Math.round(places);
  const near = Math.abs(places - whole) < 1e-9 * Math.max(1, Math.abs(places));
  const place = near || rounding === "nearest" ? whole : rounding === "up" ? Math.ceil(places) : Math.floor(places);
  return Number(
    (Math.min(Math.max(place, Math.ceil(minimum / step)), Math.floor(maximum / step)) * step).toPrecision(12),
  );
}

/**
 * A step's text; where its number follows from what was measured here and is not sent yet, with that number, or with the
 * step that it waits for.
 */
export function textNow(step: Step, sheet: JobSheet, waiting: ReadonlyMap<string, string>): string {
  const { law } = step;
  if (!law || !step.pattern.includes("{number}") || !law.powers.some((power) => waiting.has(power.step)))
    return step.text;
  let exact = law.factor;
  for (const power of law.powers) {
    const at = sheet.steps.findIndex((item) => item.code === power.step);
    const typed = waiting.get(power.step);
    const value = typed === undefined ? sheet.records[at]?.number : numberOf(typed, sheet.steps[at]?.unit ?? "");
    if (value == null)
      return t("{0} The number follows after step {1}.", step.pattern.replace("{number}", "…"), at + 1);
    exact *= value ** power.exponent;
  }
  return step.pattern.replace("{number}", String(rounded(exact, law)));
}
