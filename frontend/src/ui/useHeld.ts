import { useCallback, useState } from "react";
import { dropKept, keepText, keysOf, readKept } from "./device";

const PREFIX = "wheelometron.held.";

/** What was kept; null where there is nothing, or nothing that can be read. */
function kept<T>(key: string): { value: T } | null {
  try {
    return JSON.parse(readKept("session", PREFIX + key) ?? "null");
  } catch {
    return null;
  }
}

/** What was entered belongs to the account that entered it. */
export function forgetHeld() {
  for (const key of keysOf("session", PREFIX)) dropKept("session", key);
}

/** State that outlives its part of the page, and a reload: what was entered in a tab or dialog is there when it is opened again. */
export function useHeld<T>(key: string, start: T | (() => T)): [T, (value: T) => void, () => void] {
  const first = () => (typeof start === "function" ? (start as () => T)() : start);
  const [value, set] = useState<T>(() => kept<T>(key)?.value ?? first());
  const hold = useCallback(
    (next: T) => {
      keepText("session", PREFIX + key, JSON.stringify({ value: next }));
      set(next);
    },
    [key],
  );
  const drop = useCallback(() => dropKept("session", PREFIX + key), [key]);
  return [value, hold, drop];
}
