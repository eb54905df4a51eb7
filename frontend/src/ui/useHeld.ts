import { useCallback, useState } from "react";

const held = new Map<string, unknown>();

/** State that outlives its part of the page: what was entered in a tab or dialog is there when it is opened again. */
export function useHeld<T>(key: string, start: T | (() => T)): [T, (value: T) => void, () => void] {
  const first = () => (typeof start === "function" ? (start as () => T)() : start);
  const [value, set] = useState<T>(() => (held.has(key) ? (held.get(key) as T) : first()));
  const hold = useCallback(
    (next: T) => {
      held.set(key, next);
      set(next);
    },
    [key],
  );
  const drop = useCallback(() => {
    held.delete(key);
  }, [key]);
  return [value, hold, drop];
}
