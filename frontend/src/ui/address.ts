import { useCallback } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";

/** Something of the page that its address says, such as the tab that is seen: Back leads out of it. */
export function useAddressed(name: string): [string | null, (value: string | null) => void] {
  const [query, setQuery] = useSearchParams();
  const set = useCallback((value: string | null) => setQuery((old) => having(old, name, value)), [name, setQuery]);
  return [query.get(name), set];
}

/** The view of a stage that is seen. */
export function useView(start: string): [string, (code: string) => void] {
  const [view, set] = useAddressed("view");
  return [view ?? start, set];
}

const OPENED = { opened: true };

/** The dialog that is open: Back closes it, and to close it is to go back. */
export function useDialog(): [string | null, (name: string | null) => void] {
  const [query, setQuery] = useSearchParams();
  const go = useNavigate();
  const { state } = useLocation();
  const show = useCallback(
    (name: string | null) => {
      if (name === null && state?.opened) go(-1);
      else setQuery((old) => having(old, "open", name), name === null ? { replace: true } : { state: OPENED });
    },
    [go, setQuery, state],
  );
  return [query.get("open"), show];
}

function having(old: URLSearchParams, name: string, value: string | null) {
  const next = new URLSearchParams(old);
  if (value === null) next.delete(name);
  else next.set(name, value);
  return next;
}
