import { Away, isServerFault } from "./client";

const HEAL_MS = 15_000;

/** After how long it is asked for again: what failed heals by itself while it is looked at. */
export const askAgain = (error: unknown, otherwise_ms: number | false = false) =>
  error instanceof Away || isServerFault(error) ? HEAL_MS : otherwise_ms;

/** What may be another time: the server cannot be reached, or it failed. A refusal stays one. */
export const worthAnother = (tries: number, error: unknown) =>
  (error instanceof Away && tries < 20) || (isServerFault(error) && tries < 5);
