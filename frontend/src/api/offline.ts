import { forgetHeld } from "../ui/useHeld";

/** Answers and entries that are kept on the device belong to the account that got or made them. */
export async function forgetKept() {
  forgetHeld();
  const { queueOf } = await import("../jobs/queue");
  await queueOf("")
    .forgetSheets()
    .catch(() => undefined);
  if (typeof caches !== "undefined") await caches.delete("api");
}

const LATER_MS = 3000;

/** How a newer version of the app that is on the device is taken, once there is one. */
export const newer = {
  take: undefined as (() => void) | undefined,
  listeners: new Set<() => void>(),
  read: () => newer.take,
  subscribe: (listener: () => void) => {
    newer.listeners.add(listener);
    return () => newer.listeners.delete(listener);
  },
};

/** The app itself is kept on the device as well, once the page has come to rest. A newer one waits until somebody takes
 * it, or until every page of the app was closed: a page that is open is never loaded anew by itself. */
export function keepApp() {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  window.setTimeout(() => register().catch(() => undefined), LATER_MS);
}

export async function register() {
  const { Workbox } = await import("workbox-window");
  const app = new Workbox("/sw.js");
  app.addEventListener("waiting", () => {
    newer.take = () => {
      app.addEventListener("controlling", () => location.reload());
      app.messageSkipWaiting();
    };
    for (const listener of newer.listeners) listener();
  });
  await app.register();
}
