import { useDeferredValue, useState } from "react";

/**
 * What a query brings, drawn in slices so that the page answers meanwhile: at once it would be drawn in one go. What is
 * there when a place is first drawn is drawn with it.
 */
export function useInSlices<T>(found: T): T | undefined {
  const [first] = useState(found);
  return useDeferredValue(found, first);
}
