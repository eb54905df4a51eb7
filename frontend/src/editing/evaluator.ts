import { replaceEqualDeep } from "@tanstack/react-query";
import { Away, type Evaluated, type FieldProblem, type Installation, isServerFault, Refusal } from "../api/client";
import { t } from "../ui/words";

export const RETRY_MS = 2000;
const LONGEST_RETRY_MS = 15_000;

export type Evaluating = {
  evaluated?: Evaluated;
  /** The document the state below is about. */
  of?: Installation;
  problems: FieldProblem[];
  away: boolean;
  /** The document at which the server failed: it may be good, and is asked about again. */
  failed?: Installation;
  signedOut: boolean;
};

type Ask = (document: Installation, signal: AbortSignal) => Promise<Evaluated>;
type Found = Pick<Evaluating, "evaluated" | "problems">;

/** A refusal that names no field stands for the whole document. */
const unexplained = (error: Refusal): FieldProblem => ({
  path: "",
  message: error.message,
  remedy: t("Undo the last change."),
  limit: "",
  value: "",
  missing: false,
});

/**
 * What follows from a document that is being edited. One request is under way at a time, and the next is about the
 * newest document, so that figures keep moving however slow the line is; what was asked before is known.
 */
export class Evaluator {
  private state: Evaluating = { problems: [], away: false, signedOut: false };
  private wanted?: Installation;
  private asking = false;
  private tries = 0;
  private timer?: number;
  private cancel = new AbortController();
  private known = new WeakMap<Installation, Found>();
  private listeners = new Set<() => void>();
  private ask: Ask;
  /** The saved document: its figures stand until there are better ones. */
  private fallback?: Installation;

  constructor(ask: Ask, fallback?: Installation) {
    this.ask = ask;
    this.fallback = fallback;
  }

  read = () => this.state;

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The document on the screen. */
  want = (document: Installation) => {
    if (this.cancel.signal.aborted) this.cancel = new AbortController();
    this.wanted = document;
    const found = this.known.get(document);
    if (found) this.say(document, found);
    else this.next();
  };

  stop = () => {
    this.cancel.abort();
    window.clearTimeout(this.timer);
    this.asking = false;
  };

  private next = async () => {
    const document = this.wanted;
    if (this.asking || !document) return;
    window.clearTimeout(this.timer);
    this.asking = true;
    const { signal } = this.cancel;
    const found = await this.find(document, signal);
    if (signal.aborted) return;
    this.asking = false;
    if (found) {
      this.known.set(document, found);
      if (!this.known.has(this.wanted as Installation) || this.wanted === document) this.say(document, found);
    }
    if (this.wanted !== document && !this.known.has(this.wanted as Installation)) this.next();
  };

  private async find(document: Installation, signal: AbortSignal): Promise<Found | undefined> {
    try {
      const evaluated = await this.ask(document, signal);
      this.tries = 0;
      return { evaluated: replaceEqualDeep(this.state.evaluated, evaluated), problems: [] };
    } catch (error) {
      if (signal.aborted) return undefined;
      if (isServerFault(error))
        this.later({ ...this.state, failed: document }, Math.min(RETRY_MS * 1.5 ** this.tries++, LONGEST_RETRY_MS));
      else if (error instanceof Refusal && error.status !== 401) {
        const problems = error.problems.length > 0 ? error.problems : [unexplained(error)];
        const last = this.state.evaluated ?? (await this.last(signal));
        return { evaluated: last, problems };
      } else if (error instanceof Refusal) this.set({ ...this.state, signedOut: true });
      else if (error instanceof Away) this.later({ ...this.state, away: true }, RETRY_MS);
      return undefined;
    }
  }

  private later(state: Evaluating, after_ms: number) {
    this.set(state);
    this.timer = window.setTimeout(this.next, after_ms);
  }

  private async last(signal: AbortSignal): Promise<Evaluated | undefined> {
    return this.fallback && this.ask(this.fallback, signal).catch(() => undefined);
  }

  private say(document: Installation, { evaluated, problems }: Found) {
    const kept = problems.length > 0 ? (this.state.evaluated ?? evaluated) : evaluated;
    this.set({ evaluated: kept, of: document, problems, away: false, failed: undefined, signedOut: false });
  }

  private set(state: Evaluating) {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}
