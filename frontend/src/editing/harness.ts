/** What the tests of a session share: a server of the tests' own, and a session opened at it. For tests alone. */

import { afterEach, beforeEach, vi } from "vitest";
import { type Doors, EditSession, type Failure, type Kept, type Saved, type Sending } from "./session";

export type Paper = { name: string; count: number | string; tyre: { text: string; mm: number | null }; runs: number[] };
export const FIRST: Paper = { name: "Dash", count: 48, tyre: { text: "205/55R16", mm: null }, runs: [1, 2] };
export const HEAD: Saved<Paper> = { number: 1, amended: 0, document: FIRST };

/** A server that keeps revisions as ours does: optimistic, amending by edit key, idempotent by key; it answers when it is let. */
export class Server {
  head = { ...HEAD, editKey: "" };
  revisions = 1;
  answers = new Map<string, Saved<Paper>>();
  asked: Sending<Paper>[] = [];
  waiting: (() => void)[] = [];
  lose: "request" | "answer" | "500" | "401" | "422" | null = null;
  latency: number | null = 0;

  send = (sending: Sending<Paper>): Promise<Saved<Paper> | Failure<Paper>> => {
    this.asked.push(sending);
    return new Promise((resolve) => {
      const act = () => resolve(this.answer(sending));
      if (this.latency === null) this.waiting.push(act);
      else setTimeout(act, this.latency);
    });
  };

  answer(sending: Sending<Paper>): Saved<Paper> | Failure<Paper> {
    const trouble = this.lose;
    if (trouble === "request") return { kind: "away", message: "" };
    if (trouble === "500") return { kind: "failed", message: "The server failed." };
    if (trouble === "401") return { kind: "signed out", message: "" };
    if (trouble === "422") return { kind: "refused", message: "No." };
    const done = this.answers.get(sending.key) ?? this.write(sending);
    if ("kind" in done) return done;
    this.answers.set(sending.key, done);
    return trouble === "answer" ? { kind: "away", message: "" } : done;
  }

  write({ base, document, editKey }: Sending<Paper>): Saved<Paper> | Failure<Paper> {
    if (base.number !== this.head.number || base.amended !== this.head.amended)
      return { kind: "newer", theirs: this.stands(), message: "newer" };
    const stored = { ...document, count: Number(document.count) };
    const goesOn = editKey !== "" && editKey === this.head.editKey;
    this.head = goesOn
      ? { ...this.head, amended: this.head.amended + 1, document: stored }
      : { number: this.head.number + 1, amended: 0, document: stored, editKey };
    if (!goesOn) this.revisions += 1;
    return this.stands();
  }

  stands = (): Saved<Paper> => ({ number: this.head.number, amended: this.head.amended, document: this.head.document });

  /** Somebody else saves. */
  elsewhere(change: Partial<Paper>) {
    const document = { ...this.head.document, ...change };
    this.head = { number: this.head.number + 1, amended: 0, document, editKey: "theirs" };
    this.revisions += 1;
  }
}

/** Of the test that runs: the server, what is kept on the device, and whether documents are judged at once. */
export const at = { server: new Server(), kept: null as Kept<Paper> | null, keys: 0, judging: true };
let judged = new WeakSet<Paper>();

export function open(head = HEAD, from?: Kept<Paper>): EditSession<Paper> {
  const doors: Doors<Paper> = {
    send: (sending) => at.server.send(sending),
    keep: (edits) => {
      at.kept = edits;
    },
    newKey: () => `key-${at.keys++}`,
  };
  const session = new EditSession<Paper>(head, doors, from);
  session.subscribe(() => judge(session));
  judge(session);
  return session;
}

/** The evaluation says at once that all is well, unless the count is no number. */
export function judge(session: EditSession<Paper>) {
  const { document } = session.read();
  if (!at.judging || judged.has(document)) return;
  judged.add(document);
  session.judged(document, Number.isFinite(Number(document.count)));
}
/** As on a page of its own: what was judged before is not known. */
export const forget = () => {
  judged = new WeakSet();
};

export const later = (ms: number) => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  Object.assign(at, { server: new Server(), kept: null, keys: 0, judging: true });
  judged = new WeakSet();
});
afterEach(() => {
  vi.useRealTimers();
});
