import { useState } from "react";

/** The last value there was: what stands, marked stale, while there is no good one. */
export function useLast<T>(value: T | undefined): T | undefined {
  const [last, keep] = useState(value);
  if (value !== undefined && value !== last) keep(value);
  return value ?? last;
}
