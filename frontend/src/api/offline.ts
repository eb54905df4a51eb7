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

/** The app itself is kept on the device as well, once the page has come to rest. A newer one is there with the next load:
 * a page that is open is never loaded anew by itself. */
export function keepApp() {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  window.setTimeout(() => navigator.serviceWorker.register("/sw.js").catch(() => undefined), LATER_MS);
}
