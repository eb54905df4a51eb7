import { useEffect, useState } from "react";

/** A value that changes quickly, once it has stayed the same for a moment: what is asked for by it is asked once. */
export function useSettled<T>(value: T, after_ms = 120): T {
  const [settled, settle] = useState(value);
  useEffect(() => {
    const later = window.setTimeout(() => settle(value), after_ms);
    return () => window.clearTimeout(later);
  }, [value, after_ms]);
  return settled;
}
