import { Button, Table, Text } from "@chakra-ui/react";
import type { Installation, RevisionOut } from "../../api/client";
import { when } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { differences } from "./draft";
import { fieldLabel, valueLabel } from "./fieldLabels";

/** Someone else saved a newer revision: both documents side by side, and nothing overwritten. */
export function Conflict({
  mine,
  theirs,
  keepMine,
  takeTheirs,
}: {
  mine: Installation;
  theirs: RevisionOut;
  keepMine: () => void;
  takeTheirs: () => void;
}) {
  const rows = differences(mine, theirs.document);
  return (
    <Sheet
      open
      close={() => undefined}
      size="xl"
      title="Someone else saved a newer revision"
      footer={
        <>
          <Button variant="outline" onClick={takeTheirs}>
            Use revision {theirs.number} (undo restores yours)
          </Button>
          <Button colorPalette="signal" onClick={keepMine}>
            Save my version as the next revision
          </Button>
        </>
      }
    >
      <Text mb={3}>
        Revision {theirs.number} was saved {when(theirs.saved_at)}
        {theirs.author ? ` by a ${theirs.author}` : ""}, in another tab or by someone else, while you were editing. Both
        versions are kept.
      </Text>
      <Table.Root size="sm" css={{ "& tr": { bg: "transparent" } }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Field</Table.ColumnHeader>
            <Table.ColumnHeader>Yours</Table.ColumnHeader>
            <Table.ColumnHeader>Revision {theirs.number}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.slice(0, 20).map(([path, own, other]) => (
            <Table.Row key={path}>
              <Table.Cell>{fieldLabel(path)}</Table.Cell>
              <Table.Cell fontFamily="mono">{valueLabel(own)}</Table.Cell>
              <Table.Cell fontFamily="mono">{valueLabel(other)}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Sheet>
  );
}
