import { applyPatches, enablePatches, type Patch, produce, produceWithPatches } from "immer";
import { type Clash, merge } from "./merge";
import { type Change, changesBetween, getIn, put, same } from "./paths";

enablePatches();

export const SAVE_AFTER_MS = 400;
export const RETRY_MS = 2500;
export const RETRY_FAILED_MS = 10_000;
/** Steps and drags of one field that follow each other so closely are one undo step. */
export const ONE_STEP_MS = 1500;
/** So long the same field, edited again, is the same decision, and amends its revision. */
export const ONE_EDIT_MS = 180_000;
const MOST_UNDO = 200;

export type SaveState = "saved" | "waiting" | "saving" | "away" | "failed" | "refused" | "conflict" | "signed out";

/** A revision as the server knows it. */
export type Saved<T> = { number: number; amended: number; document: T };
/** What is sent: kept until its answer is known, and sent again with the same key until then. */
export type Sending<T> = { base: Saved<T>; document: T; editKey: string; key: string };
/** How a save ended when it did not succeed. */
export type Failure<T> =
  | { kind: "newer"; theirs: Saved<T> | undefined; message: string }
  | { kind: "away" | "failed" | "signed out" | "refused"; message: string };
/** Edits that are not saved; `sending` is what was sent without an answer yet, to be sent again as it was. */
export type Kept<T> = { base: Saved<T>; sent: T; document: T; sending: Sending<T> | null };

export type Doors<T> = {
  send: (sending: Sending<T>, leaving: boolean) => Promise<Saved<T> | Failure<T>>;
  /** Keep what is not saved on this device, or forget it when all is saved. */
  keep: (kept: Kept<T> | null) => void;
  saved?: (revision: Saved<T>) => void;
  newKey: () => string;
};

export type Conflict<T> = { theirs: Saved<T>; clashes: Clash[] };
export type Snapshot<T> = {
  /** As it is on the screen, with what is being typed. */
  document: T;
  /** What it was before the last edit. */
  before: T | undefined;
  base: Saved<T>;
  save: SaveState;
  error: string;
  conflict: Conflict<T> | null;
  /** What was taken over from a revision that somebody else saved meanwhile. */
  taken: { number: number; paths: string[] } | null;
  canUndo: boolean;
  canRedo: boolean;
  /** What would be lost if the page went now. */
  unsaved: Kept<T> | null;
};

type Edit = { path: string; at: number; key: string; patches: Patch[]; inverse: Patch[] };

/**
 * A document being edited: own edits with undo, one save at a time, and nothing lost on the way.
 * Text that is being typed is a preview; it becomes an edit when it is committed.
 */
export class EditSession<T extends object> {
  private listeners = new Set<() => void>();
  private committed: T;
  private previews = new Map<string, unknown>();
  private shown: T;
  private before: T | undefined;
  private past: Edit[] = [];
  private future: Edit[] = [];
  private base: Saved<T>;
  /** The base as it was typed here: "3 ft" where the server stored millimetres. */
  private sent: T;
  private sending: Sending<T> | null = null;
  private flying = false;
  /** Nobody looks at it any more: what is left is sent without waiting for its evaluation. */
  private left = false;
  private keysSince = new Set<string>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private trouble: Failure<T> | null = null;
  private conflict: Conflict<T> | null = null;
  private taken: Snapshot<T>["taken"] = null;
  private valid = new WeakMap<T, boolean>();
  private snapshot: Snapshot<T>;

