import { Box, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { TextField } from "../../ui/fields";
import { Message } from "../../ui/Message";
import { Pending } from "../../ui/Pending";
import { Remove } from "../../ui/Remove";
import { Small } from "../../ui/Small";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { type PartLabel, type ShelfPart, searched, useRelabel, useShelf, useTakeOff } from "./shelf";

const KINDS = [
  ["sensor", t("Sensors")],
  ["target", t("Rings and magnets")],
  ["readout", t("Displays and controllers")],
] as const;
const FIELDS: readonly [keyof PartLabel, string][] = [
  ["name", t("Name")],
  ["type_or_year", t("Type or year")],
  ["number", t("Part number")],
  ["plug", t("Connector")],
  ["side", t("Made for side")],
];

/** The parts shelf of the workshop: found by any of its words, corrected, taken off. */
export default function ShelfPlace() {
  const found = useShelf();
  const [wanted, search] = useState("");
  const parts = searched(found.data ?? [], wanted);
  return (
    <Frame title={t("Parts shelf")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" pt={3}>
          {t("Parts shelf")}
        </Heading>
        <Text color="fg.muted" mb={2}>
          {t("Parts that you fit more than once. An installation puts them here and takes them from here.")}
        </Text>
        {!found.data && <Pending asked={found} text={t("Opening …")} />}
        {found.data && found.data.length > 0 && (
          <TextField label={t("Search by name, number or connector")} value={wanted} change={search} />
        )}
        <Stack gap={4} mt={3} data-testid="shelf">
          {found.data?.length === 0 && (
            <Text>
              {t(
                "Nothing here yet. Open an installation and press “Put on the shelf” under Target, Sensor or Readout.",
              )}
            </Text>
          )}
          {found.data && found.data.length > 0 && parts.length === 0 && <Text>{t("No part has these words.")}</Text>}
          {KINDS.map(([kind, title]) => {
            const held = parts.filter((part) => part.kind === kind);
            return (
              held.length > 0 && (
                <Box key={kind}>
                  <Heading as="h2" size="md" mb={2}>
                    {title}
                  </Heading>
                  <Stack gap={2}>
                    {held.map((part) => (
                      <Row key={part.id} part={part} />
                    ))}
                  </Stack>
                </Box>
              )
            );
          })}
        </Stack>
      </Box>
    </Frame>
  );
}

/** One part: what is written on it, and what is known of it. */
function Row({ part }: { part: ShelfPart }) {
  const [label, edit] = useHeld<PartLabel | null>(`shelf part ${part.id}`, null);
  const [relabel, remove] = [useRelabel(), useTakeOff()];
  const refused = relabel.error && refusalOf(relabel.error);
  const save = () =>
    label && relabel.mutate({ id: part.id, label, base_version: part.version }, { onSuccess: () => edit(null) });
  return (
    <Box bg="bg.panel" borderRadius="md" px={4} py={2}>
      <Flex gap={3} align="center" wrap="wrap">
        <Box flex="1" minW="200px">
          <Text fontWeight="600">{part.label.name}</Text>
          <Text fontSize="sm">{part.details}</Text>
          <Text fontSize="sm" color={part.readable ? "fg.muted" : "bad.fg"}>
            {part.readable ? "" : "✕ "}
            {part.contents}
          </Text>
        </Box>
        {!label && <Small onClick={() => edit(part.label)}>{t("Change")}</Small>}
        <Remove what={part.label.name ?? ""} act={() => remove.mutate(part.id)} busy={remove.isPending} />
      </Flex>
      {label && (
        <>
          <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap={3} mt={2}>
            {FIELDS.map(([name, title]) => (
              <TextField
                key={name}
                label={title}
                value={label[name] ?? ""}
                change={(text) => edit({ ...label, [name]: text })}
              />
            ))}
          </Grid>
          {refused && <Message text={refused} bad />}
          <Flex gap={2} mt={2}>
            <Small colorPalette="signal" variant="solid" onClick={save} disabled={relabel.isPending}>
              {t("Save")}
            </Small>
            <Small variant="ghost" onClick={() => edit(null)}>
              {t("Cancel")}
            </Small>
          </Flex>
        </>
      )}
    </Box>
  );
}
