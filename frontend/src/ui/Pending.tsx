import { Box, Text } from "@chakra-ui/react";
import { Away } from "../api/client";
import { Small } from "./Small";
import { t } from "./words";

type Asked = { error: Error | null; failureReason: Error | null; refetch: () => unknown };

/** Beside what stands without it: nothing while it is on its way, and why it is not there. */
export function Failing({ asked }: { asked: Asked & { data: unknown } }) {
  return asked.data === undefined && asked.failureReason ? <Pending asked={asked} text="" /> : null;
}

/** In place of what is being asked for: that it is on its way, or why it is not there, and a way to ask again. */
export function Pending({ asked, text, minH }: { asked: Asked; text: string; minH?: string }) {
  const failed = asked.error ?? asked.failureReason;
  if (!failed || failed instanceof Away)
    return (
      <Text role="status" minH={minH}>
        {failed?.message ?? text}
      </Text>
    );
  return (
    <Box role="alert" minH={minH} data-testid="not-read">
      <Text color="bad.fg" mb={2}>
        {t("✕ This could not be read. {0}", failed.message)}
      </Text>
      <Small onClick={() => asked.refetch()}>{t("Try again")}</Small>
    </Box>
  );
}
