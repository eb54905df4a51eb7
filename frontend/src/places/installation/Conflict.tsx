import { Button, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Catalogue, Installation } from "../../api/client";
import type { Conflict as Both } from "../../editing/session";
import { Sheet } from "../../ui/Sheet";
import { TableRoot } from "../../ui/TableRoot";
import { t } from "../../ui/words";
import { fieldLabel, valueLabel } from "./schema";

/** The same fields were changed here and by someone else: for each, whose value stands. Everything else is merged. */
export function Conflict({
  conflict,
  resolve,
  catalogue,
}: {
  conflict: Both<Installation>;
  resolve: (theirs: ReadonlySet<string>) => void;
  catalogue: Catalogue;
}) {
  const { theirs, clashes } = conflict;
  const [taken, take] = useState<ReadonlySet<string>>(new Set());
  const choose = (path: string, other: boolean) => {
    const next = new Set(taken);
    if (other) next.add(path);
    else next.delete(path);
    take(next);
  };
  return (
    <Sheet
      open
      size="xl"
      title={t("Someone else changed the same fields")}
      footer={
        <>
          <Button variant="outline" onClick={() => take(new Set())}>
            {t("All yours")}
          </Button>
          <Button variant="outline" onClick={() => take(new Set(clashes.map(({ path }) => path)))}>
            {t("All of revision {0}", theirs.number)}
          </Button>
          <Button colorPalette="signal" onClick={() => resolve(taken)}>
            {t("Save as chosen")}
          </Button>
        </>
      }
    >
      <Text mb={3}>
        {t(
          "Revision {0} was saved while you were editing, in another tab or by someone else. Choose the value of each field below. All other changes, yours and theirs, are kept.",
          theirs.number,
        )}
      </Text>
      <TableRoot data-testid="clashes">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>{t("Field")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Before")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Yours")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("Revision {0}", theirs.number)}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {clashes.map(({ path, base, mine, theirs: other }) => (
            <Table.Row key={path}>
              <Table.Cell>{fieldLabel(catalogue, path)}</Table.Cell>
              <Table.Cell fontFamily="mono">{valueLabel(catalogue, path, base)}</Table.Cell>
              <Table.Cell>
                <Side
                  path={path}
                  label={fieldLabel(catalogue, path)}
                  name="yours"
                  chosen={!taken.has(path)}
                  choose={() => choose(path, false)}
                  text={valueLabel(catalogue, path, mine)}
                />
              </Table.Cell>
              <Table.Cell>
                <Side
                  path={path}
                  label={fieldLabel(catalogue, path)}
                  name="theirs"
                  chosen={taken.has(path)}
                  choose={() => choose(path, true)}
                  text={valueLabel(catalogue, path, other)}
                />
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </TableRoot>
    </Sheet>
  );
}

function Side(props: { path: string; label: string; name: string; chosen: boolean; choose: () => void; text: string }) {
  const { path, label, name, chosen, choose, text } = props;
  return (
    <Flex asChild gap={2} align="center" minH={{ base: "44px", md: "32px" }} cursor="pointer">
      <label>
        <input
          type="radio"
          name={path}
          checked={chosen}
          onChange={choose}
          aria-label={`${label}: ${name}, ${text}`}
          data-testid={`${name} ${path}`}
        />
        <Text as="span" fontFamily="mono">
          {text}
        </Text>
      </label>
    </Flex>
  );
}
