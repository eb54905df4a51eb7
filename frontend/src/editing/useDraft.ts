import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import type { Evaluation, Installation, RevisionOut } from "../api/client";
import { keys } from "../api/hooks";
import { useEvaluation } from "../places/installation/useEvaluation";
import type { Evaluating } from "./evaluator";
import { keep, release, TOUCH_MS, taken } from "./kept";
import { changesBetween, getIn } from "./paths";
import type { Snapshot } from "./session";
import { asSaved, sessionFor } from "./sessions";

export type Draft = Omit<Snapshot<Installation>, "before"> & {
  evaluating: Evaluating;
  /** What followed from the document before the last edit, and the fields that edit changed. */
  before?: Evaluation;
  changed: string[];
  /** The text of edits kept on this device that cannot be used. */
  broken?: string;
  preview: (path: string, value: unknown) => void;
  commit: () => void;
  set: (path: string, value: unknown) => void;
  command: (run: Command) => Promise<void>;
  replace: (document: Installation) => void;
  applied: (revision: RevisionOut) => void;
  undo: () => void;
  redo: () => void;
  resolve: (theirs: ReadonlySet<string>) => void;
  dismissTaken: () => void;
};

/** A command of the server on a document. */
export type Command = (document: Installation) => Promise<Installation>;

/** One after the other, each on what the one before left. */
function inTurn<T>(act: (input: T) => Promise<void>): (input: T) => Promise<void> {
  let last: Promise<unknown> = Promise.resolve();
  return (input) => {
    const mine = last.then(() => act(input));
    last = mine.catch(() => undefined);
    return mine;
  };
}

/** What a command changed in the document it was given; that a typed "3 ft" came back in millimetres is no change. */
const commanded = (from: Installation, changed: Installation) =>
  changesBetween(from, changed).filter(
    ([path, value]) => !(typeof getIn(from, path) === "string" && typeof value === "number"),
  );

/** An installation being edited: its session, and the evaluation of what is on the screen. */
export function useDraft(account: string, installationId: number, head: RevisionOut): Draft {
  const client = useQueryClient();
  const [opened] = useState(() => sessionFor(account, installationId, head, client));
  const { session, found, stay, leave } = opened;
  const [commands] = useState(() => ({
    preview: (path: string, value: unknown) => session.preview([path, value]),
    commit: session.commit,
    set: (path: string, value: unknown) => session.set([path, value]),
    command: inTurn(async (run: Command) => {
      session.commit();
      const from = session.read().document;
      session.set(...commanded(from, await run(from)));
    }),
    replace: session.replace,
    applied: (revision: RevisionOut) => session.applied(asSaved(revision)),
    undo: session.undo,
    redo: session.redo,
    resolve: session.resolve,
    dismissTaken: session.dismissTaken,
  }));
  const now = useSyncExternalStore(session.subscribe, session.read);
  const [saved] = useState({ id: installationId, head });
  const evaluating = useEvaluation(now.document, saved);
  const valid = evaluating.of === now.document && evaluating.problems.length === 0;
  const known = useRef(new WeakMap<Installation, Evaluation>());
  if (valid && evaluating.evaluated) known.current.set(now.document, evaluating.evaluated.result);
  const before = now.before && known.current.get(now.before);

  useEffect(() => {
    if (evaluating.of) session.judged(evaluating.of, evaluating.problems.length === 0);
  }, [session, evaluating.of, evaluating.problems]);

  useEffect(() => {
    // the server judges again what it saves: that its evaluation fails keeps nothing from being kept
    if (evaluating.failed) session.judged(evaluating.failed, true);
  }, [session, evaluating.failed]);

  useEffect(() => session.newer(asSaved(head)), [session, head]);

  useEffect(() => {
    const touch = window.setInterval(() => {
      const edits = session.read().unsaved;
      if (edits) keep(account, installationId, edits);
    }, TOUCH_MS);
    const hide = () => {
      session.leave();
      const edits = session.read().unsaved;
      if (edits) release(account, installationId, edits);
    };
    stay();
    taken(found);
    window.addEventListener("pagehide", hide);
    window.addEventListener("pageshow", session.stay);
    return () => {
      window.clearInterval(touch);
      window.removeEventListener("pagehide", hide);
      window.removeEventListener("pageshow", session.stay);
      leave();
    };
  }, [session, found, stay, leave, account, installationId]);

  const signedOut = now.save === "signed out" || evaluating.signedOut;
  useEffect(() => {
    if (signedOut) client.invalidateQueries({ queryKey: keys.session });
  }, [signedOut, client]);

  const dirty = now.save !== "saved";
  return {
    ...now,
    save: dirty && evaluating.signedOut ? "signed out" : dirty && evaluating.away ? "away" : now.save,
    evaluating,
    before,
    changed: now.before && valid ? changesBetween(now.before, now.document).map(([path]) => path) : [],
    broken: found.broken,
    ...commands,
  };
}
