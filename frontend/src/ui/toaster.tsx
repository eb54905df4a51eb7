import { Suspense, useSyncExternalStore } from "react";
import { Refusal } from "../api/client";
import { lazily, patiently } from "./lazily";
import { t } from "./words";

const load = () => import("./Toasts");
const Toasts = lazily(load);
let wanted = false;
let want = () => {};
let ready = () => {};
const mounted = new Promise<void>((resolve) => {
  ready = resolve;
});

/** Say that an action failed, and why, with a way to try it again. */
export async function sayFailed(what: string, error: unknown, again?: () => void) {
  const first = error instanceof Refusal ? error.problems[0] : undefined;
  const why = first ? `${first.message} ${first.remedy}` : error instanceof Error ? error.message : "";
  wanted = true;
  want();
  const { said } = await patiently(load);
  await mounted;
  said({
    type: "error",
    title: t("{0} failed", what),
    description: why,
    duration: 20_000,
    action: again && { label: t("Try again"), onClick: again },
  });
}

/** Do something that can fail; a failure is said, and can be tried again. */
export function attempt(what: string, action: () => Promise<unknown>) {
  action().catch((error: unknown) => sayFailed(what, error, () => attempt(what, action)));
}

/** Where failures are said; loaded with the first of them. */
export function Failures() {
  const open = useSyncExternalStore(
    (changed) => {
      want = changed;
      return () => {
        want = () => {};
      };
    },
    () => wanted,
  );
  return open ? (
    <Suspense fallback={null}>
      <Toasts ready={ready} />
    </Suspense>
  ) : null;
}
