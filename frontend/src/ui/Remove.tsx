import { useState } from "react";
import { Small } from "./Small";
import { t } from "./words";

/** Takes something away for good: the first press asks, the second does it. */
export function Remove({ what, label, act, busy }: { what: string; label?: string; act: () => void; busy?: boolean }) {
  const [asked, ask] = useState(false);
  if (!asked)
    return (
      <Small
        variant="ghost"
        color={label ? "bad.fg" : undefined}
        aria-label={label ? undefined : t("Remove {0}", what)}
        onClick={() => ask(true)}
      >
        {label ?? "✕"}
      </Small>
    );
  return (
    <>
      <Small
        color="bad.fg"
        borderColor="bad.fg"
        aria-label={t("Remove for good: {0}", what)}
        onClick={act}
        disabled={busy}
      >
        {t("Remove for good")}
      </Small>
      <Small variant="ghost" onClick={() => ask(false)}>
        {t("Keep it")}
      </Small>
    </>
  );
}
