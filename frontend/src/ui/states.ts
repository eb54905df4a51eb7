import type { Schemas } from "../api/client";
import { t } from "./words";

export type State = Schemas["InstallationSummary"]["state"];

/** How an installation stands, what is worst first: a mark and a word, never a colour alone. */
export const STATES: Record<State, [mark: string, label: string]> = {
  failed: ["✕", t("Failed")],
  blocked: ["✕", t("Blocked")],
  to_do: ["!", t("To do")],
  unverified: ["–", t("Not verified")],
  verified: ["✓", t("Verified")],
};

export const isBad = (state?: State) => state === "failed" || state === "blocked";
