import { createContext, useContext } from "react";
import type { Catalogue, Evaluated, FieldProblem, Installation } from "../../api/client";

export type InstallationEditing = {
  installationId: number;
  /** The revision the document stands on, and whether it is saved as it is. */
  base: number;
  saved: boolean;
  document: Installation;
  /** The last document that was understood, and what follows from it. */
  evaluated: Evaluated;
  problems: FieldProblem[];
  catalogue: Catalogue;
  role: string;
  set: (path: string, value: unknown) => void;
};

export const InstallationContext = createContext<InstallationEditing | null>(null);

export function useEditing(): InstallationEditing {
  const editing = useContext(InstallationContext);
  if (!editing) throw new Error("A field is used outside of an installation.");
  return editing;
}
