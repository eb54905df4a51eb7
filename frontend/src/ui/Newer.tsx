import { Flex, Text } from "@chakra-ui/react";
import { useSyncExternalStore } from "react";
import { newer } from "../api/offline";
import { Small } from "./Small";
import { t } from "./words";

/** A newer version of the app is on the device: it is taken when the person says so. */
export function Newer() {
  const take = useSyncExternalStore(newer.subscribe, newer.read);
  if (!take) return null;
  return (
    <Flex role="status" bg="signal.subtle" px={4} py={1} gap={3} align="center" wrap="wrap" data-testid="newer">
      <Text>{t("A newer version of Wheelometron is ready. What you typed is kept.")}</Text>
      <Small onClick={take}>{t("Load it")}</Small>
    </Flex>
  );
}
