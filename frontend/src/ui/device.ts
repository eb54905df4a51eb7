/** What is kept on the device. A store that is full, closed or holds something else must not stop the app. */

type Kind = "local" | "session";
const store = (kind: Kind) => (kind === "local" ? window.localStorage : window.sessionStorage);

export function readKept(kind: Kind, key: string): string | null {
  try {
    return store(kind).getItem(key);
  } catch {
    return null;
  }
}

export function keepText(kind: Kind, key: string, text: string) {
  try {
    store(kind).setItem(key, text);
  } catch {
    // it goes on without
  }
}

export function dropKept(kind: Kind, key: string) {
  try {
    store(kind).removeItem(key);
  } catch {
    // there is none
  }
}

/** The keys that begin so. */
export function keysOf(kind: Kind, prefix: string): string[] {
  try {
    return Object.keys(store(kind)).filter((key) => key.startsWith(prefix));
  } catch {
    return [];
  }
}