  constructor(
    head: Saved<T>,
    private doors: Doors<T>,
    kept?: Kept<T>,
  ) {
    this.base = kept?.base ?? head;
    this.sent = kept?.sent ?? head.document;
    this.committed = this.sent;
    this.shown = this.sent;
    this.snapshot = this.look();
    if (kept) {
      this.edit(changesBetween(this.sent, kept.document), "");
      const { sending } = kept;
      this.sending =
        sending && same(sending.document, this.committed) ? { ...sending, document: this.committed } : sending;
      if (this.sending) this.soon(0);
      else this.newer(head);
    }
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  read = () => this.snapshot;

  /** Show what is being typed, without making it an edit yet. */
  preview = (change: Change) => {
    this.previews.set(...change);
    this.shown = produce(this.committed, (draft) => {
      for (const one of this.previews) put(draft, one);
    });
    this.changed();
  };

  /** What is being typed becomes an edit. */
  commit = () => {
    if (this.previews.size === 0) return;
    const changes = [...this.previews];
    this.previews.clear();
    this.edit(changes, changes.at(-1)?.[0] ?? "");
  };

  /** One edit, of one field or of several together. */
  set = (...changes: Change[]) => {
    this.commit();
    this.edit(changes, changes.length === 1 ? (changes[0]?.[0] ?? "") : "");
  };

  /** The whole document, as one edit of those fields that differ. */
  replace = (document: T) => {
    this.commit();
    this.edit(changesBetween(this.committed, document), "");
  };

  undo = () => this.step("past", "future", "inverse");
  redo = () => this.step("future", "past", "patches");

  /** What the server did on this person's command is an own edit, and saved. */
  applied = (revision: Saved<T>) => {
    this.commit();
    this.edit(changesBetween(this.committed, revision.document), "");
    this.stands(revision, this.committed);
    this.changed();
  };

  /** A revision that was read from the server: if it is newer than the base, it is merged in. */
  newer = (revision: Saved<T>) => {
    const old = [this.base.number, this.base.amended] as const;
    const later = revision.number > old[0] || (revision.number === old[0] && revision.amended > old[1]);
    if (later && !this.sending && !this.conflict && this.previews.size === 0) this.mergeIn(revision);
  };

  /** Whether a document can be saved, as its evaluation says. */
  judged = (document: T, valid: boolean) => {
    this.valid.set(document, valid);
    if (document === this.committed && valid && this.dirty) this.soon(SAVE_AFTER_MS);
    if (document === this.shown && this.state() !== this.snapshot.save) this.changed();
  };

  /** For each field that both changed, whose value stands. */
  resolve = (theirs: ReadonlySet<string>) => {
    this.commit();
    if (!this.conflict) return;
    const { theirs: revision, clashes } = this.conflict;
    const merged = merge(this.sent, this.base.document, this.committed, revision.document);
    this.conflict = null;
    this.stands(revision, revision.document);
    const choices = clashes.filter(({ path }) => theirs.has(path));
    const document = produce(merged.document as T, (draft) => {
      for (const { path } of choices) put(draft, [path, getIn(revision.document, path) ?? null]);
    });
    this.becomes(document);
    this.soon(0);
    this.changed();
  };

  /** The page is being left: save now, and what follows as well. What cannot be sent is kept on the device. */
  leave = () => {
    this.left = true;
    this.commit();
    this.pump(true);
  };

  /** The page is there, or there again: what waited for the person to sign in is tried at once. */
  stay = () => {
    this.left = false;
    if (this.trouble?.kind === "signed out") this.soon(0);
  };

  dismissTaken = () => {
    this.taken = null;
    this.changed();
  };

  /** No more timers; what is in flight still ends. */
  rest = () => {
    clearTimeout(this.timer);
    this.timer = undefined;
  };

  private edit(changes: Change[], path: string) {
    const [next, patches, inverse] = produceWithPatches(this.committed, (draft) => {
      for (const change of changes) put(draft, change);
    });
    if (patches.length === 0 || same(next, this.committed)) {
      this.becomes(this.committed);
      this.changed();
      return;
    }
    const now = Date.now();
    const last = this.past.at(-1);
    const goesOn = last && path !== "" && last.path === path;
    const key = goesOn && now - last.at < ONE_EDIT_MS ? last.key : this.doors.newKey();
    if (goesOn && now - last.at < ONE_STEP_MS)
      this.past[this.past.length - 1] = {
        ...last,
        at: now,
        patches: [...last.patches, ...patches],
        inverse: [...inverse, ...last.inverse],
      };
    else this.past = [...this.past, { path, at: now, key, patches, inverse }].slice(-MOST_UNDO);
    this.future = [];
    this.keysSince.add(key);
    this.before = this.committed;
    this.becomes(same(next, this.shown) ? this.shown : next);
    this.soon(SAVE_AFTER_MS);
    this.changed();
  }

  private step(from: "past" | "future", to: "past" | "future", which: "patches" | "inverse") {
    this.commit();
    const edit = this[from].at(-1);
    if (!edit) return;
    this[from] = this[from].slice(0, -1);
    try {
      const next = applyPatches(this.committed, edit[which]) as T;
      this[to] = [...this[to], edit];
      this.before = this.committed;
      this.keysSince.add(this.doors.newKey());
      this.becomes(next);
      this.soon(SAVE_AFTER_MS);
    } catch {
      // the place it changed is gone, with a revision of somebody else
    }
    this.changed();
  }

  private becomes(document: T) {
    this.committed = document;
    this.previews.clear();
    this.shown = document;
    if (this.trouble?.kind === "refused") this.trouble = null;
  }

  private stands(revision: Saved<T>, sent: T) {
    this.base = revision;
    this.sent = sent;
    this.keysSince = new Set();
    this.trouble = null;
    this.doors.saved?.(revision);
  }

  private mergeIn(revision: Saved<T>) {
    this.commit();
    const { document, clashes, taken } = merge(this.sent, this.base.document, this.committed, revision.document);
    if (clashes.length > 0) {
      this.conflict = { theirs: revision, clashes };
      this.changed();
      return;
    }
    const dirty = !same(this.committed, this.sent);
    this.stands(revision, revision.document);
    this.becomes(same(document, revision.document) ? revision.document : (document as T));
    if (dirty && taken.length > 0) this.taken = { number: revision.number, paths: taken };
    this.soon(0);
    this.changed();
  }

  private soon(ms: number) {
    if (this.flying) return; // its end looks again
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.pump(this.left), ms);
  }

