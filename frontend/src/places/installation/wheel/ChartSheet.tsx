import { Button, Flex, Stack, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { api, data, Refusal } from "../../../api/client";
import { useWrite } from "../../../api/hooks";
import { TextField } from "../../../ui/fields";
import { Message } from "../../../ui/Message";
import { Sheet } from "../../../ui/Sheet";
import { Small } from "../../../ui/Small";
import { useHeld } from "../../../ui/useHeld";
import { t } from "../../../ui/words";
import { chartKey, useChart } from "./queries";

type Row = { label: string; circumference_mm: string };

/** The workshop's chart of cycle circumferences: take a row, or put the chart right. */
export function ChartSheet({
  open,
  close,
  take,
}: {
  open: boolean;
  close: () => void;
  take: (row: { label: string; circumference_mm: number }) => void;
}) {
  const chart = useChart();
  const client = useQueryClient();
  const [rows, setRows] = useHeld<Row[] | null>("chart", null);
  const done = (result: unknown) => {
    client.setQueryData(chartKey, result);
    client.invalidateQueries({ queryKey: ["compare"] });
    setRows(null);
  };
  const base_version = chart.data?.version ?? 0;
  const save = useWrite(
    (inputs: Row[], header) =>
      data(api.PUT("/api/chart", { params: { header }, body: { base_version, rows: inputs } })),
    done,
  );
  const reset = useWrite(
    (_: null, header) => data(api.DELETE("/api/chart", { params: { header, query: { base_version } } })),
    done,
  );
  const problems = save.error instanceof Refusal ? save.error.problems : [];
  const on = (place: number, name: string) => {
    const found = problems.find((item) => item.path === `rows.${place}.${name}`);
    return found && `${found.message} ${found.remedy}`;
  };
  const change = (place: number, some: Partial<Row>) =>
    setRows(rows?.map((row, at) => (at === place ? { ...row, ...some } : row)) ?? null);
  return (
    <Sheet
      open={open}
      close={close}
      title={chart.data?.own ? t("Cycle chart of this workshop") : t("Cycle chart")}
      size="lg"
      footer={
        rows ? (
          <>
            <Button variant="outline" onClick={() => setRows(null)}>
              {t("Cancel")}
            </Button>
            <Button colorPalette="signal" loading={save.isPending} onClick={() => save.mutate(rows)}>
              {t("Save chart")}
            </Button>
          </>
        ) : (
          <>
            {chart.data?.own && (
              <Button variant="outline" loading={reset.isPending} onClick={() => reset.mutate(null)}>
                {t("Restore the original chart")}
              </Button>
            )}
            <Button
              variant="outline"
              disabled={!chart.data}
              onClick={() =>
                setRows(
                  (chart.data?.rows ?? []).map((row) => ({
                    label: row.label,
                    circumference_mm: String(row.circumference_mm),
                  })),
                )
              }
            >
              {t("Edit chart")}
            </Button>
          </>
        )
      }
    >
      <Text mb={3} fontSize="sm" color="fg.muted">
        {chart.data?.own
          ? t("Edited here. Good to about 0.7 %: a roll-out is ten times better.")
          : t("Common practice; values from memory. Good to about 0.7 %: a roll-out is ten times better.")}
      </Text>
      {chart.error && <Message text={chart.error.message} bad />}
      {save.error && problems.length === 0 && <Message text={save.error.message} bad />}
      <Stack gap={1}>
        {rows
          ? rows.map((row, place) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows have no identity but their place
              <Flex key={place} gap={2} align="flex-start">
                <TextField
                  label={t("Row {0}", place + 1)}
                  value={row.label}
                  change={(label) => change(place, { label })}
                  error={on(place, "label")}
                />
                <TextField
                  label={t("Circumference")}
                  value={row.circumference_mm}
                  change={(circumference_mm) => change(place, { circumference_mm })}
                  error={on(place, "circumference_mm")}
                  unit="mm"
                  numeric
                  nudge={1}
                />
                <Small
                  mt="24px"
                  aria-label={t("Remove row {0}", place + 1)}
                  onClick={() => setRows(rows.filter((_, at) => at !== place))}
                >
                  ✕
                </Small>
              </Flex>
            ))
          : chart.data?.rows.map((row) => (
              <Button
                key={row.label}
                variant="outline"
                justifyContent="space-between"
                minH="44px"
                fontFamily="mono"
                onClick={() => {
                  take(row);
                  close();
                }}
              >
                <span>{row.label}</span>
                <span>{t("{0} mm", row.circumference_mm)}</span>
              </Button>
            ))}
        {rows && (
          <Small
            alignSelf="flex-start"
            disabled={rows.length >= 200}
            onClick={() => setRows([...rows, { label: "", circumference_mm: "" }])}
          >
            {t("Add row")}
          </Small>
        )}
      </Stack>
    </Sheet>
  );
}
