import { Box, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../../api/client";
import { numberIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";

type Table = Schemas["TableOut"];
type Own = Schemas["OwnTable"];
const KEY = ["fault-table"] as const;

/** The fault finder's chances: ours, and the workshop's own in place of them. */
export default function TablePlace() {
  const table = useQuery({ queryKey: KEY, queryFn: ({ signal }) => data(api.GET("/api/fault-table", { signal })) });
  return (
    <Frame title={t("Fault table")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" pt={3}>
          {t("Fault table")}
        </Heading>
        <Text color="fg.muted">
          {t(
            "Chances of each outcome of a test where a cause is there, and how often a cause is there at all. Typical values (common practice): enter your own where you know better.",
          )}
        </Text>
        {!table.data && <Pending asked={table} text={t("Opening …")} />}
        {table.data && <Editor table={table.data} />}
      </Box>
    </Frame>
  );
}

function Editor({ table }: { table: Table }) {
  const client = useQueryClient();
  const [code, setCode] = useState(table.causes[0]?.code ?? "");
  const [changes, setChanges] = useState<Record<string, string>>({});
  const cause = table.causes.find((item) => item.code === code);
  const save = useMutation({
    meta: { what: t("Saving the table") },
    mutationFn: (own: Own) => data(api.PUT("/api/fault-table", { body: { base_version: table.version, own } })),
    onSuccess: (saved) => {
      client.setQueryData(KEY, saved);
      client.invalidateQueries({ queryKey: ["faults"] });
      setChanges({});
    },
  });
  if (!cause) return null;
  const own = table.own;
  const weight = own.weights?.find((item) => item.cause === code)?.weight;
  const ownChance = (test: string, outcome: string) =>
    own.chances?.find((item) => item.cause === code && item.test === test && item.outcome === outcome)?.chance;
  const shown = (key: string, value: number, digits: number) => changes[key] ?? fixed(value, digits);
  const set = (key: string) => (text: string) => setChanges({ ...changes, [key]: text });
  const tests = cause.tests.map((row) => ({ ...row, test: table.tests.find((item) => item.code === row.test) }));
  const merged = (): Own => {
    const weights = [...(own.weights ?? [])];
    const chances = [...(own.chances ?? [])];
    for (const [key, text] of Object.entries(changes)) {
      const [of = "", test = "", outcome = ""] = key.split(" ");
      const value = numberIn(text) ?? -1;
      if (!test) {
        const others = weights.filter((item) => item.cause !== of);
        weights.splice(0, weights.length, ...others, { cause: of, weight: value });
      } else {
        const others = chances.filter((item) => !(item.cause === of && item.test === test && item.outcome === outcome));
        chances.splice(0, chances.length, ...others, { cause: of, test, outcome, chance: value / 100 });
      }
    }
    return { weights, chances };
  };
  const without = (): Own => ({
    weights: (own.weights ?? []).filter((item) => item.cause !== code),
    chances: (own.chances ?? []).filter((item) => item.cause !== code),
  });
  return (
    <Stack gap={4} mt={3} data-testid="fault-table">
      <ChoiceField
        label={t("Cause")}
        value={code}
        change={setCode}
        options={table.causes.map((item) => ({ code: item.code, label: item.text }))}
        testId="table-cause"
      />
      <Box maxW="260px">
        <TextField
          label={weight === undefined ? t("How often, compared with others") : t("How often (own figure)")}
          numeric
          value={shown(code, weight ?? cause.weight, 2)}
          change={set(code)}
          testId="table-weight"
        />
      </Box>
      {tests.map((row) => (
        <Box key={row.test?.code} bg="bg.panel" borderRadius="md" p={3}>
          <Text fontWeight="600" mb={2}>
            {row.test?.title}
          </Text>
          <Grid templateColumns="repeat(auto-fit, minmax(160px, 1fr))" gap={3}>
            {Object.entries(row.chances).map(([outcome, chance]) => (
              <TextField
                key={outcome}
                label={row.test?.outcomes[outcome] ?? outcome}
                unit="%"
                numeric
                value={shown(
                  `${code} ${row.test?.code} ${outcome}`,
                  100 * (ownChance(row.test?.code ?? "", outcome) ?? chance),
                  0,
                )}
                change={set(`${code} ${row.test?.code} ${outcome}`)}
              />
            ))}
          </Grid>
        </Box>
      ))}
      <Flex gap={3} wrap="wrap" align="center">
        <Small disabled={save.isPending || Object.keys(changes).length === 0} onClick={() => save.mutate(merged())}>
          {t("Save own figures")}
        </Small>
        <Small variant="ghost" disabled={save.isPending} onClick={() => save.mutate(without())}>
          {t("Use typical values for this cause")}
        </Small>
        {save.isSuccess && Object.keys(changes).length === 0 && <Text>{t("✓ Saved")}</Text>}
        {save.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(save.error)}
          </Text>
        )}
      </Flex>
    </Stack>
  );
}
