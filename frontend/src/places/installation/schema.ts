import type { Catalogue, FieldProblem, Installation, Schemas } from "../../api/client";
import { type Change, getIn, same } from "../../editing/paths";
import { STAGE_LABELS } from "../../speedline/stages";

export type DocumentField = Schemas["DocumentField"];

const indexes = new WeakMap<Catalogue, Map<string, DocumentField>>();

const placeless = (path: string) => path.replace(/\.\d+(?=\.|$)/g, "");

/** The field of the document at a path; places in lists do not matter. */
export function fieldAt(catalogue: Catalogue, path: string): DocumentField | undefined {
  let index = indexes.get(catalogue);
  if (!index) {
    index = new Map(catalogue.fields.map((field) => [field.path, field]));
    indexes.set(catalogue, index);
  }
  return index.get(placeless(path));
}

export const choicesAt = (catalogue: Catalogue, path: string) => fieldAt(catalogue, path)?.choices ?? [];

/** The label of one of a field's choices; nothing where there is no such choice. */
export const labelAt = (catalogue: Catalogue, path: string, code: string) =>
  choicesAt(catalogue, path).find((item) => item.code === code)?.label ?? "";

const parentOf = (path: string) => path.slice(0, Math.max(path.lastIndexOf("."), 0));
const nameOf = (path: string) => path.slice(path.lastIndexOf(".") + 1);

/** Whether a field applies with what the other fields of its part hold. */
export function applies(catalogue: Catalogue, document: unknown, path: string): boolean {
  const condition = fieldAt(catalogue, path)?.applies;
  if (!condition) return true;
  const other = `${parentOf(path)}.${condition.field}`;
  return condition.values.includes(String(getIn(document, other) ?? fieldAt(catalogue, other)?.usual));
}

/** The entries of a group as they begin: what is usual, and empty what is needed. Nothing is made up. */
export const begun = (catalogue: Catalogue, group: string): Record<string, unknown> =>
  Object.fromEntries(
    catalogue.fields
      .filter((field) => field.start !== null && parentOf(field.path) === placeless(group))
      .map((field) => [nameOf(field.path), field.start]),
  );

/** The change that writes one field, beginning the groups it belongs to where there are none yet. */
export function grown(catalogue: Catalogue, document: unknown, path: string, value: unknown): Change {
  const steps = path.split(".");
  const upTo = (count: number) => steps.slice(0, count).join(".");
  const missing = steps.findIndex((_, at) => at < steps.length - 1 && getIn(document, upTo(at + 1)) == null);
  if (missing < 0) return [path, value];
  const build = (count: number): unknown =>
    count === steps.length ? value : { ...begun(catalogue, upTo(count)), [steps[count] as string]: build(count + 1) };
  return [upTo(missing + 1), build(missing + 1)];
}

/** Whether a problem is still there: the server may have found it before the last thing that was typed. */
function stands(problem: FieldProblem, path: string, value: unknown): boolean {
  const now = problem.path === path ? value : getIn(value, problem.path.slice(path.length + 1));
  if (problem.missing) return now == null || now === "";
  return typeof now !== "string" || problem.value === "" || now.trim() === problem.value || problem.value.endsWith("…");
}

/** Entries that were begun and not filled in, or that cannot be used: nothing that would be missed. */
const isUnfinished = (catalogue: Catalogue, value: unknown, path: string, problems: readonly FieldProblem[]) =>
  value === "" ||
  (typeof value === "object" && value !== null && same(value, begun(catalogue, path))) ||
  problems.some(
    (problem) => (problem.path === path || problem.path.startsWith(`${path}.`)) && stands(problem, path, value),
  );

/**
 * The entries of a part of which another alternative is in use now: those left behind half filled are taken away, since
 * they are seen no more and nothing could be saved with them. What is complete stays known.
 */
export function withoutUnfinished<T extends object>(
  catalogue: Catalogue,
  part: T,
  path: string,
  problems: readonly FieldProblem[],
  left: (name: string) => boolean,
): T {
  const kept = Object.entries(part).map(([name, value]) => {
    const inner = `${path}.${name}`;
    const gone = left(name) && value != null && isUnfinished(catalogue, value, inner, problems);
    return [name, gone ? (Array.isArray(value) ? [] : null) : value];
  });
  return Object.fromEntries(kept) as T;
}

/** The change that makes a choice; what applied to another one only, and was not filled in, goes. */
export function chosen(
  catalogue: Catalogue,
  document: unknown,
  problems: readonly FieldProblem[],
  path: string,
  value: unknown,
): Change {
  const parent = parentOf(path);
  const part = parent && getIn(document, parent);
  if (!part || typeof part !== "object" || Array.isArray(part)) return grown(catalogue, document, path, value);
  const next = { ...part, [nameOf(path)]: value };
  const left = (name: string) => {
    const condition = fieldAt(catalogue, `${parent}.${name}`)?.applies;
    return condition?.field === nameOf(path) && !condition.values.includes(String(value));
  };
  const kept = withoutUnfinished(catalogue, next, parent, problems, left);
  return same(kept, next) ? [path, value] : [parent, kept];
}

/** What an emptied field holds: nothing, or no entry at all where a default stands for it, or a gap that is seen. */
export function emptied(field: DocumentField | undefined, path: string): "" | null | undefined {
  if (!field || /\.\d+$/.test(path)) return "";
  if (field.nullable) return null;
  return field.required ? "" : undefined;
}

/** The methods that make sense on this kind of vehicle, and those that have entries all the same. */
export const methodsFor = (catalogue: Catalogue, { vehicle_kind, wheel }: Installation) =>
  catalogue.wheel_methods.filter(
    ({ code, vehicle_kinds }) =>
      code !== "combined" &&
      (vehicle_kinds.includes(vehicle_kind) || (wheel as unknown as Record<string, unknown>)[code] != null),
  );

const STAGE_OF: Record<string, string> = { ...STAGE_LABELS, readouts: "Readout", placement: "Sensor" };

/** A field's path as a label: its stage and its title. */
export function fieldLabel(catalogue: Catalogue, path: string): string {
  const title =
    (fieldAt(catalogue, path) ?? fieldAt(catalogue, parentOf(path)))?.title ?? nameOf(path).replaceAll("_", " ");
  const stage = path.includes(".") ? STAGE_OF[path.split(".")[0] ?? ""] : undefined;
  return stage ? `${stage}: ${title.charAt(0).toLowerCase()}${title.slice(1)}` : title;
}

/** A value as people read it: the label of a choice, or what was typed. */
export function valueLabel(catalogue: Catalogue, path: string, value: unknown): string {
  if (value === null || value === undefined || value === "") return "empty";
  if (typeof value === "object") return "entered";
  return choicesAt(catalogue, path).find((item) => item.code === String(value))?.label ?? String(value);
}
