import { useEffect, useMemo, useSyncExternalStore } from "react";
import { api, data, type Installation } from "../../api/client";
import { type Evaluating, Evaluator } from "../../editing/evaluator";
import { useUnits } from "../../ui/units";

const evaluate = (document: Installation, signal: AbortSignal) =>
  data(api.POST("/api/evaluate", { body: document, signal }));

/** What follows from a document that is being edited, and what is wrong with it now; its texts in this person's unit. */
export function useEvaluation(document: Installation, fallback?: Installation): Evaluating {
  const { label } = useUnits();
  // biome-ignore lint/correctness/useExhaustiveDependencies: in another unit all is asked for anew
  const evaluator = useMemo(() => new Evaluator(evaluate, fallback), [fallback, label]);
  useEffect(() => evaluator.want(document), [evaluator, document]);
  useEffect(() => evaluator.stop, [evaluator]);
  return useSyncExternalStore(evaluator.subscribe, evaluator.read);
}
