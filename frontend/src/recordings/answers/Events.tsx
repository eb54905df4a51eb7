import { Box, Table } from "@chakra-ui/react";
import { useAddressed } from "../../ui/address";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { TableRoot } from "../../ui/TableRoot";
import { t } from "../../ui/words";

export type Happening = { from_s: number; to_s: number; cells: (string | undefined)[] };

/** What happened, one below the other; each is shown in the plot on request. */
export function Events({ heads, events, begins_s }: { heads: string[]; events: Happening[]; begins_s: number }) {
  const [seen, see] = useAddressed("at");
  return (
    <Box overflowX="auto">
      <TableRoot variant="line" data-testid="events">
        <Table.Header>
          <Table.Row>
            {[t("At, s"), ...heads, t("Plot")].map((head) => (
              <Table.ColumnHeader key={head}>{head}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {events.map(({ from_s, to_s, cells }, place) => {
            const at = `${(from_s - begins_s).toFixed(2)}:${(to_s - begins_s).toFixed(2)}`;
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: two things may happen at one time
              <Table.Row key={place}>
                <Table.Cell fontFamily="mono">{fixed(from_s - begins_s, 1)}</Table.Cell>
                {cells.map((cell, column) => (
                  <Table.Cell key={heads[column]} fontFamily="mono">
                    {cell}
                  </Table.Cell>
                ))}
                <Table.Cell>
                  <Small
                    aria-pressed={seen === at}
                    aria-label={t("Show {0} s in the plot", fixed(from_s - begins_s, 1))}
                    onClick={() => see(seen === at ? null : at)}
                  >
                    {t("Show")}
                  </Small>
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </TableRoot>
    </Box>
  );
}
