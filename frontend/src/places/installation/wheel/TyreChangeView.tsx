import { Box, Button, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, Refusal, type Schemas } from "../../../api/client";
import { keys, useWrite } from "../../../api/hooks";
import { useDialog } from "../../../ui/address";
import { useAnnounced } from "../../../ui/announce";
import { TextField } from "../../../ui/fields";
import { signed } from "../../../ui/format";
import { Message } from "../../../ui/Message";
import { Small } from "../../../ui/Small";
import { TableRoot } from "../../../ui/TableRoot";
import { UnitField } from "../../../ui/UnitField";
import { useUnits } from "../../../ui/units";
import { useHeld } from "../../../ui/useHeld";
import { useLast } from "../../../ui/useLast";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { SizeSheet } from "./SizeSheet";

const NO_TYRE = { marking: "", circumference_mm: "", tread_new_mm: "" };

/** Pick the new tyre, see what every display would show, and put it on. */
export function TyreChangeView() {
  const { evaluated, installationId, base, saved, applied } = useEditing();
  const { show } = useUnits();
  const client = useQueryClient();
  const [tyre, setTyre] = useHeld(`tyre of ${installationId}`, NO_TYRE);
  const [dialog, open] = useDialog();
  const document = evaluated.document;
  const inputs = {
    marking: tyre.marking,
    circumference_mm: tyre.circumference_mm.trim() || null,
    tread_new_mm: tyre.tread_new_mm || null,
  };
  const preview = useQuery({
    queryKey: ["tyre", installationId, JSON.stringify([document, inputs])],
    queryFn: () =>
      data(
        api.POST("/api/installations/{installation_id}/tyre/preview", {
          params: { path: { installation_id: installationId } },
          body: { document, tyre: inputs },
        }),
      ),
    enabled: tyre.marking.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const put = useWrite(
    (body: Schemas["FitTyreIn"], header) =>
      data(
        api.POST("/api/installations/{installation_id}/tyre", {
          params: { path: { installation_id: installationId }, header },
          body,
        }),
      ),
    (head) => {
      applied(head);
      setTyre(NO_TYRE);
      client.invalidateQueries({ queryKey: keys.vehicles });
      client.invalidateQueries({ queryKey: keys.installation(installationId) });
    },
  );
  useAnnounced(put.isSuccess ? t("Tyre change saved as a revision.") : "");
  const problems = preview.error instanceof Refusal ? preview.error.problems : [];
  const on = (name: string) => {
    const found = problems.find((item) => item.path === `tyre.${name}`);
    return found && tyre.marking.trim() !== "" ? `${found.message} ${found.remedy}` : undefined;
  };
  const last = useLast(preview.data);
  const result = tyre.marking.trim() === "" ? undefined : last;
  const stale = Boolean(preview.error) || preview.isPlaceholderData;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 300px) minmax(0, 1fr)" }} gap={4} data-testid="tyre-change">
      <Stack gap={3}>
        <Flex gap={2} align="flex-start">
          <TextField
            label={t("Marking of the new tyre")}
            value={tyre.marking}
            change={(marking) => setTyre({ ...tyre, marking })}
            error={on("marking")}
            testId="new-tyre"
          />
          <Small mt="25px" onClick={() => open("new-size")}>
            {t("Find size")}
          </Small>
        </Flex>
        <UnitField
          label={t("Circumference, if measured")}
          value={tyre.circumference_mm}
          change={(circumference_mm) => setTyre({ ...tyre, circumference_mm })}
          error={on("circumference_mm")}
          unit="mm"
        />
        <UnitField
          label={t("Tread depth")}
          value={tyre.tread_new_mm}
          change={(tread_new_mm) => setTyre({ ...tyre, tread_new_mm })}
          error={on("tread_new_mm")}
          unit="mm"
          nudge={0.5}
        />
        <SizeSheet
          open={dialog === "new-size"}
          close={() => open(null)}
          take={(marking) => setTyre({ ...tyre, marking })}
        />
      </Stack>
      {!result && !put.isSuccess && (
        <Text color="fg.muted">
          {t(
            "Enter the new tyre to see what every display would show with its setting unchanged, the new settings, and what has to be done again. Nothing changes until you put it on.",
          )}
        </Text>
      )}
      {put.isSuccess && (
        <Box borderLeftWidth="4px" borderColor="good.fg" bg="bg.subtle" px={3} py={2}>
          <Text fontWeight="600">{t("✓ Tyre change saved as a revision. The to-do items are listed above.")}</Text>
          <Text fontSize="sm">{t("Undo restores the old tyre.")}</Text>
        </Box>
      )}
      {result && !put.isSuccess && (
        <Stack gap={2} opacity={stale ? 0.75 : 1}>
          {preview.error && (
            <Text color="signal.fg" fontWeight="700">
              {t("Last good figures: a field needs correcting")}
            </Text>
          )}
          <Text fontWeight="600">{result.text}</Text>
          <TableRoot>
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader>{t("Display")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("left as it is")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("new number")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {result.readouts.map((item) => (
                <Table.Row key={item.name}>
                  <Table.Cell>{item.name}</Table.Cell>
                  <Table.Cell fontFamily="mono">
                    {item.shown_kmh === null || item.error_pct === null
                      ? t("not known")
                      : t(
                          "{0} shows {1} ({2} %)",
                          item.now,
                          show(item.shown_kmh, "km/h", 0.05).join(" "),
                          signed(item.error_pct, 1),
                        )}
                  </Table.Cell>
                  <Table.Cell fontFamily="mono" fontWeight="700">
                    {item.new} {item.unit}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </TableRoot>
          {result.false_slip.map((item) => (
            <Text key={item.other} fontSize="sm">
              {t(
                "False slip against {0}, until the numbers match: {1} %, {2} {3}",
                item.other,
                signed(item.slip_pct, 1),
                signed(Number(show(item.slip_kmh, "km/h", 1)[0]), 1),
                show(1, "km/h")[1],
              )}
            </Text>
          ))}
          <Text fontSize="sm" color="fg.muted">
            {t("To do after the change:")}
          </Text>
          <Stack as="ul" gap={0} pl={5} listStyleType="disc">
            {result.tasks.map((item) => (
              <li key={item.text}>{item.text}</li>
            ))}
          </Stack>
          {put.error && <Message text={put.error.message} bad />}
          <Button
            colorPalette="signal"
            alignSelf="flex-start"
            minH="44px"
            loading={put.isPending}
            disabled={!saved || stale}
            onClick={() =>
              put.mutate({ document, tyre: inputs, base_revision: base.number, base_amended: base.amended })
            }
          >
            {t("Apply tyre change")}
          </Button>
        </Stack>
      )}
    </Grid>
  );
}
