import { Box, Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { refusalOf } from "../../recordings/sending";
import { useDialog } from "../../ui/address";
import { TextField } from "../../ui/fields";
import { Message } from "../../ui/Message";
import { More } from "../../ui/More";
import { Pending } from "../../ui/Pending";
import { Sheet } from "../../ui/Sheet";
import { Small } from "../../ui/Small";
import { attempt } from "../../ui/toaster";
import { t } from "../../ui/words";
import { type PartLabel, type ShelfKind, searched, takeFromShelf, useShelf, useToShelf } from "../shelf/shelf";
import { type InstallationEditing, useNow, useOf } from "./context";
import { Entries } from "./fields";

const NAMES: Record<ShelfKind, readonly string[]> = {
  sensor: ["name", "type_or_year", "number", "side"],
  target: ["name", "type_or_year", "number", "side"],
  readout: ["name", "type_or_year", "number", "plug"],
};
const BLANK: PartLabel = { name: "", type_or_year: "", number: "", plug: "", side: "" };

/** Which part it is: its label, taken from the parts shelf or put there. */
export function PartOf({ kind, readout = 0 }: { kind: ShelfKind; readout?: number }) {
  const now = useNow();
  const [dialog, open] = useDialog();
  const put = useToShelf();
  const of = kind === "readout" ? `readouts.${readout}` : kind;
  const labelOf = ({ document }: InstallationEditing) =>
    (kind === "readout" ? document.readouts[readout] : document[kind])?.part;
  const named = useOf((editing) => {
    const label = labelOf(editing);
    return [label?.name, label?.number].filter(Boolean).join(", ");
  });
  const toShelf = () => {
    const { document } = now();
    const label = { ...BLANK, ...labelOf(now()) };
    const plug = kind === "sensor" ? document.signal?.lead?.plug : label.plug;
    put.mutate({ document, kind, readout, label: { ...label, plug: plug ?? "" } });
  };
  return (
    <More label={named ? t("Part: {0}", named) : t("Part, and the parts shelf")}>
      <Entries of={`${of}.part`} names={NAMES[kind]} />
      <Flex gap={2} wrap="wrap" mt={3} align="center">
        <Small onClick={() => open(`shelf-${kind}`)}>{t("Choose from the shelf")}</Small>
        <Small onClick={toShelf} disabled={put.isPending}>
          {t("Put on the shelf")}
        </Small>
        {put.isSuccess && <Text role="status">{t("On the shelf: {0}", put.data.label.name ?? "")}</Text>}
      </Flex>
      {put.error && <Message text={refusalOf(put.error)} bad />}
      {dialog === `shelf-${kind}` && <Choose kind={kind} readout={readout} close={() => open(null)} />}
    </More>
  );
}

/** The parts of one kind that are on the shelf, to take one. */
function Choose({ kind, readout, close }: { kind: ShelfKind; readout: number; close: () => void }) {
  const now = useNow();
  const shelf = useShelf();
  const [wanted, search] = useState("");
  const held = shelf.data?.filter((part) => part.kind === kind) ?? [];
  const take = (id: number) => {
    attempt(t("Taking the part"), () => now().command((known) => takeFromShelf(id, known, readout)));
    close();
  };
  return (
    <Sheet open close={close} title={t("Choose from the shelf")}>
      {!shelf.data && <Pending asked={shelf} text={t("Opening …")} />}
      {shelf.data && held.length === 0 && (
        <Text>{t("No such part is on the shelf yet. Put it there from an installation that has it.")}</Text>
      )}
      {held.length > 0 && <TextField label={t("Search by name, number or connector")} value={wanted} change={search} />}
      <Stack gap={2} mt={3} data-testid="on-the-shelf">
        {searched(held, wanted).map((part) => (
          <Flex key={part.id} gap={3} align="center" borderWidth="1px" borderRadius="md" px={3} py={2}>
            <Box flex="1">
              <Text fontWeight="600">{part.label.name}</Text>
              <Text fontSize="sm">{part.details}</Text>
              <Text fontSize="sm" color="fg.muted">
                {part.contents}
              </Text>
            </Box>
            <Small
              colorPalette="signal"
              variant="solid"
              disabled={!part.readable}
              aria-label={t("Take {0}", part.label.name ?? "")}
              onClick={() => take(part.id)}
            >
              {t("Take")}
            </Small>
          </Flex>
        ))}
      </Stack>
    </Sheet>
  );
}
