import { lazy } from "react";

const AGAIN_MS = 1500;
const TRIES = 200;

/** Load a part of the app. Without the server it goes on trying: a part that failed once would stay failed. */
export async function patiently<T>(load: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await load();
    } catch (error) {
      if (tries === TRIES) throw error;
      await new Promise((resolve) => window.setTimeout(resolve, AGAIN_MS));
    }
}

/** A component that is loaded when it is first drawn. */
export const lazily: typeof lazy = (load) => lazy(() => patiently(load));
