import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Away, type Evaluation, type Installation, newKey, Refusal, type RevisionOut } from "../../api/client";
import { keys, saveInstallation } from "../../api/hooks";
import { differences, forget, keep, recover, setIn, TOUCH_MS, taken } from "./draft";
import { type Evaluating, useEvaluation } from "./useEvaluation";

const SAVE_AFTER_MS = 700;
/** Longer while the cursor is in a field, so that half a number does not become a revision. */
const SAVE_WHILE_TYPING_MS = 2000;
const RETRY_MS = 2500;
const RETRY_FAILED_MS = 10_000;
const SAME_EDIT_MS = 1200;
const MAX_UNDO = 200;

export type SaveState = "saved" | "waiting" | "saving" | "away" | "failed" | "refused" | "conflict" | "signed out";

const typing = () => /^(INPUT|TEXTAREA)$/.test(document.activeElement?.tagName ?? "");

type History = { past: Installation[]; present: Installation; future: Installation[]; path: string; at: number };

export type Draft = {
  document: Installation;
  base: number;
  evaluating: Evaluating;
  /** What followed from the document before the last edit, and the fields that edit changed. */
  before?: Evaluation;
  changed: string[];
  save: SaveState;
  saveError: string;
  conflict: RevisionOut | null;
  canUndo: boolean;
  canRedo: boolean;
  set: (path: string, value: unknown) => void;
  replace: (document: Installation) => void;
  undo: () => void;
  redo: () => void;
  keepMine: () => void;
  takeTheirs: () => void;
  /** The text of a draft kept on this device that cannot be used. */
  broken?: string;
};

