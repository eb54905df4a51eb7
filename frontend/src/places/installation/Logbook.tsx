import { Box, Button, Flex, Stack, Text } from "@chakra-ui/react";
import type { Installation } from "../../api/client";
import { fetchRevision } from "../../api/hooks";
import { useRevisions } from "../../api/pages";
import { signed, when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Sheet } from "../../ui/Sheet";
import { attempt } from "../../ui/toaster";
import { useUnits } from "../../ui/units";
import { listed, t } from "../../ui/words";

/** Every saved change with its effect; any of them can be restored. */
export function Logbook({
  installationId,
  head,
  open,
  close,
  restore,
}: {
  installationId: number;
  head: number;
  open: boolean;
  close: () => void;
  restore: (document: Installation) => void;
}) {
  const revisions = useRevisions(installationId);
  const { scale, speedUnit } = useUnits();
  const lines = revisions.data?.pages.flatMap((page) => page.revisions) ?? [];
  return (
    <Sheet open={open} close={close} title={t("Logbook")} size="xl">
      {!revisions.data && <Pending asked={revisions} text={t("Loading the logbook …")} />}
      <Stack gap={2}>
        {lines.map((line) => {
          const change = line.shown_before_kmh === null ? 0 : (line.shown_kmh - line.shown_before_kmh) * scale;
          const changed = Math.abs(change) >= 0.005;
          return (
            <Flex key={line.number} gap={3} align="flex-start" borderBottomWidth="1px" pb={2}>
              <Text fontFamily="mono" color="signal.fg" minW="32px">
                {line.number}
              </Text>
              <Box flex="1" minW={0}>
                <Text>{line.summary}</Text>
                <Text fontSize="sm" color="fg.muted">
                  {listed(when(line.saved_at), line.author || null)}
                  {changed && ": "}
                  {changed && t("shown speed {0} {1}", signed(change), speedUnit)}
                </Text>
              </Box>
              {line.number !== head && (
                <Button
                  size="sm"
                  variant="outline"
                  onClick={() =>
                    attempt(t("Restoring the revision"), async () => {
                      restore((await fetchRevision(installationId, line.number)).document);
                      close();
                    })
                  }
                >
                  {t("Restore")}
                </Button>
              )}
            </Flex>
          );
        })}
        {revisions.hasNextPage && (
          <Button variant="outline" alignSelf="center" minH="44px" onClick={() => revisions.fetchNextPage()}>
            {t("Show earlier revisions")}
          </Button>
        )}
      </Stack>
    </Sheet>
  );
}