  private get dirty() {
    return this.committed !== this.sent;
  }

  private pump(leaving: boolean) {
    this.rest();
    if (this.flying || this.conflict) return;
    if (!this.sending) {
      if (!this.dirty) return;
      const valid = this.valid.get(this.committed);
      if (valid === false || (valid === undefined && !leaving)) return; // it is saved when its evaluation says so
      const [only, ...others] = this.keysSince;
      const editKey = only && others.length === 0 ? only : this.doors.newKey();
      this.sending = { base: this.base, document: this.committed, editKey, key: this.doors.newKey() };
      this.keysSince = new Set();
    }
    const sending = this.sending;
    this.flying = true;
    this.changed();
    this.doors.send(sending, leaving).then((answer) => {
      this.flying = false;
      if ("number" in answer) this.arrived(sending, answer);
      else this.failed(answer);
      this.changed();
    });
  }

  private arrived(sending: Sending<T>, revision: Saved<T>) {
    this.sending = null;
    const since = this.keysSince;
    this.stands(revision, sending.document);
    this.keysSince = since;
    if (this.dirty) this.soon(SAVE_AFTER_MS);
  }

  private failed(failure: Failure<T>) {
    this.trouble = failure;
    if (failure.kind === "away") this.soon(RETRY_MS);
    else if (failure.kind === "failed") this.soon(RETRY_FAILED_MS);
    else if (failure.kind === "refused") {
      this.valid.set(this.sending?.document ?? this.committed, false);
      this.sending = null;
      if (this.valid.get(this.committed)) this.soon(SAVE_AFTER_MS);
    } else if (failure.kind === "newer") {
      this.sending = null;
      this.trouble = null;
      if (failure.theirs) this.mergeIn(failure.theirs);
      else this.trouble = { kind: "failed", message: failure.message };
    }
  }

  private state(): SaveState {
    if (this.conflict) return "conflict";
    if (this.flying) return "saving";
    if (!this.dirty && this.previews.size === 0) return "saved";
    if (this.trouble && this.trouble.kind !== "newer") return this.trouble.kind;
    if (this.valid.get(this.shown) === false) return "refused";
    return "waiting";
  }

  private look(): Snapshot<T> {
    return {
      document: this.shown,
      before: this.shown === this.committed ? this.before : this.committed,
      base: this.base,
      save: this.state(),
      error: this.trouble?.message ?? "",
      conflict: this.conflict,
      taken: this.taken,
      canUndo: this.past.length > 0 || this.previews.size > 0,
      canRedo: this.future.length > 0,
      unsaved:
        this.dirty || this.previews.size > 0
          ? { base: this.base, sent: this.sent, document: this.shown, sending: this.sending }
          : null,
    };
  }

  private changed() {
    this.snapshot = this.look();
    this.doors.keep(this.snapshot.unsaved);
    for (const listener of this.listeners) listener();
  }
}
