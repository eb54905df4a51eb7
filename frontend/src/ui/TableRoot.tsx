import { Table } from "@chakra-ui/react";
import { tableSlotRecipe } from "@chakra-ui/react/theme";

const CELLS = { "& tr": { bg: "transparent" }, "& td, & th": { borderColor: "border", px: 1, py: 1 } };

/** The root of a table; its recipe comes with the first page that has one. */
export const TableRoot = (props: Table.RootProps) => (
  <Table.Root recipe={tableSlotRecipe} size="sm" css={CELLS} {...props} />
);
