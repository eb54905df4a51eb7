import type { Catalogue } from "../../api/client";
import { STAGE_LABELS } from "../../speedline/SpeedLine";

const STAGE_OF: Record<string, string> = { ...STAGE_LABELS, readouts: "Readout", placement: "Sensor" };

/** A field's path as a label: its stage and its title. */
export function fieldLabel({ titles }: Catalogue, path: string): string {
  const names = path.split(".").filter((name) => !/^\d+$/.test(name));
  const called = (parts: string[]) => titles.find((field) => field.path === parts.join("."))?.title;
  const title = called(names) ?? called(names.slice(0, -1)) ?? names.at(-1)?.replaceAll("_", " ") ?? "";
  const stage = names.length > 1 ? STAGE_OF[names[0] ?? ""] : undefined;
  return stage ? `${stage}: ${title.charAt(0).toLowerCase()}${title.slice(1)}` : title;
}

export const valueLabel = (value: unknown): string => {
  if (value === null || value === undefined || value === "") return "empty";
  if (typeof value === "object") return "entered";
  return String(value).replaceAll("_", " ");
};
