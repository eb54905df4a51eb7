import { Box, Flex, Heading, Image, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import { askAgain } from "../../api/healing";
import { Frame } from "../../ui/Frame";
import { when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";

const PAIRING = ["pairing"] as const;
const ASK_EVERY_MS = 3000;

/** Phones and tablets: a link that signs one in, and those that are signed in. */
export default function PhonesPlace() {
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: PAIRING });
  const pairing = useQuery({
    queryKey: PAIRING,
    queryFn: ({ signal }) => data(api.GET("/api/pairing", { signal })),
    refetchInterval: ({ state }) => askAgain(state.error, state.data?.links.length ? ASK_EVERY_MS : false),
  });
  const make = useMutation({
    meta: { what: t("Creating a link") },
    mutationFn: () => data(api.POST("/api/pairing/links")),
    onSuccess: again,
  });
  const revoke = useMutation({
    meta: { what: t("Revoking the link") },
    mutationFn: (id: number) => data(api.DELETE("/api/pairing/links/{item_id}", { params: { path: { item_id: id } } })),
    onSuccess: again,
  });
  const remove = useMutation({
    meta: { what: t("Removing the device") },
    mutationFn: (id: number) =>
      data(api.DELETE("/api/pairing/devices/{item_id}", { params: { path: { item_id: id } } })),
    onSuccess: again,
  });
  const found = pairing.data;
  const link = found?.links.some((item) => item.id === make.data?.id) ? make.data : undefined;
  return (
    <Frame title={t("Phones and tablets")}>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" py={3}>
          {t("Phones and tablets")}
        </Heading>
        {!pairing.data && <Pending asked={pairing} text={t("Opening …")} />}
        {found && !found.lan_address && (
          <Text>
            {t(
              "Phones cannot reach this machine yet. Stop Wheelometron in the terminal with Ctrl-C and start it with ./start --lan: it then serves the local network over a safe connection.",
            )}
          </Text>
        )}
        {found?.lan_address && (
          <Stack gap={4}>
            <Text>
              {t(
                "A phone first trusts this machine, once: the terminal shows how. Then a link signs it in to your account; each link is for one device.",
              )}
            </Text>
            {link ? (
              <Flex gap={4} wrap="wrap" align="center">
                <Image src={link.code} alt={t("QR code of the link")} w="220px" h="220px" />
                <Stack gap={2} flex="1" minW="220px">
                  <Text fontFamily="mono" fontSize="sm" wordBreak="break-all" data-testid="pair-link">
                    {link.address}
                  </Text>
                  <Text>{t("Valid until {0}, for one device.", when(link.expires_at))}</Text>
                  <Flex gap={2}>
                    <Small onClick={() => revoke.mutate(link.id)}>{t("Revoke this link")}</Small>
                  </Flex>
                </Stack>
              </Flex>
            ) : (
              <Flex>
                <Small colorPalette="signal" variant="solid" onClick={() => make.mutate()} disabled={make.isPending}>
                  {t("Create link")}
                </Small>
              </Flex>
            )}
            {found.links
              .filter((item) => item.id !== link?.id)
              .map((item) => (
                <Flex key={item.id} gap={3} align="center" wrap="wrap">
                  <Text>{t("Link, valid until {0}", when(item.expires_at))}</Text>
                  <Small onClick={() => revoke.mutate(item.id)}>{t("Revoke")}</Small>
                </Flex>
              ))}
          </Stack>
        )}
        {found && (
          <Stack gap={2} mt={6} data-testid="devices">
            <Heading as="h2" size="md">
              {t("Signed in by a link")}
            </Heading>
            {found.devices.length === 0 && <Text>{t("None.")}</Text>}
            {found.devices.map((device) => (
              <Flex key={device.id} bg="bg.panel" borderRadius="md" px={4} py={2} gap={3} align="center" wrap="wrap">
                <Box flex="1" minW="160px">
                  <Text fontWeight="600">{device.name}</Text>
                  <Text fontSize="sm" color="fg.muted">
                    {t("since {0}", when(device.paired_at))}
                  </Text>
                </Box>
                <Small aria-label={t("Sign {0} out", device.name)} onClick={() => remove.mutate(device.id)}>
                  {t("Sign out")}
                </Small>
              </Flex>
            ))}
          </Stack>
        )}
      </Box>
    </Frame>
  );
}
