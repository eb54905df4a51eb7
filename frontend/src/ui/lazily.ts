import { type ComponentProps, type ComponentType, createElement, lazy, useState } from "react";
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

export type Lazily<Props> = ComponentType<Props> & { load: () => Promise<unknown> };
type Kept<Props> = { loaded?: ComponentType<Props>; later: ComponentType<Props> };

/** What is loaded when it is first drawn is drawn without waiting. */
function Drawn<Props>({ kept, props }: { kept: Kept<Props>; props: Props }) {
  const [Part] = useState(() => kept.loaded ?? kept.later);
  return createElement(Part as ComponentType<object>, props as object);
}

/** A component that is loaded when it is first drawn, or before by its `load`. */
// biome-ignore lint/suspicious/noExplicitAny: as React's own type of `lazy`
export function lazily<T extends ComponentType<any>>(load: () => Promise<{ default: T }>): Lazily<ComponentProps<T>> {
  const get = async () => {
    const found = await patiently(load, readAnew);
    kept.loaded = found.default;
    return found;
  };
  const kept: Kept<ComponentProps<T>> = { later: lazy(get) as unknown as T };
  return Object.assign((props: ComponentProps<T>) => createElement(Drawn, { kept, props } as never), { load: get });
}
