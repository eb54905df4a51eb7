import { createContext, useContext } from "react";
import type { Catalogue, Evaluated, FieldProblem, Fit } from "../../api/client";

export type FitEditing = {
  fitId: number;
  /** The revision the document stands on, and whether it is saved as it is. */
  base: number;
  saved: boolean;
  document: Fit;
  /** The last document that was understood, and what follows from it. */
  evaluated: Evaluated;
  problems: FieldProblem[];
  catalogue: Catalogue;
  role: string;
  set: (path: string, value: unknown) => void;
};

export const FitContext = createContext<FitEditing | null>(null);

export function useEditing(): FitEditing {
  const editing = useContext(FitContext);
  if (!editing) throw new Error("A field stands outside of a fit.");
  return editing;
}
