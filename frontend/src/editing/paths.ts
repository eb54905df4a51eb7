/** Places in a plain document, by dotted paths. */

export type Json = null | boolean | number | string | Json[] | { [name: string]: Json };
/** A new value at a path; undefined takes the field away. */
export type Change = [path: string, value: unknown];

const isGroup = (value: unknown): value is Record<string, unknown> => value !== null && typeof value === "object";

/** Whether two plain values are the same, whatever the order of their names. */
export function same(one: unknown, other: unknown): boolean {
  if (one === other) return true;
  if (!isGroup(one) || !isGroup(other) || Array.isArray(one) !== Array.isArray(other)) return false;
  const names = Object.keys(one);
  return (
    names.length === Object.keys(other).length && names.every((name) => name in other && same(one[name], other[name]))
  );
}

/** The value at a dotted path of a plain document. */
export function getIn(document: unknown, path: string): Json | undefined {
  let place: unknown = document;
  for (const step of path.split(".")) {
    if (!isGroup(place)) return undefined;
    place = place[step];
  }
  return place as Json | undefined;
}

/**
 * Put a value into a document that may be changed (a draft), making the groups on the way.
 * A group is copied, since the next change may go into it.
 */
export function put(document: unknown, [path, value]: Change) {
  const steps = path.split(".");
  const last = steps.pop() as string;
  let place = document as Record<string, unknown>;
  for (const step of steps) {
    if (!isGroup(place[step])) place[step] = {};
    place = place[step] as Record<string, unknown>;
  }
  if (value === undefined) delete place[last];
  else place[last] = isGroup(value) ? structuredClone(value) : value;
}

/** What has to be put into one document to make it the other: single fields, whole lists where their lengths differ. */
export function changesBetween(one: unknown, other: unknown, path = ""): Change[] {
  if (same(one, other)) return [];
  const lists = [one, other].filter(Array.isArray) as unknown[][];
  const alike = isGroup(one) && isGroup(other) && lists.length !== 1 && lists[0]?.length === lists[1]?.length;
  if (!alike || (path === "" && lists.length > 0)) return [[path, other]];
  const names = new Set([...Object.keys(one), ...Object.keys(other)]);
  return [...names].flatMap((name) =>
    changesBetween(
      (one as Record<string, unknown>)[name],
      (other as Record<string, unknown>)[name],
      path ? `${path}.${name}` : name,
    ),
  );
}
