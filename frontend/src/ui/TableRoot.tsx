import { Table } from "@chakra-ui/react";
import { tableSlotRecipe } from "@chakra-ui/react/theme";

/** The root of a table; its recipe comes with the first page that has one. */
export const TableRoot = (props: Table.RootProps) => <Table.Root recipe={tableSlotRecipe} size="sm" {...props} />;
