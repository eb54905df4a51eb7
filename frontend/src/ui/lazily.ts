import { lazy } from "react";
import { keepText, readKept } from "./device";

const AGAIN_MS = 1500;
const TRIES = 200;
const READ_ANEW = "wheelometron.read-anew";
/** A page that was read anew so lately is not read anew once more: that did not help. */
const LATELY_MS = 60_000;

const reachable = () =>
  fetch("/api/health", { cache: "no-store" }).then(
    (answer) => answer.ok,
    () => false,
  );

/** Read the page anew; whether that was done. What is not saved is kept on the device. */
function readAnew() {
  if (Date.now() - Number(readKept("session", READ_ANEW) ?? 0) < LATELY_MS) return false;
  keepText("session", READ_ANEW, String(Date.now()));
  location.reload();
  return true;
}

/**
 * Load a part of the app. Without the server it goes on trying: a part that failed once would stay failed. Browsers may keep
 * the failure itself, and a newer version has other files: once the server is back, `stuck` is asked for another way.
 */
export async function patiently<T>(load: () => Promise<T>, stuck?: () => boolean): Promise<T> {
  let back = false;
  for (let tries = 1; ; tries++)
    try {
      return await load();
    } catch (error) {
      if (tries === TRIES || (back && stuck && !stuck())) throw error;
      await new Promise((resolve) => window.setTimeout(resolve, AGAIN_MS));
      back = await reachable();
    }
}

/** A component that is loaded when it is first drawn. */
export const lazily: typeof lazy = (load) => lazy(() => patiently(load, readAnew));