/** An installation being edited: history, evaluation, autosave, and nothing lost on the way. */
export function useDraft(account: string, installationId: number, head: RevisionOut): Draft {
  const client = useQueryClient();
  const [found] = useState(() => recover(account, installationId, head.document));
  const { kept: start, broken } = found;
  const [history, setHistory] = useState<History>({
    past: start ? [head.document] : [],
    present: start?.document ?? head.document,
    future: [],
    path: "",
    at: 0,
  });
  const [base, setBase] = useState(start?.base ?? head.number);
  const [saved, setSaved] = useState<Installation | null>(start ? null : head.document);
  const [conflict, setConflict] = useState<RevisionOut | null>(null);
  const [attempt, setAttempt] = useState<{ state: SaveState; error: string; tries: number }>({
    state: "saved",
    error: "",
    tries: 0,
  });
  const document = history.present;
  const [fallback] = useState(head.document);
  const dirty = document !== saved;
  const evaluating = useEvaluation(document, fallback);
  const valid = evaluating.of === document && evaluating.problems.length === 0;
  const known = useRef(new WeakMap<Installation, Evaluation>());
  if (valid && evaluating.evaluated) known.current.set(document, evaluating.evaluated.result);
  const before = history.past.findLast((past) => known.current.has(past));
  const sent = useRef({ document: null as Installation | null, base: 0, key: "" });
  const newest = useRef(document);
  newest.current = document;

  useEffect(() => {
    if (!dirty) {
      forget(account, installationId);
      return;
    }
    keep(account, installationId, base, document);
    const touch = window.setInterval(() => keep(account, installationId, base, newest.current), TOUCH_MS);
    return () => window.clearInterval(touch);
  }, [account, installationId, base, document, dirty]);

  // after the effect above, which keeps it under this tab's own key
  useEffect(() => taken(found), [found]);

  useEffect(() => {
    if (head.number <= base) return;
    if (dirty && differences(newest.current, head.document).length > 0) setConflict(head);
    else adopt(head);
    function adopt(revision: RevisionOut) {
      setHistory((old) => ({
        ...old,
        past: [...old.past, old.present],
        present: revision.document,
        future: [],
        path: "",
      }));
      setBase(revision.number);
      setSaved(revision.document);
    }
  }, [head, base, dirty]);

  const save = stateOf();
  useEffect(() => {
    if (save === "signed out") client.invalidateQueries({ queryKey: keys.session });
  }, [save, client]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: `tries` repeats a save that found no server
  useEffect(() => {
    if (!dirty || !valid || conflict) return;
    const timer = window.setTimeout(
      async () => {
        setAttempt((old) => ({ ...old, state: "saving" }));
        try {
          if (sent.current.document !== document || sent.current.base !== base)
            sent.current = { document, base, key: newKey() };
          const revision = await saveInstallation(installationId, base, document, sent.current.key);
          client.setQueryData(
            keys.installation(installationId),
            (old: object | undefined) => old && { ...old, head: revision },
          );
          setBase(revision.number);
          setSaved(document);
          setAttempt({ state: "saved", error: "", tries: 0 });
          client.invalidateQueries({ queryKey: keys.revisions(installationId) });
          client.invalidateQueries({ queryKey: keys.vehicles });
        } catch (error) {
          if (error instanceof Refusal && error.status === 409 && error.theirs) setConflict(error.theirs);
          else if (error instanceof Refusal && error.status === 401)
            setAttempt({ state: "signed out", error: error.message, tries: 0 });
          else if (error instanceof Away) setAttempt((old) => ({ state: "away", error: "", tries: old.tries + 1 }));
          else if (error instanceof Refusal && error.status < 500)
            setAttempt({ state: "refused", error: error.message, tries: 0 });
          else
            setAttempt((old) => ({
              state: "failed",
              error: error instanceof Error ? error.message : "",
              tries: old.tries + 1,
            }));
        }
      },
      attempt.state === "failed"
        ? RETRY_FAILED_MS
        : attempt.state === "away"
          ? RETRY_MS
          : typing()
            ? SAVE_WHILE_TYPING_MS
            : SAVE_AFTER_MS,
    );
    return () => window.clearTimeout(timer);
  }, [installationId, base, document, dirty, valid, conflict, attempt.tries, client]);

  const replaceAs = useCallback((path: string, next: (present: Installation) => Installation) => {
    setHistory((old) => {
      const present = next(old.present);
      if (JSON.stringify(present) === JSON.stringify(old.present)) return old; // no edit, so nothing to undo
      const now = Date.now();
      const same = path !== "" && path === old.path && now - old.at < SAME_EDIT_MS;
      return {
        past: same ? old.past : [...old.past, old.present].slice(-MAX_UNDO),
        present,
        future: [],
        path,
        at: now,
      };
    });
  }, []);

  return {
    document,
    base,
    evaluating,
    before: before && known.current.get(before),
    changed: before && valid ? differences(before, document).map(([path]) => path) : [],
    save,
    broken,
    saveError: attempt.error,
    conflict,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    set: useCallback((path, value) => replaceAs(path, (present) => setIn(present, path, value)), [replaceAs]),
    replace: useCallback((next) => replaceAs("", () => next), [replaceAs]),
    undo: useCallback(
      () =>
        setHistory((old) => {
          const last = old.past.at(-1);
          if (!last) return old;
          return { past: old.past.slice(0, -1), present: last, future: [old.present, ...old.future], path: "", at: 0 };
        }),
      [],
    ),
    redo: useCallback(
      () =>
        setHistory((old) => {
          const [next, ...future] = old.future;
          if (!next) return old;
          return { past: [...old.past, old.present], present: next, future, path: "", at: 0 };
        }),
      [],
    ),
    keepMine: () => {
      if (conflict) setBase(conflict.number);
      setConflict(null);
    },
    takeTheirs: () => {
      if (!conflict) return;
      replaceAs("", () => conflict.document);
      setBase(conflict.number);
      setSaved(conflict.document);
      setConflict(null);
    },
  };

  function stateOf(): SaveState {
    if (conflict) return "conflict";
    if (!dirty) return "saved";
    if (evaluating.signedOut || attempt.state === "signed out") return "signed out";
    if (evaluating.away || attempt.state === "away") return "away";
    if (evaluating.problems.length > 0) return "refused";
    return ["saving", "refused", "failed"].includes(attempt.state) ? attempt.state : "waiting";
  }
}
