import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { useFeed } from "./queries";

/** What is due on all vehicles, as a calendar with a private address. */
export function Feed() {
  const { feed, make, drop } = useFeed();
  if (!feed.data) return <Pending asked={feed} text={t("Opening …")} />;
  return (
    <Box data-testid="feed">
      <Heading as="h2" size="lg" mb={2}>
        {t("Calendar")}
      </Heading>
      <Text color="fg.muted" mb={2}>
        {t("What is due on all vehicles, for any calendar program. Anyone with the address can read it.")}
      </Text>
      {make.data && feed.data.exists && (
        <Text fontFamily="mono" fontSize="sm" wordBreak="break-all" mb={2} data-testid="feed-address">
          {make.data.address}
        </Text>
      )}
      <Flex gap={2} wrap="wrap">
        <Small onClick={() => make.mutate()} disabled={make.isPending}>
          {feed.data.exists ? t("Create new address") : t("Create address")}
        </Small>
        {feed.data.exists && (
          <Small onClick={() => drop.mutate(undefined, { onSuccess: () => make.reset() })} disabled={drop.isPending}>
            {t("Revoke the address")}
          </Small>
        )}
      </Flex>
    </Box>
  );
}
