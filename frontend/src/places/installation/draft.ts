import type { Installation } from "../../api/client";
import { dropKept, keepText, keysOf, readKept } from "../../ui/device";

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

/** What is not saved yet, or the text of a draft that cannot be used. */
export type Kept = { base: number; document: Installation; touched: number };
export type Found = { kept?: Kept; broken?: string; key?: string };

const PREFIX = "wheelometron.draft";
const ORPHANED_MS = 12_000;
export const TOUCH_MS = 4_000;

const tab = (() => {
  const known = readKept("session", "wheelometron.tab");
  const made = known ?? Math.random().toString(36).slice(2, 10);
  keepText("session", "wheelometron.tab", made);
  return made;
})();

/** Drafts of an installation belong to the account that made them: the next person on a shared device does not get them. */
const ofAccount = (account: string, installation: number) =>
  `${PREFIX}.${encodeURIComponent(account)}.${installation}.`;

/** Keep what is not saved yet, on this device, for this account and tab. */
export function keep(account: string, installation: number, base: number, document: Installation) {
  const kept: Kept = { base, document, touched: Date.now() };
  keepText("local", ofAccount(account, installation) + tab, JSON.stringify(kept));
}

export function forget(account: string, installation: number) {
  dropKept("local", ofAccount(account, installation) + tab);
}

/**
 * What this tab kept, or what a tab that is gone left behind. `like` is the saved document.
 * Changes nothing, since a render may be started more than once: `taken` is called once it stands.
 */
export function recover(account: string, installation: number, like: Installation): Found {
  const prefix = ofAccount(account, installation);
  const others = keysOf("local", prefix).filter((key) => key !== prefix + tab);
  for (const key of [prefix + tab, ...others]) {
    const text = readKept("local", key);
    if (text === null) continue;
    const kept = asKept(text, like);
    if (!kept) return { broken: text, key };
    if (key === prefix + tab) return { kept };
    if (Date.now() - kept.touched > ORPHANED_MS) return { kept, key };
  }
  return {};
}

/** What was recovered is in this tab's hands now, or shown as broken: it is removed from where it lay. */
export function taken({ key }: Found) {
  if (key) dropKept("local", key);
}

function asKept(text: string, like: Installation): Kept | null {
  try {
    const kept = JSON.parse(text);
    const whole = Number.isInteger(kept.base) && Number.isFinite(kept.touched) && sameShape(like, kept.document);
    return whole ? kept : null;
  } catch {
    return null;
  }
}

/** Whether groups are groups and lists are lists, as in a document that is known to be good; values may be wrong. */
export function sameShape(good: unknown, other: unknown): boolean {
  if (Array.isArray(good)) return Array.isArray(other) && other.every((item) => sameShape(good[0], item));
  if (good === null || typeof good !== "object")
    return good === null || good === undefined || typeof other !== "object";
  if (other === null || typeof other !== "object" || Array.isArray(other)) return false;
  return Object.entries(good).every(([name, value]) => {
    const mine = (other as Record<string, unknown>)[name];
    return mine === null || mine === undefined ? !Array.isArray(value) && !REQUIRED.has(name) : sameShape(value, mine);
  });
}

const REQUIRED = new Set(["wheel", "target", "sensor", "drive", "signal"]);
