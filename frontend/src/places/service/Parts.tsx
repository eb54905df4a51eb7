import { Box, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { refusalOf } from "../../recordings/sending";
import { ChoiceField, TextField } from "../../ui/fields";
import { today } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Remove } from "../../ui/Remove";
import { Small } from "../../ui/Small";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { useParts, useServiceChanges } from "./queries";

const NOTHING = () => ({
  kind: "sensor" as Schemas["FittedPart"]["kind"],
  name: "",
  supplier: "",
  supplier_number: "",
  pins: "",
  fitted_on: today(),
  installation: "",
});

/** The parts of a vehicle, with the numbers of their suppliers and the pins as tested. */
export function Parts({ vehicle }: { vehicle: number }) {
  const asked = useParts(vehicle);
  const found = asked.data;
  const { changePart, removePart } = useServiceChanges(vehicle);
  if (!found) return <Pending asked={asked} text={t("Opening …")} />;
  const { installations } = found;
  const labels = Object.fromEntries(found.kinds.map((kind) => [kind.code, kind.label]));
  return (
    <Box data-testid="parts">
      <Heading as="h2" size="lg" mb={2}>
        {t("Parts and connectors")}
      </Heading>
      <Stack gap={2}>
        {found.items.length === 0 && <Text color="fg.muted">{t("No part is entered yet.")}</Text>}
        {found.items.map(({ id, version, part, installation }) => (
          <Flex key={id} bg="bg.panel" borderRadius="md" px={4} py={2} gap={3} align="center" wrap="wrap" as="section">
            <Box flex="1" minW="200px" color={part.removed_on ? "fg.muted" : "fg"}>
              <Text fontWeight="600">
                {labels[part.kind]}: {part.name}
              </Text>
              <Text fontSize="sm" color="fg.muted">
                {[
                  part.supplier,
                  part.supplier_number && t("supplier's number {0}", part.supplier_number),
                  part.pins && t("pins as tested: {0}", part.pins),
                  installations.find((item) => item.id === installation)?.name,
                  t("fitted on {0}", part.fitted_on),
                  part.removed_on && t("removed on {0}", part.removed_on),
                  part.note,
                ]
                  .filter(Boolean)
                  .join("; ")}
              </Text>
            </Box>
            {!part.removed_on && (
              <Small
                aria-label={t("Removed today: {0}", part.name)}
                onClick={() =>
                  changePart.mutate({
                    id,
                    base_version: version,
                    part: { ...part, removed_on: today() },
                    installation_id: installation,
                  })
                }
              >
                {t("Removed today")}
              </Small>
            )}
            <Remove what={part.name} act={() => removePart.mutate(id)} busy={removePart.isPending} />
          </Flex>
        ))}
      </Stack>
      <NewPart vehicle={vehicle} found={found} />
    </Box>
  );
}

function NewPart({ vehicle, found }: { vehicle: number; found: Schemas["PartsOut"] }) {
  const { addPart } = useServiceChanges(vehicle);
  const [held, set] = useHeld(`part ${vehicle}`, NOTHING);
  const change = (some: Partial<typeof held>) => set({ ...held, ...some });
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32, marginTop: 8 }}>{t("Add a part")}</summary>
      <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} mt={1}>
        <ChoiceField
          label={t("Part")}
          value={held.kind}
          change={(kind) => change({ kind: kind as typeof held.kind })}
          options={found.kinds}
          testId="part-kind"
        />
        <TextField label={t("Name")} value={held.name} change={(name) => change({ name })} testId="part-name" />
        <TextField label={t("Supplier")} value={held.supplier} change={(supplier) => change({ supplier })} />
        <TextField
          label={t("Supplier's number")}
          value={held.supplier_number}
          change={(supplier_number) => change({ supplier_number })}
          testId="part-number"
        />
        <TextField
          label={t("Pins as tested")}
          value={held.pins}
          change={(pins) => change({ pins })}
          testId="part-pins"
        />
        <ChoiceField
          label={t("Installation")}
          value={held.installation}
          change={(installation) => change({ installation })}
          options={[
            { code: "", label: t("Whole vehicle") },
            ...found.installations.map((item) => ({ code: String(item.id), label: item.name })),
          ]}
          testId="part-installation"
        />
        <TextField
          label={t("Fitted on")}
          type="date"
          value={held.fitted_on}
          change={(fitted_on) => change({ fitted_on })}
        />
      </Grid>
      <Flex mt={2} gap={3} align="center" wrap="wrap">
        <Small
          disabled={addPart.isPending}
          onClick={() => {
            const { installation, ...part } = held;
            addPart.mutate(
              {
                part: { ...part, removed_on: null, note: "" },
                installation_id: installation ? Number(installation) : null,
              },
              { onSuccess: () => set(NOTHING()) },
            );
          }}
        >
          {t("Add the part")}
        </Small>
        <Text color="fg.muted">{t("What is due after the change is added to the list.")}</Text>
        {addPart.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(addPart.error)}
          </Text>
        )}
      </Flex>
    </details>
  );
}
