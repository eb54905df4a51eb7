import type { Installation } from "../api/client";
import { dropKept, keepText, keysOf, readKept } from "../ui/device";
import type { Kept as KeptEdits } from "./session";

/** Edits that are not saved yet, as they lie on this device, or the text of such that cannot be used. */
export type Kept = KeptEdits<Installation> & { touched: number };
export type Found = { kept?: Kept; broken?: string; key?: string };

const PREFIX = "wheelometron.edits";
const ORPHANED_MS = 12_000;
export const TOUCH_MS = 4_000;

/** Of this page alone: a duplicated tab is another page. */
const PAGE = Math.random().toString(36).slice(2, 12);

/** Edits of an installation belong to the account that made them: the next person on a shared device does not get them. */
const ofAccount = (account: string, installation: number) =>
  `${PREFIX}.${encodeURIComponent(account)}.${installation}.`;

export function keep(account: string, installation: number, edits: KeptEdits<Installation>, touched = Date.now()) {
  keepText("local", ofAccount(account, installation) + PAGE, JSON.stringify({ ...edits, touched }));
}

/** The page is going: the next one need not wait to see whether this one is alive. */
export function release(account: string, installation: number, edits: KeptEdits<Installation>) {
  keep(account, installation, edits, 0);
}

export function forget(account: string, installation: number) {
  dropKept("local", ofAccount(account, installation) + PAGE);
}

/**
 * What a page that is gone left behind; `like` is the saved document.
 * Changes nothing, since a render may be started more than once: `taken` is called once it stands.
 */
export function recover(account: string, installation: number, like: Installation): Found {
  for (const key of keysOf("local", ofAccount(account, installation))) {
    const text = readKept("local", key);
    if (text === null) continue;
    const kept = asKept(text, like);
    if (!kept) return { broken: text, key };
    if (key.endsWith(`.${PAGE}`)) return { kept }; // of a session of this page that has ended: the next one goes on there
    if (Date.now() - kept.touched > ORPHANED_MS) return { kept, key };
  }
  return {};
}

/** What was recovered is in this page's hands now, or shown as broken: it is removed from where it lay. */
export function taken({ key }: Found) {
  if (key) dropKept("local", key);
}

function asKept(text: string, like: Installation): Kept | null {
  try {
    const kept = JSON.parse(text);
    const documents = [kept.document, kept.sent, kept.base.document, kept.sending?.document ?? like];
    const numbers = [kept.touched, kept.base.number, kept.base.amended];
    return numbers.every(Number.isFinite) && documents.every((document) => sameShape(like, document)) ? kept : null;
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
