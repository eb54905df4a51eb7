import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** Something of the page that its address says, such as the tab or the dialog that is open: Back leads out of it. */
export function useAddressed(name: string): [string | null, (value: string | null) => void] {
  const [query, setQuery] = useSearchParams();
  const set = useCallback(
    (value: string | null) =>
      setQuery((old) => {
        const next = new URLSearchParams(old);
        if (value === null) next.delete(name);
        else next.set(name, value);
        return next;
      }),
    [name, setQuery],
  );
  return [query.get(name), set];
}

/** The view of a stage that is seen. */
export function useView(start: string): [string, (code: string) => void] {
  const [view, set] = useAddressed("view");
  return [view ?? start, set];
}
