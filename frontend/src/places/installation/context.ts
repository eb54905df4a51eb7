import {
  createContext,
  createElement,
  type ReactNode,
  useCallback,
  useContext,
  useLayoutEffect,
  useState,
  useSyncExternalStore,
} from "react";
import type { Catalogue, Evaluated, FieldProblem, Installation, RevisionOut } from "../../api/client";
import type { Command } from "../../editing/useDraft";

export type InstallationEditing = {
  installationId: number;
  vehicleId: number;
  /** The revision the document stands on, and whether it is saved as it is. */
  base: { number: number; amended: number };
  saved: boolean;
  document: Installation;
  /** The last document that was understood, and what follows from it. */
  evaluated: Evaluated;
  problems: FieldProblem[];
  catalogue: Catalogue;
  role: string;
  /** One edit: a choice, a step, a button. */
  set: (path: string, value: unknown) => void;
  /** Text that is being typed: seen at once, an edit when it is committed. */
  preview: (path: string, value: unknown) => void;
  commit: () => void;
  /** A command of the server on this document: what it changes is one edit. */
  command: (run: Command) => Promise<void>;
  /** What the server did on this person's command: an own edit, and saved. */
  applied: (revision: RevisionOut) => void;
};

const InstallationContext = createContext<InstallationEditing | null>(null);
const EvaluatedContext = createContext<Evaluated | null>(null);

export function useEditing(): InstallationEditing {
  const editing = useContext(InstallationContext);
  if (!editing) throw new Error("A field is used outside of an installation.");
  return editing;
}

/** What follows from the last document that was understood: what reads this alone is not drawn anew while something is typed. */
export function useEvaluated(): Evaluated {
  const evaluated = useContext(EvaluatedContext);
  if (!evaluated) throw new Error("A figure is used outside of an installation.");
  return evaluated;
}

type Store = { read: () => InstallationEditing; subscribe: (listener: () => void) => () => void };

const StoreContext = createContext<Store | null>(null);

/** The editing for all that is below, and as a store, so that a field follows its own value alone. */
export function EditingProvider({ editing, children }: { editing: InstallationEditing; children: ReactNode }) {
  const [{ store, put }] = useState(() => storeOf(editing));
  useLayoutEffect(() => put(editing), [editing, put]);
  return createElement(
    StoreContext,
    { value: store },
    createElement(
      EvaluatedContext,
      { value: editing.evaluated },
      createElement(InstallationContext, { value: editing }, children),
    ),
  );
}

function storeOf(first: InstallationEditing) {
  let now = first;
  const listeners = new Set<() => void>();
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
  const put = (next: InstallationEditing) => {
    now = next;
    for (const listener of listeners) listener();
  };
  return { store: { read: () => now, subscribe }, put };
}

/** One thing of the editing, such as a field's value, as it stands there: what reads it is drawn anew only when that changes. */
export function useOf<T extends string | number | boolean | null | undefined | Installation>(
  select: (editing: InstallationEditing) => T,
): T {
  const store = useContext(StoreContext);
  if (!store) throw new Error("A field is used outside of an installation.");
  return useSyncExternalStore(
    store.subscribe,
    useCallback(() => select(store.read()), [store, select]),
  );
}

/** The editing at the moment something happens. */
export function useNow(): () => InstallationEditing {
  const store = useContext(StoreContext);
  if (!store) throw new Error("A field is used outside of an installation.");
  return store.read;
}
