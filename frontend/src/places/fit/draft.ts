import type { Fit } from "../../api/client";

export type Json = null | boolean | number | string | Json[] | { [name: string]: Json };

/** The value at a dotted path of a plain document. */
export function getIn(document: unknown, path: string): Json | undefined {
  let place: unknown = document;
  for (const step of path.split(".")) {
    if (place === null || typeof place !== "object") return undefined;
    place = (place as Record<string, unknown>)[step];
  }
  return place as Json | undefined;
}

/** A copy of the document with the value at a dotted path replaced. */
export function setIn<T>(document: T, path: string, value: unknown): T {
  const [first, ...rest] = path.split(".") as [string, ...string[]];
  const old = (document as Record<string, unknown> | null)?.[first];
  const inner = rest.length ? setIn(old ?? {}, rest.join("."), value) : value;
  if (Array.isArray(document)) return document.map((item, place) => (String(place) === first ? inner : item)) as T;
  return { ...(document as object), [first]: inner } as T;
}

/** Every leaf that differs: path, mine, theirs. */
export function differences(mine: unknown, theirs: unknown, path = ""): [string, Json, Json][] {
  if (JSON.stringify(mine) === JSON.stringify(theirs)) return [];
  const both = [mine, theirs].every((side) => side !== null && typeof side === "object");
  if (!both) return [[path, (mine ?? null) as Json, (theirs ?? null) as Json]];
  const names = new Set([...Object.keys(mine as object), ...Object.keys(theirs as object)]);
  return [...names].flatMap((name) =>
    differences(
      (mine as Record<string, unknown>)[name],
      (theirs as Record<string, unknown>)[name],
      path ? `${path}.${name}` : name,
    ),
  );
}

export type Kept = { base: number; document: Fit; touched: number };

const PREFIX = "wheelometron.draft";
const ORPHANED_MS = 12_000;
export const TOUCH_MS = 4_000;

const tab = (() => {
  const known = sessionStorage.getItem("wheelometron.tab");
  const made = known ?? Math.random().toString(36).slice(2, 10);
  sessionStorage.setItem("wheelometron.tab", made);
  return made;
})();

const keyOf = (fit: number) => `${PREFIX}.${fit}.${tab}`;

/** Keep what is not saved yet, on this device, for this tab. */
export function keep(fit: number, base: number, document: Fit) {
  localStorage.setItem(keyOf(fit), JSON.stringify({ base, document, touched: Date.now() } satisfies Kept));
}

export function forget(fit: number) {
  localStorage.removeItem(keyOf(fit));
}

/** What this tab kept, or what a tab that is gone left behind. */
export function recover(fit: number): Kept | null {
  const own = localStorage.getItem(keyOf(fit));
  if (own) return JSON.parse(own) as Kept;
  for (const key of Object.keys(localStorage)) {
    if (!key.startsWith(`${PREFIX}.${fit}.`)) continue;
    const found = JSON.parse(localStorage.getItem(key) ?? "null") as Kept | null;
    if (found && Date.now() - found.touched > ORPHANED_MS) {
      localStorage.removeItem(key);
      return found;
    }
  }
  return null;
}
