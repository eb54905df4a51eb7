/** A field's path as a label: its last names, without unit. */
export function fieldLabel(path: string): string {
  const names = path.split(".").filter((name) => !/^\d+$/.test(name));
  return names
    .slice(-2)
    .join(" ")
    .replace(/_(mm|kmh|pct|bar|hz|km|us|ms|v|vpp|ohm|ma|nf|a|m)\b/g, "")
    .replaceAll("_", " ");
}

export const valueLabel = (value: unknown): string => {
  if (value === null || value === undefined || value === "") return "empty";
  if (typeof value === "object") return "entered";
  return String(value).replaceAll("_", " ");
};
