import { Box, Button, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, data } from "../../api/client";
import { keys, useSession } from "../../api/hooks";
import { forgetKept } from "../../api/offline";
import { Frame } from "../../ui/Frame";
import { TextField } from "../../ui/fields";
import { t } from "../../ui/words";

/** A link was opened on a phone: sign it in. */
export default function PairPlace() {
  const { secret = "" } = useParams();
  const session = useSession().data; // sets what the server wants back with a write
  const client = useQueryClient();
  const go = useNavigate();
  const [name, set] = useState(t("Phone"));
  const pair = useMutation({
    meta: { what: t("Signing this device in") },
    mutationFn: () => data(api.POST("/api/session/pair", { body: { secret, name } })),
    retry: false,
    onSuccess: async () => {
      await forgetKept();
      await client.invalidateQueries({ queryKey: keys.session });
      go("/", { replace: true });
    },
  });
  return (
    <Frame title={t("Sign this device in")}>
      <Box maxW="480px" w="100%" mx="auto" px={4} py={4}>
        <Heading as="h1" size="2xl" mb={3}>
          {t("Sign this device in")}
        </Heading>
        <Stack gap={3}>
          <Text>{t("It stays signed in for 30 days, or until it is removed under Menu, Phones and tablets.")}</Text>
          <TextField label={t("Name of this device")} value={name} change={set} />
          {pair.error && (
            <Text role="alert" color="bad.fg" fontWeight="600">
              {pair.error.message}
            </Text>
          )}
          <Button
            colorPalette="signal"
            size="lg"
            minH="48px"
            loading={pair.isPending}
            disabled={!session}
            onClick={() => pair.mutate()}
          >
            {t("Sign in")}
          </Button>
        </Stack>
      </Box>
    </Frame>
  );
}
