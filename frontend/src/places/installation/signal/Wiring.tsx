import { Box, Flex, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { Download } from "../../../ui/Download";
import { Pending } from "../../../ui/Pending";
import { TableRoot } from "../../../ui/TableRoot";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { fetchWiringPdf, useWiring } from "./queries";
import { TABLE } from "./results";

/** Wires with what belongs to each, cautions, and what a supplier asks. */
export function Wiring() {
  const { evaluated, installationId } = useEditing();
  const asked = useWiring(evaluated.document);
  const sheet = asked.data;
  if (!sheet) return <Pending asked={asked} text={t("Computing …")} />;
  return (
    <Stack gap={3} data-testid="wiring">
      {sheet.cautions.map((text) => (
        <Box key={text} borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={3} py={1}>
          <Text fontWeight="600">! {text}</Text>
        </Box>
      ))}
      {sheet.wires.length > 0 && (
        <TableRoot variant="line" css={TABLE}>
          <Table.Header>
            <Table.Row>
              {[t("Pin"), t("Colour"), t("Function"), t("Connect to"), t("Notes")].map((head) => (
                <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {sheet.wires.map((row) => (
              <Table.Row key={row.pin + row.colour + row.role}>
                <Table.Cell fontFamily="mono">{row.pin}</Table.Cell>
                <Table.Cell>{row.colour}</Table.Cell>
                <Table.Cell>{row.role}</Table.Cell>
                <Table.Cell>{row.goes_to}</Table.Cell>
                <Table.Cell>{row.with_it}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </TableRoot>
      )}
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap={4}>
        <Box>
          <ul style={{ paddingLeft: 18, listStyle: "disc" }}>
            {sheet.notes.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
          <Flex mt={3}>
            <Download load={() => fetchWiringPdf(evaluated.document, installationId)} name="wiring.pdf">
              {t("Both sheets as PDF")}
            </Download>
          </Flex>
        </Box>
        <TableRoot variant="line" css={TABLE} alignSelf="start">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>{t("Question")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("this installation")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {sheet.order.map((row) => (
              <Table.Row key={row.asked}>
                <Table.Cell>{row.asked}</Table.Cell>
                <Table.Cell color={row.known ? "fg" : "signal.fg"}>{row.answer}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </TableRoot>
      </Grid>
    </Stack>
  );
}
