import { Box, chakra, Flex, Stack, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { when } from "../../ui/format";
import { listed, t } from "../../ui/words";
import { type RecordingOut, type Result, useResults } from "../queries";

const Go = chakra(Link);
const KINDS: Partial<Record<Result["kind"], string>> = {
  check: t("Speed check"),
  ring: t("Captured ring"),
  ring_change: t("Change of the ring"),
  reciprocal: t("Reciprocal runs"),
  slip: t("Slip"),
  traction: t("Traction table"),
  tune_change: t("Change of tune"),
  distance: t("Distance"),
  coast_down: t("Coast-down"),
  health: t("Signal health"),
};

/** What was asked of the recording before: the result, of which revision, and whether that still holds. */
export function Earlier({ recording }: { recording: RecordingOut }) {
  const results = useResults(recording.id).data ?? [];
  if (results.length === 0) return null;
  return (
    <details data-testid="earlier">
      <summary style={{ cursor: "pointer", minHeight: 32 }}>{t("Saved results: {0}", results.length)}</summary>
      <Stack gap={2} mt={1}>
        {results.map((result) => (
          <Box key={result.id} borderLeftWidth="3px" pl={2}>
            <Text>
              <b>
                {listed(
                  KINDS[result.kind],
                  result.name || null,
                  result.revision !== null && t("revision {0}", result.revision),
                )}
              </b>
              : {result.text}
            </Text>
            <Flex gap={3} wrap="wrap" fontSize="sm" color="fg.muted" align="baseline">
              <span>{when(result.at)}</span>
              {!result.same_core && <span>{t("computed by an earlier version of the app")}</span>}
              {result.installation !== null && result.revision === null && (
                <Text as="span" color="signal.fg">
                  {t("! The installation was changed since.")}
                </Text>
              )}
              {result.installation !== null && (
                <Go
                  to={`/installation/${result.installation}/readout?view=drive&recording=${recording.id}`}
                  textDecoration="underline"
                  color="signal.fg"
                  py={1}
                >
                  {result.revision === null ? t("Check again with the installation as it is now") : t("Open")}
                </Go>
              )}
            </Flex>
          </Box>
        ))}
      </Stack>
    </details>
  );
}
