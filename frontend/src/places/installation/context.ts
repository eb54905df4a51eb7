import { createContext, useContext } from "react";
import type { Catalogue, Evaluated, FieldProblem, Installation, RevisionOut } from "../../api/client";
import type { Command } from "../../editing/useDraft";

export type InstallationEditing = {
  installationId: number;
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

export const InstallationContext = createContext<InstallationEditing | null>(null);

export function useEditing(): InstallationEditing {
  const editing = useContext(InstallationContext);
  if (!editing) throw new Error("A field is used outside of an installation.");
  return editing;
}
