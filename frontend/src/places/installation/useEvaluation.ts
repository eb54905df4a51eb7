import { useEffect, useMemo, useSyncExternalStore } from "react";
import { api, data, type Installation, type RevisionOut } from "../../api/client";
import { evaluatedAhead } from "../../api/evaluatedAhead";
import { type Evaluating, Evaluator } from "../../editing/evaluator";
import { useUnits } from "../../ui/units";

type Saved = { id: number; head: RevisionOut };

/** What follows from a document; of the saved one that may have been asked for already. */
const evaluating = (saved?: Saved) => async (document: Installation, signal: AbortSignal) =>
  (saved?.head.document === document && (await evaluatedAhead(saved.id, saved.head))) ||
  data(api.POST("/api/evaluate", { body: document, signal }));

/** What follows from a document that is being edited, and what is wrong with it now; its texts in this person's unit. */
export function useEvaluation(document: Installation, saved?: Saved): Evaluating {
  const { label } = useUnits();
  // biome-ignore lint/correctness/useExhaustiveDependencies: in another unit all is asked for anew
  const evaluator = useMemo(() => new Evaluator(evaluating(saved), saved?.head.document), [saved, label]);
  useEffect(() => evaluator.want(document), [evaluator, document]);
  useEffect(() => evaluator.stop, [evaluator]);
  return useSyncExternalStore(evaluator.subscribe, evaluator.read);
}
