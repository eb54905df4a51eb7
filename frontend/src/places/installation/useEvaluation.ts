import { useEffect, useState } from "react";
import { Away, api, data, type Evaluated, type FieldProblem, type Installation, Refusal } from "../../api/client";
import { useUnits } from "../../ui/units";

const PAUSE_MS = 30;
const RETRY_MS = 2000;

export type Evaluating = {
  evaluated?: Evaluated;
  /** The document the state below is about. */
  of?: Installation;
  problems: FieldProblem[];
  away: boolean;
  signedOut: boolean;
};

const evaluate = (document: Installation, signal: AbortSignal) =>
  data(api.POST("/api/evaluate", { body: document, signal }));

/** A refusal that names no field stands for the whole document. */
const unexplained = (error: Refusal): FieldProblem => ({
  path: "",
  message: error.message,
  remedy: "Undo the last change.",
  limit: "",
  value: "",
});

/**
 * The last good evaluation of a document that is being edited, and what is wrong with it now.
 * `fallback` is the saved document: its figures stand until there are better ones.
 */
export function useEvaluation(document: Installation, fallback?: Installation): Evaluating {
  const { speedUnit } = useUnits();
  const [state, set] = useState<Evaluating>({ problems: [], away: false, signedOut: false });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the texts of an evaluation are in this person's unit
  useEffect(() => {
    const cancel = new AbortController();
    let timer = window.setTimeout(ask, PAUSE_MS);
    async function ask() {
      try {
        const evaluated = await evaluate(document, cancel.signal);
        if (!cancel.signal.aborted) set({ evaluated, of: document, problems: [], away: false, signedOut: false });
      } catch (error) {
        if (cancel.signal.aborted) return;
        if (error instanceof Refusal && error.status !== 401) {
          const last = fallback && (await evaluate(fallback, cancel.signal).catch(() => undefined));
          if (cancel.signal.aborted) return;
          set((old) => ({
            ...old,
            evaluated: old.evaluated ?? last,
            of: document,
            problems: error.problems.length > 0 ? error.problems : [unexplained(error)],
            away: false,
          }));
        } else if (error instanceof Refusal && error.status === 401) set((old) => ({ ...old, signedOut: true }));
        else if (error instanceof Away) {
          set((old) => ({ ...old, away: true }));
          timer = window.setTimeout(ask, RETRY_MS);
        }
      }
    }
    return () => {
      cancel.abort();
      window.clearTimeout(timer);
    };
  }, [document, fallback, speedUnit]);
  return state;
}
