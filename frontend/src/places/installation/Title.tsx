import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { SaveState } from "../../editing/session";
import { listed, t } from "../../ui/words";

export const SAVE_WORDS: Record<SaveState, string> = {
  saved: t("Saved"),
  waiting: t("Not saved yet …"),
  saving: t("Saving …"),
  away: t("Server cannot be reached. Kept on this device, trying again"),
  refused: t("Not saved: correct the marked field"),
  failed: t("Not saved: the server failed. Kept on this device, trying again"),
  conflict: t("Someone else saved a newer revision"),
  "signed out": t("Signed out. Kept on this device: sign in again"),
};

/** What is open, and whether it is saved. */
export function Title({
  vehicleId,
  vehicle,
  name,
  save,
  number,
  toFillIn,
  error,
}: {
  vehicleId: number;
  vehicle: string;
  name: string;
  save: SaveState;
  number: number;
  toFillIn: boolean;
  error: string;
}) {
  const trouble = !["saved", "waiting", "saving"].includes(save);
  return (
    <Box minW={0} lineHeight="1.2">
      <Text truncate minW={0} as="h1">
        <Link
          to={`/vehicle/${vehicleId}`}
          style={{ display: "inline-block", padding: "6px 0 4px", textDecoration: "underline", fontWeight: 700 }}
        >
          {vehicle}
        </Link>{" "}
        / {name}
      </Text>
      <Text
        fontSize="xs"
        color={trouble ? "signal.fg" : "fg.muted"}
        fontWeight={trouble ? "700" : undefined}
        data-testid="save-state"
        data-state={save}
      >
        {listed(
          toFillIn ? t("Not saved yet: fill in the marked field") : SAVE_WORDS[save],
          save === "saved" && t("revision {0}", number),
        )}
        {error && ` (${error})`}
      </Text>
    </Box>
  );
}
