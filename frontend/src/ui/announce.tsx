import { VisuallyHidden } from "@chakra-ui/react";
import { useEffect, useId, useRef, useSyncExternalStore } from "react";

/** A pause in which several messages become one. */
const GATHER_MS = 600;

const waiting = new Map<string, string>();
const listeners = new Set<() => void>();
let said = "";
let timer = 0;

function speak() {
  said = [...waiting.values()].join(" ");
  waiting.clear();
  for (const listener of listeners) listener();
}

/** Say something to those who do not see the page; the last of one source stands, once the changes pause. */
function announce(source: string, text: string) {
  waiting.set(source, text);
  window.clearTimeout(timer);
  timer = window.setTimeout(speak, GATHER_MS);
}

/** Announce a text whenever it changes; not the one the page opens with. */
export function useAnnounced(text: string) {
  const source = useId();
  const known = useRef(text);
  useEffect(() => {
    if (text && known.current !== text) announce(source, text);
    known.current = text;
  }, [source, text]);
}

/** The one place of a page where changes are read aloud, politely. */
export function Announcer() {
  const text = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => said,
  );
  return (
    <VisuallyHidden aria-live="polite" data-testid="announced">
      {text}
    </VisuallyHidden>
  );
}
