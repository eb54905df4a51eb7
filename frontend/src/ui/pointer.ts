import { useSyncExternalStore } from "react";

/** A time that is pointed at: what draws it hears of it, and nothing else is rendered anew. */
export type Pointer = { get: () => number | null; subscribe: (hear: () => void) => () => void };

export function makePointer(): Pointer & { set: (at: number | null) => void } {
  let now: number | null = null;
  const heard = new Set<() => void>();
  return {
    get: () => now,
    set: (at) => {
      if (at === now) return;
      now = at;
      for (const hear of heard) hear();
    },
    subscribe: (hear) => {
      heard.add(hear);
      return () => heard.delete(hear);
    },
  };
}

export const usePointed = (pointer: Pointer) => useSyncExternalStore(pointer.subscribe, pointer.get);
