import { Box, Button, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type Schemas } from "../../api/client";
import { keys } from "../../api/hooks";
import { Frame } from "../../ui/Frame";
import { when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { t } from "../../ui/words";

type Item = Schemas["BinItem"];
const BIN = [...keys.vehicles, "bin"];

/** What was deleted in the last thirty days, to be restored. */
export default function BinPlace() {
  const client = useQueryClient();
  const bin = useQuery({ queryKey: BIN, queryFn: ({ signal }) => data(api.GET("/api/bin", { signal })) });
  const restore = useMutation({
    meta: { what: t("Restoring") },
    mutationFn: ({ kind, id }: Item) =>
      data(api.POST("/api/bin/{kind}/{item_id}", { params: { path: { kind, item_id: id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.vehicles }),
  });
  return (
    <Frame title={t("Bin")}>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" py={3}>
          {t("Bin")}
        </Heading>
        <Text color="fg.muted" mb={4}>
          {t(
            "What was deleted is kept here for 30 days and can be restored with its logbook. After that it is gone for good.",
          )}
        </Text>
        {!bin.data && <Pending asked={bin} text={t("Opening the bin …")} />}
        {bin.data?.length === 0 && <Text>{t("The bin is empty.")}</Text>}
        <Stack gap={2} data-testid="bin">
          {bin.data?.map((item) => (
            <Flex
              key={`${item.kind} ${item.id}`}
              bg="bg.panel"
              borderRadius="md"
              px={4}
              py={2}
              gap={3}
              align="center"
              wrap="wrap"
            >
              <Box flex="1" minW="200px">
                <Text fontWeight="600">
                  {item.kind === "vehicle"
                    ? t("{0}, with all its installations", item.name)
                    : `${item.vehicle}: ${item.name}`}
                </Text>
                <Text fontSize="sm" color="fg.muted">
                  {t(
                    item.deleted_by ? "Deleted {0} by {2}, kept until {1}" : "Deleted {0}, kept until {1}",
                    when(item.deleted_at),
                    when(item.kept_until),
                    item.deleted_by,
                  )}
                </Text>
              </Box>
              <Button
                size="sm"
                variant="outline"
                minH={{ base: "44px", md: "36px" }}
                onClick={() => restore.mutate(item)}
                aria-label={t("Restore {0}", item.kind === "vehicle" ? item.name : `${item.vehicle}: ${item.name}`)}
              >
                {t("Restore")}
              </Button>
            </Flex>
          ))}
        </Stack>
        <Box mt={4} textDecoration="underline">
          <Link to="/">{t("Back to the vehicles")}</Link>
        </Box>
      </Box>
    </Frame>
  );
}
